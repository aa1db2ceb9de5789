import { UsePage } from '@/stations/upkeep/UsePage';

export const metadata = { title: 'Use' };

export default async function Page({ searchParams }: { searchParams: Promise<{ amps?: string }> }) {
  return <UsePage amps={(await searchParams).amps} />;
}
