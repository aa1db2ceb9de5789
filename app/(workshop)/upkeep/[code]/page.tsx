import { SheetPage } from '@/stations/upkeep/SheetPage';

export const metadata = { title: 'Charger sheet' };

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: Promise<Record<string, string | undefined>>;
}) {
  return <SheetPage code={(await params).code.toUpperCase()} query={await searchParams} />;
}
