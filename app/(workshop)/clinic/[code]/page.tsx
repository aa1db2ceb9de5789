import { pageOf } from '@/stations/address';
import { PackPage } from '@/stations/clinic/PackPage';

export const metadata = { title: 'Pack' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<{ page?: string }>;
}) {
  return <PackPage code={(await params).code} page={pageOf((await searchParams).page)} />;
}
