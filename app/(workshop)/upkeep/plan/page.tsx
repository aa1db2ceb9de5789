import { PlanPage } from '@/stations/upkeep/PlanPage';

export const metadata = { title: 'Bench plan' };

export default async function Page({ searchParams }: { searchParams: Promise<{ subject?: string }> }) {
  return <PlanPage subject={(await searchParams).subject?.slice(0, 40) ?? ''} />;
}
