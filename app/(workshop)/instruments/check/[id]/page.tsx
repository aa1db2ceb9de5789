import { numberOf } from '@/stations/address';
import { SheetPage } from '@/stations/instruments/SheetPage';

export const metadata = { title: 'Cross-check' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ at?: string }>;
}) {
  return <SheetPage id={numberOf((await params).id)} at={(await searchParams).at} />;
}
