import { BatchPage } from '@/stations/intake/BatchPage';

export const metadata = { title: 'Intake' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<{ at?: string; after?: string }>;
}) {
  const { at, after } = await searchParams;
  return <BatchPage code={(await params).code} at={at} after={after} />;
}
