import { firstStation } from '@/workshop/frame';
import { stations } from '@/workshop/stations';
import { redirect } from 'next/navigation';

/** Leads to the first station where something waits; while that is unknown, to the first, which says what is wrong. */
export async function start(): Promise<never> {
  redirect(await firstStation().catch(() => stations.intake.address));
}
