import { CellPage } from '@/stations/shelf/CellPage';

export const metadata = { title: 'Cell' };

export default async function Page({ params, searchParams }: { params: Promise<{ code: string }>; searchParams: Promise<{ amps?: string }> }) {
  return <CellPage code={(await params).code} amps={(await searchParams).amps} />;
}
