import { CellPage } from '@/stations/shelf/CellPage';

export const metadata = { title: 'Cell' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <CellPage code={(await params).code} />;
}
