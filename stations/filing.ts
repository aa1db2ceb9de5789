import 'server-only';
import { database, inTransaction, type Queryable } from '@/records/database';
import { EntryTaken, isFiled } from '@/records/entries';
import { refileEntry, voidEntry } from '@/records/readings';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { renewWeld, voidWeld } from '@/records/welds';
import { revalidatePath } from 'next/cache';
import type { Pool } from 'pg';
import { z } from 'zod';
import { type Answer, answering, done, refuse } from './answer';

export const entryId = z.uuid();

/** Voids what an entry filed, with the reason; returns how many readings that were. */
export type VoidEntry = (db: Queryable, entry: string, reason: string) => Promise<number>;

/** Why an entry is void that another one stands for. */
const correctedAtEntry = 'corrected at entry';

/**
 * What a line comes to, before it is stored: what will be said back, and how it is stored; false where it was before.
 */
export interface Meant {
  said: string;
  store(db: Queryable): Promise<boolean>;
}

class CorrectedMeanwhile extends Error {}

/**
 * Stores what a line means and voids the entry that it corrects, both or neither. Of two corrections of one entry the
 * first stands.
 */
export async function storing(
  line: Pick<EntryLine, 'replaces'>,
  store: Meant['store'],
  voidIt: VoidEntry,
  pool?: Pool,
): Promise<Answer<undefined>> {
  try {
    await inTransaction(async (db) => {
      const isNew = await store(db);
      if (line.replaces === null) return;
      const voided = await voidIt(db, line.replaces, correctedAtEntry);
      if (voided === 0 && isNew) throw new CorrectedMeanwhile();
    }, pool);
    return done(undefined);
  } catch (error) {
    if (error instanceof EntryTaken) return refuse(error.message);
    if (error instanceof CorrectedMeanwhile)
      return refuse(
        'That entry was corrected or voided meanwhile, from another screen perhaps: look at what stands there now.',
      );
    throw error;
  }
}

/**
 * Files one line of a reading bar: what `work` says it means is stored and said back, and every screen is made anew.
 */
export async function filing(
  typed: EntryLine,
  voidIt: VoidEntry,
  work: (line: EntryLine) => Promise<Answer<Meant>>,
): Promise<Filed> {
  const answer = await answering(async () => {
    const given = entryLine.parse(typed);
    // Sent again, it was answered with yes the first time, and is not asked about for what it filed itself.
    const line = { ...given, confirmed: given.confirmed || (await isFiled(database(), given.entry)) };
    const meant = await work(line);
    if (!meant.ok) return meant;
    const stored = await storing(line, meant.value.store, voidIt);
    return stored.ok ? done(meant.value.said) : stored;
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: `Filed ${answer.value}.` };
}

/** Takes back the last line of a reading bar: what it filed stays stored, voided with the reason. */
export async function takingBack(voidIt: VoidEntry, entry: string): Promise<Filed> {
  const answer = await answering(async () => done(await voidIt(database(), entryId.parse(entry), 'undone at entry')));
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: answer.value > 0 ? 'It stays stored, void.' : 'It was void already.' };
}

/** Files what was taken back once more. */
export async function bringingBack(
  refile: (entry: string, anew: string) => Promise<number>,
  entry: string,
  anew: string,
): Promise<Filed> {
  const answer = await answering(async () =>
    (await refile(entryId.parse(entry), entryId.parse(anew))) > 0
      ? done(undefined)
      : refuse('There is nothing left to file again.'),
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: '' };
}

/** Of cells: what was read of them, and that they are welded together. */
export const voidOfCells: VoidEntry = async (db, entry, reason) =>
  (await voidEntry(db, entry, reason)) + Number(await voidWeld(db, entry, reason));
export const undoEntry = async (entry: string): Promise<Filed> => takingBack(voidOfCells, entry);
export const redoEntry = async (entry: string, anew: string): Promise<Filed> =>
  bringingBack(
    (id, next) =>
      inTransaction(async (db) => (await refileEntry(db, id, next)) + Number(await renewWeld(db, id, next))),
    entry,
    anew,
  );
