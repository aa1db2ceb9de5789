import { UpkeepPage } from '@/stations/upkeep/UpkeepPage';

export const metadata = { title: 'Upkeep' };

export default function Page() {
  return <UpkeepPage />;
}
