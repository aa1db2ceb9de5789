'use server';

import { allInstruments } from '@/workshop/instruments';
import { packStates } from '@/core/packs/groupVoltages';
import { chemistryKeys } from '@/core/chemistry/chemistries';
import { database } from '@/records/database';
import { voltDigitOf } from '@/core/judging/instrumentBook';
import { addPack, listPacks, packRoundEntry } from '@/records/packs';
import {
  type Answer,
  answering,
  ask,
  done,
  fieldsOf,
  refuse,
  typedCount,
  typedPositive,
  typedText,
} from '@/stations/answer';
import { filing } from '@/stations/filing';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { understandGroups } from './packLine';

const newPack = z.object({
  code: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^P[A-Z0-9]{1,7}$/, 'Code: P and up to seven letters or digits, such as PF2.'),
  name: typedText('Name', 80, 'What is it for?'),
  chemistry: z.enum(chemistryKeys),
  series: typedCount('In series', 100),
  parallel: typedCount('In parallel', 100),
  ratedCapacityAh: typedPositive('Rated capacity').refine(
    (value) => value < 1000,
    'Rated capacity in Ah: this looks like mAh.',
  ),
  board: z.enum(['full', 'protects', 'none']),
});

/** Takes a pack into the clinic. */
export async function addPackAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const pack = newPack.parse(fieldsOf(form));
      await addPack(database(), pack);
      return done(pack.code);
    },
    { subject_code_key: 'There is a pack with this code already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/clinic/${answer.value}`);
}

/** What is chosen beside the bar of the clinic. */
const circumstancesSchema = z.object({ state: z.enum(packStates), groupsWith: z.string(), terminalsWith: z.string() });

/** Files one round of group voltages of a pack, of the one shown or of the one named in the line. */
export async function fileGroups(typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ entry, text, confirmed, current, circumstances }) => {
    const { state, groupsWith, terminalsWith } = circumstancesSchema.parse(circumstances);
    const db = database();
    const [packs, instruments] = await Promise.all([listPacks(db), allInstruments(db)]);
    const packOf = (code: string | null) => packs.find((pack) => pack.code === code) ?? null;
    const instrumentOf = (code: string) =>
      instruments.find((one) => one.code === code && one.archivedAt === null) ?? null;
    const [groupsMeter, terminalsMeter] = [instrumentOf(groupsWith), instrumentOf(terminalsWith)];
    const line = understandGroups(text, packOf(current), packOf, {
      groups: voltDigitOf(groupsMeter),
      terminals: voltDigitOf(terminalsMeter),
    });
    if (line.kind !== 'groups') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const pack = packOf(line.code);
    if (!pack) return refuse(`There is no pack ${line.code}.`);
    const round = {
      entry,
      packId: pack.id,
      series: pack.series,
      state,
      confirmed,
      groupVoltagesV: line.groups.map(({ value }) => value),
      groupStepsV: line.groups.map(({ step }) => step),
      terminalV: line.terminal?.value ?? null,
      terminalStepV: line.terminal?.step ?? null,
      instrumentId: groupsMeter?.id ?? null,
      terminalInstrumentId: terminalsMeter?.id ?? null,
    };
    return done({ said: line.said, files: packRoundEntry(round) });
  });
}
