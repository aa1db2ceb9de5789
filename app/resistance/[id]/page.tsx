import { RoundPage } from '@/stations/resistance/RoundPage';

export const metadata = { title: 'Round' };

export default async function Page({ params, searchParams }: { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string; all?: string }> }) {
  const { at, all } = await searchParams;
  return <RoundPage id={Number((await params).id) || 0} at={at} all={all !== undefined} />;
}
