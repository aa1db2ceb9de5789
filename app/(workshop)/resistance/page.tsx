import { pageOf } from '@/stations/address';
import { ResistancePage } from '@/stations/resistance/ResistancePage';

export const metadata = { title: 'Resistance' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <ResistancePage page={pageOf((await searchParams).page)} />;
}
