import { firstStation } from '@/stations/frame/benchLine';
import { redirect } from 'next/navigation';

export default async function Home() {
  redirect(await firstStation());
}
