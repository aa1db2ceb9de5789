import { numberOf } from '@/stations/address';
import { BuildLabelsPage } from '@/stations/builds/BuildLabelsPage';

export const metadata = { title: 'Labels of a build' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BuildLabelsPage id={numberOf((await params).id)} />;
}
