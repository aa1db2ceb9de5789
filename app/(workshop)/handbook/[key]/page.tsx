import { OnePage } from '@/stations/handbook/OnePage';

export const metadata = { title: 'Handbook' };

export default async function Page({ params }: { params: Promise<{ key: string }> }) {
  return <OnePage pageKey={decodeURIComponent((await params).key)} />;
}
