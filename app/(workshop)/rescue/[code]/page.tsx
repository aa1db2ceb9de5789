import { RescuePage } from '@/stations/rescue/RescuePage';

export const metadata = { title: 'Rescue' };

interface PageProps {
  params: Promise<{ code: string }>;
  searchParams: Promise<Record<string, string | undefined>>;
}

export default async function Page({ params, searchParams }: PageProps) {
  return <RescuePage code={(await params).code.toUpperCase()} typed={await searchParams} />;
}
