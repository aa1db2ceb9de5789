import { RetirePage } from '@/stations/retire/RetirePage';

export const metadata = { title: 'Retire' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <RetirePage code={(await params).code.toUpperCase()} />;
}
