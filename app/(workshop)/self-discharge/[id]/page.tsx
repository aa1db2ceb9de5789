import { numberOf } from '@/stations/address';
import { SelfDischargeTestPage } from '@/stations/selfDischarge/SelfDischargeTestPage';

export const metadata = { title: 'Self-discharge test' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ at?: string }>;
}) {
  return <SelfDischargeTestPage id={numberOf((await params).id)} at={(await searchParams).at} />;
}
