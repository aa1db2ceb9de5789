import { numberOf } from '@/stations/address';
import { BuildPage } from '@/stations/builds/BuildPage';

export const metadata = { title: 'Build' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BuildPage id={numberOf((await params).id)} />;
}
