import { numberOf } from '@/stations/address';
import { RunPage } from '@/stations/capacity/RunPage';

export const metadata = { title: 'Capacity test' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <RunPage id={numberOf((await params).id)} />;
}
