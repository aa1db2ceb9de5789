import type { DrawnQuery } from '@/stations/AtCurrent';
import { pageOf } from '@/stations/address';
import { SubjectPage } from '@/stations/subject/SubjectPage';

export const metadata = { title: 'Pack' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<DrawnQuery & { page?: string }>;
}) {
  const { page, ...drawn } = await searchParams;
  return <SubjectPage kind="pack" code={(await params).code} drawn={drawn} page={pageOf(page)} />;
}
