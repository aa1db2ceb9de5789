import { numberOf } from '@/stations/address';
import { CheckPage } from '@/stations/instruments/CheckPage';

export const metadata = { title: 'Cross-check' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ at?: string }>;
}) {
  return <CheckPage id={numberOf((await params).id)} at={(await searchParams).at} />;
}
