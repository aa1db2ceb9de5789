import { pageOf } from '@/stations/address';
import { BuildsPage } from '@/stations/builds/BuildsPage';

export const metadata = { title: 'Builds' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <BuildsPage page={pageOf((await searchParams).page)} />;
}
