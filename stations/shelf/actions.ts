'use server';

import { database } from '@/records/database';
import { voidEntry } from '@/records/readings';
import { entryId } from '@/stations/entry';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

/** Voids an entry of a cell with a reason. */
export async function voidReadingAction(entry: string, reason: string): Promise<void> {
  await voidEntry(database(), entryId.parse(entry), z.string().trim().min(1).max(200).parse(reason));
  revalidatePath('/', 'layout');
}
