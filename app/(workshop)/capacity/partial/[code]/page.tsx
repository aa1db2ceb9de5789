import { PartialPage } from '@/stations/capacity/PartialPage';

export const metadata = { title: 'Partial charge' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <PartialPage code={(await params).code} />;
}
