'use server';

import { database } from '@/records/database';
import { endRest } from '@/records/rests';
import { acting, serial } from '@/stations/answer';
import { revalidatePath } from 'next/cache';

/** Ends a rest from the watch: it was seen. */
export async function endRestAction(id: number): Promise<void> {
  await acting(() => endRest(database(), serial.parse(id), 'seen at the watch'));
  revalidatePath('/', 'layout');
}
