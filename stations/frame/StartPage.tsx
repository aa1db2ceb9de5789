import { firstStation } from '@/workshop/frame';
import { redirect } from 'next/navigation';

/** Leads to the first station where something waits. */
export async function StartPage(): Promise<never> {
  redirect(await firstStation());
}
