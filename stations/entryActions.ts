'use server';

import { database } from '@/records/database';
import { voidEntry } from '@/records/ledger';
import { acting, reasonText } from '@/stations/answer';
import type { Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { bringingBack, entryId, takingBack } from './filing';

/** Voids an entry with a reason. */
export async function voidEntryAction(entry: string, reason: string): Promise<void> {
  await acting(() => voidEntry(database(), entryId.parse(entry), reasonText.parse(reason)));
  revalidatePath('/', 'layout');
}

/** Takes back the last line of a reading bar. */
export const undoEntry = async (entry: string): Promise<Filed> => takingBack(entry);
/** Files what was taken back once more, under a new id. */
export const redoEntry = async (entry: string, anew: string): Promise<Filed> => bringingBack(entry, anew);
