import { numberOf } from '@/stations/address';
import { HoldPage } from '@/stations/hold/HoldPage';

export const metadata = { title: 'Hold test' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ at?: string }>;
}) {
  return <HoldPage id={numberOf((await params).id)} at={(await searchParams).at} />;
}
