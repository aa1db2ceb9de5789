import { PartialPage } from '@/stations/runs/PartialPage';

export const metadata = { title: 'Charge in part' };

export default async function Page({ params }: { params: Promise<{ code: string }> }) {
  return <PartialPage code={(await params).code} />;
}
