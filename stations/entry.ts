import 'server-only';
import { database, inTransaction } from '@/records/database';
import { refileEntry, voidEntry } from '@/records/readings';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { type Answer, answering, done, refuse } from './answer';

export const entryId = z.uuid();

/** Voids what an entry filed, with the reason; returns how many readings that were. */
export type VoidEntry = (entry: string, reason: string) => Promise<number>;

/** Why an entry is void that another one stands for. */
export const correctedAtEntry = 'corrected at entry';

/**
 * Files one line of a reading bar: what `work` says was filed is said back, and every screen is made anew. The entry that
 * it corrects is voided once it is filed.
 */
export async function filing(typed: EntryLine, voidIt: VoidEntry, work: (line: EntryLine) => Promise<Answer<string>>): Promise<Filed> {
  const answer = await answering(async () => {
    const line = entryLine.parse(typed);
    const filed = await work(line);
    if (filed.ok && line.replaces) await voidIt(line.replaces, correctedAtEntry);
    return filed;
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: `Filed ${answer.value}.` };
}

/** Takes back the last line of a reading bar: what it filed stays stored, voided with the reason. */
export async function takingBack(voidIt: VoidEntry, entry: string): Promise<Filed> {
  const answer = await answering(async () => done(await voidIt(entryId.parse(entry), 'undone at entry')));
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: answer.value > 0 ? 'Undone: the last entry is void.' : 'That entry was void already.' };
}

/** Files what was taken back once more. */
export async function bringingBack(refile: (entry: string, anew: string) => Promise<number>, entry: string, anew: string): Promise<Filed> {
  const answer = await answering(async () => ((await refile(entryId.parse(entry), entryId.parse(anew))) > 0 ? done(undefined) : refuse('There is nothing left to file again.')));
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: 'Filed again.' };
}

/** Of cells. */
export const voidReadings: VoidEntry = (entry, reason) => voidEntry(database(), entry, reason);
export const undoEntry = async (entry: string): Promise<Filed> => takingBack(voidReadings, entry);
export const redoEntry = async (entry: string, anew: string): Promise<Filed> => bringingBack((id, next) => inTransaction((db) => refileEntry(db, id, next)), entry, anew);
