import { pageOf } from '@/stations/address';
import { PackPage } from '@/stations/clinic/PackPage';

export const metadata = { title: 'Pack' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<{ amps?: string; page?: string }>;
}) {
  const { amps, page } = await searchParams;
  return <PackPage code={(await params).code} amps={amps} page={pageOf(page)} />;
}
