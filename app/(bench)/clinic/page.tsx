import { pageOf } from '@/stations/address';
import { ClinicPage } from '@/stations/clinic/ClinicPage';

export const metadata = { title: 'Clinic' };

export default async function Page({ searchParams }: { searchParams: Promise<{ page?: string }> }) {
  return <ClinicPage page={pageOf((await searchParams).page)} />;
}
