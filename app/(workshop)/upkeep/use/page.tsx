import type { DrawnQuery } from '@/stations/AtCurrent';
import { UsePage } from '@/stations/upkeep/UsePage';

export const metadata = { title: 'Use' };

export default async function Page({ searchParams }: { searchParams: Promise<DrawnQuery> }) {
  return <UsePage query={await searchParams} />;
}
