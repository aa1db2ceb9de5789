import { BatchPage } from '@/stations/intake/BatchPage';

export const metadata = { title: 'Intake' };

export default async function Page({ params, searchParams }: { params: Promise<{ code: string }>; searchParams: Promise<{ at?: string }> }) {
  return <BatchPage code={(await params).code} at={(await searchParams).at} />;
}
