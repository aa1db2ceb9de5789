import { pageOf } from '@/stations/address';
import { RunsPage } from '@/stations/runs/RunsPage';

export const metadata = { title: 'Runs' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string; subject?: string }> }) {
  const { page, subject } = await searchParams;
  return <RunsPage page={pageOf(page)} subject={String(subject ?? '').slice(0, 20)} />;
}
