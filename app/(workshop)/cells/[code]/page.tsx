import { pageOf } from '@/stations/address';
import { SubjectPage } from '@/stations/subject/SubjectPage';

export const metadata = { title: 'Cell' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<{ amps?: string; page?: string }>;
}) {
  const { amps, page } = await searchParams;
  return <SubjectPage kind="cell" code={(await params).code} amps={amps} page={pageOf(page)} />;
}
