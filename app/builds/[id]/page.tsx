import { BuildPage } from '@/stations/builds/BuildPage';

export const metadata = { title: 'Build' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BuildPage id={Number((await params).id) || 0} />;
}
