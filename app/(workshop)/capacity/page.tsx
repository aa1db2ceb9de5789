import { pageOf } from '@/stations/address';
import { CapacityPage } from '@/stations/capacity/CapacityPage';

export const metadata = { title: 'Capacity' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string; subject?: string }> }) {
  const { page, subject } = await searchParams;
  return <CapacityPage page={pageOf(page)} subject={String(subject ?? '').slice(0, 20)} />;
}
