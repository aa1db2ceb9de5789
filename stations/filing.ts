import 'server-only';
import { database, inTransaction, type Queryable } from '@/records/database';
import {
  CorrectedMeanwhile,
  type Entry,
  EntryTaken,
  fileEntry,
  isFiled,
  refileEntry,
  voidEntry,
} from '@/records/ledger';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { now } from '@/workshop/clock';
import { revalidatePath } from 'next/cache';
import type { Pool } from 'pg';
import { z } from 'zod';
import { type Answer, answering, done, refuse } from './answer';

export const entryId = z.uuid();

/** When a line was typed, and its values were read. */
export const readAt = ({ waitedS }: Pick<EntryLine, 'waitedS'>): Date => new Date(now().getTime() - waitedS * 1000);

/** What a line comes to, before it is stored: what will be said back, and what is filed; null where that is done. */
export interface Meant {
  said: string;
  /** The handbook page that explains it. */
  why?: string;
  files: Omit<Entry, 'entry' | 'confirmed' | 'replaces'> | null;
}

/**
 * Files an entry and voids what it corrects, both or neither; `before` may look around in the same transaction, and
 * stop it by throwing.
 */
export async function storing(
  entry: Entry,
  { before, pool }: { before?: (db: Queryable) => Promise<void>; pool?: Pool } = {},
): Promise<Answer<undefined>> {
  try {
    await inTransaction(async (db) => {
      await before?.(db);
      await fileEntry(db, { takenAt: now(), ...entry });
    }, pool);
    return done(undefined);
  } catch (error) {
    if (error instanceof EntryTaken) return refuse(error.message);
    if (error instanceof CorrectedMeanwhile)
      return refuse('That entry was corrected or voided, perhaps from another screen. Check its present value.');
    throw error;
  }
}

/**
 * Files one line of a reading bar: what `work` says it means is stored and said back, and every screen is refreshed.
 */
export async function filing(typed: EntryLine, work: (line: EntryLine) => Promise<Answer<Meant>>): Promise<Filed> {
  const answer = await answering(async () => {
    const given = entryLine.parse(typed);
    // Sent again, it was answered with yes the first time, and is not asked about for what it filed itself.
    const line = { ...given, confirmed: given.confirmed || (await isFiled(database(), given.entry)) };
    const meant = await work(line);
    if (!meant.ok) return meant;
    const { said, files, why } = meant.value;
    const { entry, confirmed, replaces } = line;
    const stored = files
      ? await storing({ takenAt: readAt(line), ...files, entry, confirmed, replaces })
      : done(undefined);
    return stored.ok ? done({ said, why }) : stored;
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  const { said, why } = answer.value;
  return { ok: true, said: `Filed ${said}.`, ...(why && { why }) };
}

/** Takes back the last line of a reading bar: what it filed stays stored, voided with the reason. */
export async function takingBack(entry: string): Promise<Filed> {
  const answer = await answering(async () =>
    done(await inTransaction((db) => voidEntry(db, entryId.parse(entry), 'undone at entry'))),
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: answer.value ? 'It stays stored, void.' : 'It was void already.' };
}

/** Files what was taken back once more. */
export async function bringingBack(entry: string, newEntry: string): Promise<Filed> {
  const answer = await answering(async () => {
    const [old, next] = [entryId.parse(entry), entryId.parse(newEntry)];
    return (await inTransaction((db) => refileEntry(db, old, next)))
      ? done(undefined)
      : refuse('There is nothing left to file again.');
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: '' };
}
