import { pageOf } from '@/stations/address';
import { IntakePage } from '@/stations/intake/IntakePage';

export const metadata = { title: 'Intake' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <IntakePage page={pageOf((await searchParams).page)} />;
}
