import { CheckPage } from '@/stations/instruments/CheckPage';

export const metadata = { title: 'Cross-check' };

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string }> }) {
  return <CheckPage id={Number((await params).id) || 0} at={(await searchParams).at} />;
}
