import { HandbookPage } from '@/stations/handbook/HandbookPage';

export const metadata = { title: 'Handbook' };

export default async function Page({
  searchParams,
}: {
  searchParams: Promise<Record<'q' | 'said', string | string[] | undefined>>;
}) {
  const { q, said } = await searchParams;
  const first = (asked: string | string[] | undefined) => (typeof asked === 'string' ? asked.slice(0, 200) : '');
  return <HandbookPage asked={first(q)} said={first(said)} />;
}
