import { ComparePage } from '@/stations/resistance/ComparePage';

export const metadata = { title: 'Two methods' };

export default async function Page({
  searchParams,
}: {
  searchParams: Promise<{ first?: string; second?: string; round?: string; model?: string }>;
}) {
  return <ComparePage {...await searchParams} />;
}
