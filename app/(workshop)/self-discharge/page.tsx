import { SelfDischargePage } from '@/stations/selfDischarge/SelfDischargePage';

export const metadata = { title: 'Self-discharge' };

export default async function Page({ searchParams }: { searchParams: Promise<{ subject?: string }> }) {
  return <SelfDischargePage subject={(await searchParams).subject ?? ''} />;
}
