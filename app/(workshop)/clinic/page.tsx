import { pageOf } from '@/stations/address';
import { ClinicPage } from '@/stations/clinic/ClinicPage';

export const metadata = { title: 'Clinic' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string; note?: string }> }) {
  const { page, note } = await searchParams;
  return <ClinicPage page={pageOf(page)} note={note === undefined ? undefined : String(note)} />;
}
