import { PredictPage } from '@/stations/resistance/PredictPage';

export const metadata = { title: 'What resistance predicts' };

export default async function Page({ searchParams }: { searchParams: Promise<{ model?: string; of?: string }> }) {
  return <PredictPage {...await searchParams} />;
}
