import { numberOf, pageOf } from '@/stations/address';
import { RoundPage } from '@/stations/resistance/RoundPage';

export const metadata = { title: 'Round' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ at?: string; page?: string }>;
}) {
  const { at, page } = await searchParams;
  return <RoundPage id={numberOf((await params).id)} at={at} page={pageOf(page)} />;
}
