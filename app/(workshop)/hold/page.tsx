import { HoldsPage } from '@/stations/hold/HoldsPage';

export const metadata = { title: 'Hold' };

export default async function Page({ searchParams }: { searchParams: Promise<{ subject?: string }> }) {
  return <HoldsPage subject={(await searchParams).subject ?? ''} />;
}
