import 'server-only';
import { database } from '@/records/database';
import { voidEntry } from '@/records/readings';
import type { Filed } from '@/ui/ReadingBar';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { type Answer, answering, done } from './answer';

export const entryId = z.uuid();

/** Files one line of a reading bar: what `work` says was filed is said back, and every screen is made anew. */
export async function filing(work: () => Promise<Answer<string>>): Promise<Filed> {
  const answer = await answering(work);
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: `Filed ${answer.value}.` };
}

/** Takes back the last line of a reading bar: its readings stay stored, voided with the reason. */
export async function undoEntry(entry: string): Promise<Filed> {
  const answer = await answering(async () => done(await voidEntry(database(), entryId.parse(entry), 'undone at entry')));
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  return { ok: true, said: answer.value > 0 ? 'Undone: the last entry is void.' : 'That entry was void already.' };
}
