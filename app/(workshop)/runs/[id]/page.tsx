import { numberOf } from '@/stations/address';
import { RunPage } from '@/stations/runs/RunPage';

export const metadata = { title: 'Run' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <RunPage id={numberOf((await params).id)} />;
}
