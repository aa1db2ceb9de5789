'use server';

import { database } from '@/records/database';
import { voidPackRound } from '@/records/packs';
import { voidEntry } from '@/records/readings';
import { acting, reasonText } from '@/stations/answer';
import { entryId } from '@/stations/entry';
import { revalidatePath } from 'next/cache';

/** Voids an entry of a cell with a reason. */
export async function voidReadingAction(entry: string, reason: string): Promise<void> {
  await acting(() => voidEntry(database(), entryId.parse(entry), reasonText.parse(reason)));
  revalidatePath('/', 'layout');
}

/** Voids a round of a pack's groups with a reason. */
export async function voidPackRoundAction(entry: string, reason: string): Promise<void> {
  await acting(() => voidPackRound(database(), entryId.parse(entry), reasonText.parse(reason)));
  revalidatePath('/', 'layout');
}
