import { LabelsPage } from '@/stations/intake/LabelsPage';

export const metadata = { title: 'Labels' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <LabelsPage code={(await params).code} />;
}
