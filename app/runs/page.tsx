import { RunsPage } from '@/stations/runs/RunsPage';

export const metadata = { title: 'Runs' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <RunsPage page={Math.max(1, Number((await searchParams).page) || 1)} />;
}
