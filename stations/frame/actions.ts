'use server';

import { database } from '@/records/database';
import { endRest } from '@/records/rests';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

/** Ends a rest from the watch: it was seen. */
export async function endRestAction(id: number): Promise<void> {
  await endRest(database(), z.int().parse(id), 'seen at the watch');
  revalidatePath('/', 'layout');
}
