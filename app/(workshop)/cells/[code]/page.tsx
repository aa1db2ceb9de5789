import { pageOf } from '@/stations/address';
import { CellPage } from '@/stations/shelf/CellPage';

export const metadata = { title: 'Cell' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<{ amps?: string; page?: string }>;
}) {
  const { amps, page } = await searchParams;
  return <CellPage code={(await params).code} amps={amps} page={pageOf(page)} />;
}
