import { InstrumentsPage } from '@/stations/instruments/InstrumentsPage';

export const metadata = { title: 'Instruments' };

export default async function Page({ searchParams }: { searchParams: Promise<{ edit?: string }> }) {
  return <InstrumentsPage edit={(await searchParams).edit} />;
}
