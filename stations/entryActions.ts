'use server';

import { NotMended } from '@/records/builds';
import { inTransaction } from '@/records/database';
import { voidEntry } from '@/records/ledger';
import { acting, reasonText } from '@/stations/answer';
import type { Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { bringingBack, entryId, takingBack } from './filing';

/** Voids an entry with a reason; answers why that cannot be, if it cannot. */
export async function voidEntryAction(entry: string, reason: string): Promise<string | undefined> {
  let refusal: string | undefined;
  await acting(async () => {
    try {
      await inTransaction((db) => voidEntry(db, entryId.parse(entry), reasonText.parse(reason)));
    } catch (error) {
      if (!(error instanceof NotMended)) throw error;
      refusal = error.message;
    }
  });
  revalidatePath('/', 'layout');
  return refusal;
}

/** Takes back the last line of a reading bar. */
export const undoEntry = async (entry: string): Promise<Filed> => takingBack(entry);
/** Files what was taken back once more, under a new id. */
export const redoEntry = async (entry: string, newEntry: string): Promise<Filed> => bringingBack(entry, newEntry);
