import { ResistorPage } from '@/stations/capacity/ResistorPage';

export const metadata = { title: 'Resistor' };

export default async function Page({ searchParams }: { searchParams: Promise<{ subject?: string }> }) {
  return <ResistorPage code={(await searchParams).subject ?? ''} />;
}
