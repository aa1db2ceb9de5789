import { HandbookPage } from '@/stations/handbook/HandbookPage';

export const metadata = { title: 'Handbook' };

export default async function Page({ searchParams }: { searchParams: Promise<{ q?: string | string[] }> }) {
  const { q } = await searchParams;
  return <HandbookPage query={typeof q === 'string' ? q.slice(0, 200) : ''} />;
}
