import 'server-only';
import { database, inTransaction } from '@/records/database';
import { refileEntry, voidEntry } from '@/records/readings';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { type Answer, answering, done, refuse } from './answer';

export const entryId = z.uuid();

/** Files one line of a reading bar: what `work` says was filed is said back, and every screen is made anew. */
export async function filing(line: EntryLine, work: (line: EntryLine) => Promise<Answer<string>>): Promise<Filed> {
  const answer = await answering(() => work(entryLine.parse(line)));
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: `Filed ${answer.value}.` };
}

/** Takes back the last line of a reading bar: what it filed stays stored, voided with the reason. */
export async function takingBack(voidIt: (entry: string, reason: string) => Promise<number>, entry: string): Promise<Filed> {
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

export const undoEntry = async (entry: string): Promise<Filed> => takingBack((id, reason) => voidEntry(database(), id, reason), entry);
export const redoEntry = async (entry: string, anew: string): Promise<Filed> => bringingBack((id, next) => inTransaction((db) => refileEntry(db, id, next)), entry, anew);
