import { NewBuildPage } from '@/stations/builds/NewBuildPage';

export const metadata = { title: 'Match' };

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | undefined>> }) {
  return <NewBuildPage parameters={await searchParams} />;
}
