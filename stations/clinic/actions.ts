'use server';

import { contradictionOf } from '@/core/capacity/label';
import { chemistries, chemistryKeys } from '@/core/chemistry/chemistries';
import type { Body } from '@/core/judging/bodies';
import type { Pack } from '@/core/judging/facts';
import { afterUseSays } from '@/core/judging/fitForUse';
import { numberIn } from '@/core/quantity/strict';
import { voltDigitOf } from '@/core/judging/instrumentBook';
import { isPack } from '@/core/judging/subject';
import { liesTooC, lookSays } from '@/core/judging/upkeep';
import { serviceTime } from '@/core/planning/serviceTime';
import { type Barrier, permission, type Question } from '@/core/state/permissions';
import { type PackState, packStates } from '@/core/packs/groupVoltages';
import { voidBuild } from '@/records/builds';
import { database, inTransaction, type Queryable } from '@/records/database';
import { type Entry, fileEntry } from '@/records/ledger';
import { holdSubjects } from '@/records/locks';
import { addPack, listPacks, markApart, packByCode, packRoundEntry, restedBefore } from '@/records/packs';
import {
  acting,
  type Answer,
  answering,
  ask,
  done,
  fieldsOf,
  optional,
  reasonText,
  refuse,
  typedCount,
  typedNumber,
  typedPositive,
  typedText,
  typedWhole,
} from '@/stations/answer';
import { filing, readAt } from '@/stations/filing';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { unknownChemistryText } from '@/words/chemistry';
import { counted } from '@/words/counted';
import { contradictionText } from '@/words/packs';
import { notMeasuredText } from '@/words/rounds';
import { liesText, lookText } from '@/words/upkeep';
import { sheetRefusalText } from '@/words/chargerSheets';
import { pageExplaining } from '@/words/explained';
import { afterUseText, questionText, serviceTimeText } from '@/words/use';
import { now } from '@/workshop/clock';
import { allInstruments } from '@/workshop/instruments';
import { subjectNamed } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';
import { rulesInForce } from '@/workshop/rules';
import { dayText } from '@/workshop/strictFields';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { packBoard, packCode } from '../packFields';
import { noLoadText, understandGroups } from './packLine';

const newPack = z.object({
  code: packCode,
  name: typedText('Name', 80, 'What is it for?'),
  chemistry: z.enum(chemistryKeys),
  series: typedCount('In series', 100),
  parallel: typedCount('In parallel', 100),
  ratedCapacityAh: typedPositive('Rated capacity').refine(
    (value) => value < 1000,
    'Rated capacity in Ah: this looks like mAh.',
  ),
  board: packBoard,
  balanceConnector: z.enum(['yes', 'no', '']).transform((has) => (has === '' ? null : has === 'yes')),
  labelWh: optional(typedPositive('Energy')),
  labelV: optional(typedPositive('Voltage')),
  labelAh: optional(typedPositive('Capacity on its label')),
});

/** What is asked of a pack of unknown chemistry. */
const unknownPack = newPack
  .pick({ series: true })
  .extend({ measuredV: optional(typedPositive('Measured at its terminals')) });

/** What is noted of a pack beside what it is, each where a person knows it. */
const packPast = z.object({
  cycles: optional(typedWhole('Cycles', 0, 100_000)),
  servedMin: optional(typedPositive('Served for').refine((value) => value < 14_400, 'In minutes.')),
  newAh: optional(typedPositive('Capacity when new').refine((value) => value < 1000, 'In Ah: this looks like mAh.')),
  newMilliohm: z
    .string()
    .trim()
    .transform((text) => (text === '' ? [] : text.split(/[\s;]+/).map((one) => numberIn(one) ?? NaN)))
    .refine(
      (ohms) => ohms.every((one) => one > 0 && one < 10_000),
      'In mΩ from the negative terminal, such as 8.1 8.3 8.0.',
    ),
  newOn: z.union([
    z.literal('').transform(() => null),
    dayText('The day, such as 2024-05-31.').transform((day) => new Date(`${day}T12:00:00Z`)),
  ]),
  labelChargeA: optional(typedPositive('Charge current')),
  labelDischargeA: optional(typedPositive('Discharge current')),
  connectorNow: z
    .enum(['yes', 'no', ''])
    .default('')
    .transform((has) => (has === '' ? null : has === 'yes')),
  price: optional(typedNumber('Price').refine((value) => value >= 0, 'Price: not below zero.')),
  twins: z
    .string()
    .toUpperCase()
    .transform((text) => text.split(/[\s,;]+/).filter(Boolean)),
});
type PackPast = z.infer<typeof packPast>;

/** Why what was noted of a pack's past cannot be; null where it can. */
function whyNotPast({ newMilliohm, newOn, twins }: PackPast, pack: { code: string; series: number }, packs: Pack[]) {
  if (newMilliohm.length > 0 && newMilliohm.length !== pack.series)
    return refuse(`${pack.code} has ${counted(pack.series, 'group')}; ${newMilliohm.length} resistances were given.`, {
      newMilliohm: `One for each of its ${pack.series} groups.`,
    });
  if (newOn && newOn > now()) return refuse('The date must be in the past.', { newOn: 'Enter a past date.' });
  const unknown = twins.find((code) => code === pack.code || !packs.some((one) => one.code === code));
  if (unknown === undefined) return null;
  return refuse(unknown === pack.code ? 'A pack is not its own twin.' : `There is no pack ${unknown}.`, {
    twins: 'Codes of packs that are here.',
  });
}

/** Files what is known of a pack's past, each as an entry of its own. */
async function filePast(db: Queryable, packId: number, past: PackPast, packs: Pack[]): Promise<void> {
  const { cycles, servedMin, newAh, newMilliohm, newOn, price, twins, labelChargeA, labelDischargeA, connectorNow } =
    past;
  const file = (entry: Omit<Entry, 'entry'>) => fileEntry(db, { takenAt: now(), ...entry, entry: randomUUID() });
  if (newAh !== null || price !== null || newMilliohm.length > 0)
    await file({
      subjectIds: [packId],
      ...(newOn && { takenAt: newOn }),
      bodies: [
        {
          kind: 'as-new',
          capacityAh: newAh,
          price,
          resistancesOhm: newMilliohm.length === 0 ? null : newMilliohm.map((one) => one / 1000),
        },
      ],
    });
  if (labelChargeA !== null || labelDischargeA !== null || connectorNow !== null)
    await file({
      subjectIds: [packId],
      bodies: [{ kind: 'label', chargeA: labelChargeA, dischargeA: labelDischargeA, balanceConnector: connectorNow }],
    });
  if (cycles !== null) await file({ subjectIds: [packId], bodies: [{ kind: 'cycles', count: cycles }] });
  if (servedMin !== null)
    await file({ subjectIds: [packId], bodies: [{ kind: 'run-time', durationS: 60 * servedMin }] });
  if (twins.length > 0) {
    const ids = packs.filter((pack) => twins.includes(pack.code)).map((pack) => pack.id);
    await file({ subjectIds: [packId, ...ids], bodies: [{ kind: 'twins' }] });
  }
}

/** Takes a pack in. */
export async function addPackAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const fields = fieldsOf(form);
      if (fields['chemistry'] === 'unknown') {
        const { measuredV, series } = unknownPack.parse(fields);
        const text = unknownChemistryText(measuredV === null ? null : measuredV / series);
        return refuse(text, { chemistry: 'Which of these?', ...(measuredV === null && { measuredV: 'At rest.' }) });
      }
      const { labelWh, labelV, labelAh, ...pack } = newPack.parse(fields);
      const past = packPast.parse(fields);
      const label = { energyWh: labelWh, packV: labelV, capacityAh: labelAh, series: pack.series };
      const contradiction = contradictionOf(label, chemistries[pack.chemistry]);
      if (contradiction) return refuse(contradictionText(contradiction), { labelV: 'Does not agree with the rest.' });
      const packs = await listPacks(database());
      const why = whyNotPast(past, pack, packs);
      if (why) return why;
      await inTransaction(async (db) => filePast(db, await addPack(db, pack), past, packs));
      return done(pack.code);
    },
    { subject_code_key: 'There is a pack with this code already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/clinic/${answer.value}`);
}

/** Notes more of a pack's past; what was noted before stays in sight. */
export async function notePastAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const past = packPast.parse(fieldsOf(form));
    const packs = await listPacks(database());
    const pack = packs.find((one) => one.code === code);
    if (!pack) return refuse('There is no such pack.');
    const why = whyNotPast(past, pack, packs);
    if (why) return why;
    await inTransaction((db) => filePast(db, pack.id, past, packs));
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** Takes a welded pack apart: its cells go back to the shelf with their history, its readings stay with it. */
export async function takeApartAction(code: string, reason: string): Promise<void> {
  await acting(async () => {
    const because = reasonText.parse(reason);
    await inTransaction(async (db) => {
      const there = await packByCode(db, code);
      if (!there) return;
      // A repair at the same moment may give the pack a build: that one goes with it, or the repair finds it apart.
      await holdSubjects(db, [there.id]);
      const pack = await packByCode(db, code);
      if (pack && (await markApart(db, pack.id, because, now())) && pack.buildId !== null)
        await voidBuild(db, pack.buildId, `taken apart: ${because}`);
    });
  });
  revalidatePath('/', 'layout');
}

/** What a look at a pack comes to: at rest against the one before, after use its groups against each other. */
async function lookedAt(
  { id, chemistry }: Pack,
  state: PackState,
  groupsV: (number | null)[],
  at: Date,
): Promise<{ said: string; why?: string }> {
  if (state !== 'rest' && state !== 'after-use') return { said: '' };
  const { limits } = await rulesInForce(database());
  if (state === 'after-use') {
    const says = afterUseSays(groupsV, limits);
    return { said: `. ${afterUseText(says)}`, why: pageExplaining[says.code] };
  }
  const rested = await restedBefore(database(), id, at);
  const before = rested ? { groupsV: rested.groupVoltagesV, at: rested.takenAt } : null;
  const says = lookSays(chemistry, before, { groupsV, at }, limits);
  return says.code === 'first-look' ? { said: '' } : { said: `. ${lookText(says)}`, why: pageExplaining[says.code] };
}

/** A pack that goes out gets its timer; one that is not to be used is asked about. */
async function usedNow(
  code: string,
  bodies: readonly Body[],
): Promise<{ bodies: Body[]; said: string; asks: string | null }> {
  const [out] = bodies;
  if (out?.kind !== 'taken-out') return { bodies: [...bodies], said: '', asks: null };
  const { subject, workshop } = await subjectNamed(code);
  if (!subject || !isPack(subject)) return { bodies: [out], said: '', asks: null };
  const rules = workshop.rules.limits;
  const state = stateNow(subject, workshop);
  const allowed = permission(state, 'use', rules);
  const [barrier] = allowed.allowed ? [] : allowed.because;
  const [question] = allowed.allowed ? allowed.asks : [];
  const time = out.currentA === null ? null : serviceTime({ state, from: 'now', currentA: out.currentA, rules });
  const timerS = time?.code === 'serves' ? Math.floor(time.minutes.value - time.minutes.u) * 60 : null;
  return {
    bodies: [{ ...out, timerS: timerS !== null && timerS > 0 ? timerS : null }],
    said: time && out.currentA !== null ? `. ${serviceTimeText(time, out.currentA)}` : '',
    asks: handOutAsks(code, barrier, question),
  };
}

function handOutAsks(code: string, barrier: Barrier | undefined, question: Question | undefined): string | null {
  if (barrier) return `Do not use ${code}. ${sheetRefusalText(barrier)} Hand it out all the same?`;
  return question ? `${questionText(question)} Hand ${code} out all the same?` : null;
}

/** What is chosen beside the bar of the clinic. */
const circumstancesSchema = z.object({ state: z.enum(packStates), groupsWith: z.string(), terminalsWith: z.string() });

/** Files one round of group voltages of a pack, of the one shown or of the one named in the line. */
export async function fileGroups(typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ entry, text, confirmed, current, circumstances, waitedS }) => {
    const { state: chosen, groupsWith, terminalsWith } = circumstancesSchema.parse(circumstances);
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
    if (line.kind === 'noted') {
      const pack = packOf(line.code);
      if (!pack) return refuse(`There is no pack ${line.code}.`);
      const { bodies, said, asks } = await usedNow(pack.code, line.bodies);
      if (asks && !confirmed) return ask({ text: asks, suggests: null });
      return done({ said: line.said + said, files: { subjectIds: [pack.id], bodies } });
    }
    if (line.kind !== 'groups') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    const state = line.use.length > 0 ? 'after-use' : chosen;
    const noLoad = noLoadText(line.currentA, state);
    if (noLoad) return refuse(noLoad);
    if (line.asks && !confirmed) return ask(line.asks);
    const pack = packOf(line.code);
    if (!pack) return refuse(`There is no pack ${line.code}.`);
    if (pack.apart) return refuse(notMeasuredText(pack.code, { code: 'apart' }));
    const round = {
      entry,
      packId: pack.id,
      series: pack.series,
      state,
      currentA: line.currentA,
      temperatureC: line.temperatureC,
      confirmed,
      groupVoltagesV: line.groups.map((figure) => figure?.value ?? null),
      groupStepsV: line.groups.map((figure) => figure?.step ?? null),
      terminalV: line.terminal?.value ?? null,
      terminalStepV: line.terminal?.step ?? null,
      instrumentId: groupsMeter?.id ?? null,
      terminalInstrumentId: terminalsMeter?.id ?? null,
    };
    const lies = state === 'rest' ? liesTooC(line.temperatureC) : null;
    const looked = await lookedAt(pack, state, round.groupVoltagesV, readAt({ waitedS }));
    const lying = lies ? `. ${liesText[lies]}` : '';
    const filed = packRoundEntry(round);
    const files = { ...filed, bodies: [...filed.bodies, ...line.use] };
    return done({ said: line.said + looked.said + lying, ...(looked.why && { why: looked.why }), files });
  });
}
