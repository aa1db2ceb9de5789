import { RescuePage } from '@/stations/rescue/RescuePage';

export const metadata = { title: 'Rescue' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <RescuePage code={(await params).code.toUpperCase()} />;
}
