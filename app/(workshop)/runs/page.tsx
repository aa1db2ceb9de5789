import { pageOf } from '@/stations/address';
import { RunsPage } from '@/stations/runs/RunsPage';

export const metadata = { title: 'Runs' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <RunsPage page={pageOf((await searchParams).page)} />;
}
