import { JobPage } from '@/stations/builds/JobPage';

export const metadata = { title: 'Shapes for a job' };

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | undefined>> }) {
  return <JobPage parameters={await searchParams} />;
}
