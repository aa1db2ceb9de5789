import { RepairPage } from '@/stations/builds/RepairPage';

export const metadata = { title: 'Spares for a pack' };

interface PageProps {
  params: Promise<{ code: string }>;
  searchParams: Promise<Record<string, string | undefined>>;
}

export default async function Page({ params, searchParams }: PageProps) {
  const { group, out } = await searchParams;
  return <RepairPage code={(await params).code} group={group} out={out} />;
}
