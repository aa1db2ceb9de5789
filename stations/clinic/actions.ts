'use server';

import { chemistryKeys } from '@/core/chemistry/chemistries';
import { database } from '@/records/database';
import { addPack, filePackRound, packByCode, voidPackRound } from '@/records/packs';
import { type Answer, answering, done, refuse, typedCount, typedPositive } from '@/stations/answer';
import { entryId, filing } from '@/stations/entry';
import type { Filed } from '@/ui/ReadingBar';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { understandGroups } from './entry';

const newPack = z.object({
  code: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^P[A-Z0-9]{1,7}$/, 'Code: P and up to seven letters or digits, such as PF2.'),
  name: z.string().trim().min(1, 'What is it for?').max(80),
  chemistry: z.enum(chemistryKeys),
  series: typedCount('In series', 100),
  parallel: typedCount('In parallel', 100),
  ratedCapacityAh: typedPositive('Rated capacity'),
  board: z.enum(['full', 'protects', 'none']),
});

/** Takes a pack into the clinic. */
export async function addPackAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const pack = newPack.parse(Object.fromEntries(form));
      await addPack(database(), pack);
      return done(pack.code);
    },
    { pack_code_key: 'There is a pack with this code already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/clinic/${answer.value}`);
}

const stateSchema = z.enum(['rest', 'load', 'charge-end', 'discharge-end']);

/** Files one round of group voltages of a pack. */
export async function fileGroups(code: string, state: string, text: string, entry: string, confirmed: boolean): Promise<Filed> {
  return filing(async () => {
    const pack = await packByCode(database(), code);
    if (!pack) return refuse(`There is no pack ${code}.`);
    const line = understandGroups(z.string().max(2000).parse(text), pack);
    if (line.kind !== 'groups') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return refuse(line.asks);
    await filePackRound(database(), { entry: entryId.parse(entry), packId: pack.id, series: pack.series, state: stateSchema.parse(state), groupVoltagesV: line.groupVoltagesV, terminalV: line.terminalV, stepV: line.stepV, instrument: '', confirmed });
    return done(line.said);
  });
}

/** Takes back the last round: it stays stored, void. */
export async function undoGroups(entry: string): Promise<Filed> {
  const voided = await voidPackRound(database(), entryId.parse(entry), 'undone at entry');
  revalidatePath('/', 'layout');
  return { ok: true, said: voided ? 'Undone: the last round is void.' : 'That round was void already.' };
}
