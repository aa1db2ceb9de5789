import { PackPage } from '@/stations/clinic/PackPage';

export const metadata = { title: 'Pack' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <PackPage code={(await params).code} />;
}
