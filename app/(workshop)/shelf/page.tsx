import { type ShelfParameters, ShelfPage } from '@/stations/shelf/ShelfPage';

export const metadata = { title: 'Shelf' };

export default async function Page({ searchParams }: { searchParams: Promise<ShelfParameters> }) {
  return <ShelfPage {...await searchParams} />;
}
