'use server';

import type { Consensus } from '@/core/instruments/consensus';
import { calibrationRefusalText } from '@/words/instruments';
import { allInstruments } from '@/workshop/instruments';
import { judgedSheets } from '@/workshop/sheets';
import type { NewInstrument } from '@/core/judging/facts';
import { isPack } from '@/core/judging/subject';
import { instrumentKinds, type NotedRange } from '@/core/instruments/instrument';
import { addCalibration, withdrawCalibration } from '@/records/calibrations';
import { addBattery, crossCheckEntry, openCrossCheck } from '@/records/crossChecks';
import { database, inTransaction } from '@/records/database';
import { addInstrument, archiveInstrument, correctInstrument } from '@/records/instruments';
import { beginJudgingRuns } from '@/workshop/judgeRun';
import {
  acting,
  type Answer,
  answering,
  ask,
  changedBy,
  done,
  fieldsOf,
  optional,
  reasonText,
  refuse,
  serial,
  typedCount,
  typedNumber,
  typedPositive,
  typedText,
  typedWhole,
} from '@/stations/answer';
import { filing } from '@/stations/filing';
import { voltmeters } from '@/core/judging/instrumentBook';
import { numberIn } from '@/core/quantity/strict';
import { holdRow } from '@/records/locks';
import { now } from '@/workshop/clock';
import { countText } from '@/workshop/strictFields';
import { judgedWorkshop, subjectNamed } from '@/workshop/judged';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { shownKey, shownBefore, understandSheetLine } from './sheetLine';
import { adjustmentOf, calibrationOf, othersOn } from '@/core/judging/judgeSheet';

const notNegative = (what: string) =>
  optional(typedNumber(what).refine((value) => value >= 0, `${what}: at least zero.`));

/** One figure for each range of an instrument, separated by spaces; none where left out. */
const perRange = (what: string, isOne: (value: number) => boolean, expected: string) =>
  z
    .string()
    .max(200)
    .transform((text) =>
      text
        .split(/[\s;]+/)
        .filter(Boolean)
        .map((one) => numberIn(one) ?? NaN),
    )
    .refine((values) => values.every(isOne), `${what}: ${expected}`)
    .refine((values) => values.length <= 8, `${what}: at most 8 ranges.`);
const steps = (what: string) => perRange(what, (value) => value > 0, 'expected a number above zero for each range.');
const percents = (what: string) =>
  perRange(what, (value) => value >= 0 && value < 100, 'expected per cent from 0 to below 100.');
const counts = (what: string) => perRange(what, (value) => value >= 0, 'at least zero.');

const newInstrument = z
  .object({
    code: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z][A-Z0-9]{1,5}$/, 'Code: a letter, then one to five letters or digits, such as DM1.'),
    name: typedText('Name', 80, 'What is it?'),
    kind: z.enum(instrumentKinds),
    channels: typedCount('Channels', 32),
    certified: z.enum(['no', 'yes']),
    voltStepMv: steps('Voltage, last digit'),
    voltPercent: percents('Voltage, accuracy'),
    voltCounts: counts('Voltage, counts'),
    ampStepMa: steps('Current, last digit'),
    ampPercent: percents('Current, accuracy'),
    ampCounts: counts('Current, counts'),
    ohmStep: steps('Resistance, last digit'),
    ohmPercent: percents('Resistance, accuracy'),
    ohmCounts: counts('Resistance, counts'),
    wires: z.enum(['', '2', '4']),
    gauge: optional(typedWhole('Lead gauge', 0, 40)),
    chargeA: optional(typedPositive('Charges with, A')),
    chargeW: optional(typedPositive('Charges with, W')),
    dischargeW: notNegative('Discharges with, W'),
    chargeStepA: notNegative('Current in steps of'),
    bleedA: notNegative('Balances with'),
    plugA: optional(typedPositive('Through the balance connector')),
    lowestPackV: notNegative('Lowest pack voltage'),
    balanceChannels: optional(typedCount('Groups it balances', 100)),
    outputs: optional(typedCount('Packs at once', 20)),
    modes: z
      .string()
      .max(200)
      .transform((text) => [
        ...new Set(
          text
            .toLowerCase()
            .split(/[\s;]+/)
            .filter(Boolean)
            .map(asMode),
        ),
      ])
      .refine(
        (modes) => modes.every((mode) => mode !== null),
        'Modes: ends in volts a cell, nickel, lead; such as 4.20 3.65 nickel.',
      )
      .transform((modes) => modes.flatMap((mode) => mode ?? [])),
    leadM: optional(
      typedPositive('Lead length').refine(
        (value) => value < 20,
        'Lead length: expected metres below 20; 60 cm are 0.6.',
      ),
    ),
  })
  .refine(({ voltStepMv, ampStepMa, ohmStep }) => [...voltStepMv, ...ampStepMa, ...ohmStep].length > 0, {
    path: ['voltStepMv'],
    error: 'What does it measure? Give the last digit of at least one quantity.',
  })
  .refine(({ gauge, leadM }) => (gauge === null) === (leadM === null), {
    path: ['leadM'],
    error: 'Leads: give both gauge and length, or neither.',
  })
  .refine(({ chargeA, chargeW }) => (chargeA === null) === (chargeW === null), {
    path: ['chargeW'],
    error: 'A charger: give both its amperes and its watts, or neither.',
  });

/** The ranges of one quantity from the figures of a form, in thousandths and per cent; undefined without a figure. */
function notedRange(
  steps: readonly number[],
  percents: readonly number[],
  counts: readonly number[],
): NotedRange | undefined {
  const [finest, ...coarser] = steps
    .map((step, i) => ({
      resolution: step / 1000,
      accuracyShare: percents.length === 0 ? null : (percents[i] ?? (percents.at(-1) as number)) / 100,
      accuracyCounts: counts[i] ?? counts.at(-1) ?? null,
    }))
    .sort((one, other) => one.resolution - other.resolution)
    // The same last digit twice is one range.
    .filter(({ resolution }, i, all) => resolution !== all[i - 1]?.resolution);
  return finest && (coarser.length > 0 ? { ...finest, coarser } : finest);
}

/** An instrument as a form says it. */
function instrumentOf(form: FormData): NewInstrument {
  const given = newInstrument.parse(fieldsOf(form));
  const ranges = Object.entries({
    voltage: notedRange(given.voltStepMv, given.voltPercent, given.voltCounts),
    current: notedRange(given.ampStepMa, given.ampPercent, given.ampCounts),
    resistance: notedRange(given.ohmStep, given.ohmPercent, given.ohmCounts),
  }).filter(([, value]) => value !== undefined);
  return {
    code: given.code,
    name: given.name,
    kind: given.kind,
    channels: given.channels,
    certified: given.certified === 'yes',
    wires: wiresOf[given.wires],
    charging:
      given.chargeA === null || given.chargeW === null
        ? null
        : {
            maxA: given.chargeA,
            maxW: given.chargeW,
            dischargeMaxW: given.dischargeW ?? 0,
            stepA: given.chargeStepA ?? 0,
            bleedA: given.bleedA ?? 0,
            plugA: given.plugA,
            lowestPackV: given.lowestPackV,
            balanceChannels: given.balanceChannels,
            outputs: given.outputs ?? 1,
            modes: given.modes.length > 0 ? given.modes : null,
          },
    leads: given.gauge === null || given.leadM === null ? null : { gauge: given.gauge, lengthM: given.leadM },
    ranges: Object.fromEntries(ranges),
  };
}

/** A mode as it is typed: an end in volts, or a family; null for any other word. */
function asMode(word: string): string | null {
  if (word === 'nickel' || word === 'lead') return word;
  const endV = numberIn(word) ?? NaN;
  return endV > 3 && endV < 5 ? endV.toFixed(2) : null;
}

const wiresOf = { '': null, '2': 2, '4': 4 } as const;

/** Which instruments a reference comes from. */
function believedIn(consensus: Consensus | null): string[] {
  if (consensus?.kind === 'agreed') return consensus.consistent;
  return consensus?.kind === 'declared' ? [consensus.by] : [];
}

const codeTaken = { instrument_code_key: 'There is an instrument with this code already; choose another.' };

/** Puts an instrument on the bench. */
export async function addInstrumentAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const instrument = instrumentOf(form);
    await inTransaction((db) => addInstrument(db, instrument));
    return done(undefined);
  }, codeTaken);
  revalidatePath('/', 'layout');
  return answer;
}

const correction = z.object({ id: countText(serial), by: changedBy });

/** Corrects what was noted of an instrument; who did it is kept. */
export async function correctInstrumentAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { id, by } = correction.parse(fieldsOf(form));
    const instrument = instrumentOf(form);
    const corrected = await inTransaction(async (db): Promise<Answer> => {
      await holdRow(db, 'instrument', id);
      const before = (await allInstruments(db)).find((one) => one.id === id);
      if (!before) return refuse('This instrument is not there any more.');
      if (instrument.channels < before.channels)
        return refuse('Its channels have readings, so the count cannot be lower.', {
          channels: `At least ${before.channels}, since readings are kept by channel.`,
        });
      await correctInstrument(db, before, instrument, by);
      return done(undefined);
    });
    if (corrected.ok) await beginJudgingRuns();
    return corrected;
  }, codeTaken);
  revalidatePath('/', 'layout');
  if (!answer.ok) return answer;
  redirect('/instruments');
}

/** Puts another battery on a sheet, at any time. */
export async function addBatteryAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { check, label } = z
      .object({
        check: countText(serial),
        label: typedText('Battery', 60, 'What is this battery?'),
      })
      .parse(fieldsOf(form));
    const position = await inTransaction((db) => addBattery(db, check, label, mostBatteries));
    return position === null ? refuse(tooManyBatteries, { label: tooManyBatteries }) : done({ check, position });
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/instruments/check/${answer.value.check}?at=${answer.value.position}`);
}

/** Puts an instrument away or takes it out again. What it read stays, and rounds begun with it go on. */
export async function archiveInstrumentAction(id: number, away: boolean): Promise<void> {
  await acting(() => archiveInstrument(database(), serial.parse(id), z.boolean().parse(away)));
  revalidatePath('/', 'layout');
}

const mostBatteries = 12;
const tooManyBatteries = 'At most twelve batteries on one sheet.';

const newSheet = z.object({
  name: typedText('Name', 80, 'Enter a name for the sheet.'),
  batteries: typedText('Batteries', 500)
    .transform((text) =>
      text
        .split(/[,;\n]/)
        .map((one) => one.trim())
        .filter(Boolean),
    )
    .refine(
      (labels) => labels.length >= 1,
      'Name the batteries, one after the other with commas: nearly empty, half, full.',
    )
    .refine((labels) => labels.length <= mostBatteries, tooManyBatteries),
});

/** Opens a cross-check sheet: instruments against each other on some batteries. */
export async function openSheetAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { name, batteries } = newSheet.parse(fieldsOf(form));
    const [code = ''] = batteries.length === 1 ? batteries : [];
    const { subject } = code === '' ? { subject: null } : await subjectNamed(code.toUpperCase());
    const pack = subject && isPack(subject) ? subject : null;
    const labels = pack ? Array.from({ length: pack.series }, (_, i) => `${pack.code} group ${i + 1}`) : batteries;
    return done((await inTransaction((db) => openCrossCheck(db, name, labels, pack?.id ?? null))).id);
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/instruments/check/${answer.value}`);
}

/** Files one line of a sheet, on the battery whose position was shown. */
export async function fileSheetLine(sheetId: number, typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ entry, text, confirmed, current, replaces }) => {
    const workshop = await judgedWorkshop();
    const sheet = (await judgedSheets(workshop)).find((one) => one.crossCheck.id === sheetId);
    if (!sheet) return refuse('This sheet is not there any more.');
    const onBench = workshop.instruments.all.filter((one) => one.archivedAt === null);
    const earlier = shownBefore(sheet);
    const context = {
      othersV: (at: number) => othersOn(sheet, at),
      standing: (at: number, code: string, channel: number) => earlier[shownKey(at, code, channel)] ?? null,
      corrects: replaces !== null,
      isPack: sheet.crossCheck.pack !== null,
    };
    const line = understandSheetLine(
      text,
      Number(/^B(\d+)$/.exec(current ?? '')?.[1] ?? 1),
      voltmeters(workshop.instruments),
      sheet.crossCheck.batteries.length,
      context,
    );
    if (line.kind !== 'readings') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const instrument = onBench.find((one) => one.code === line.code);
    if (!instrument) return refuse(`There is no instrument ${line.code}.`);
    const { position, readings } = line;
    return done({
      said: line.said,
      files: crossCheckEntry({
        entry,
        crossCheckId: sheetId,
        occasionId: sheet.crossCheck.occasionId,
        position,
        instrumentId: instrument.id,
        confirmed,
        readings,
      }),
    });
  });
}

/** Corrects a channel by a sheet from now on; refused with the reason where that would make things worse. */
export async function calibrateAction(sheetId: number, name: string, kind: 'offset' | 'line'): Promise<Answer> {
  const answer = await answering(async () => {
    const workshop = await judgedWorkshop();
    const sheet = (await judgedSheets(workshop)).find((one) => one.crossCheck.id === sheetId);
    const channel = sheet?.channels.find((one) => one.name === name);
    if (!sheet || !channel) return refuse('This channel has no reading on this sheet.');
    const verdict = calibrationOf(sheet, channel, z.enum(['offset', 'line']).parse(kind));
    if (!verdict.ok) return refuse(calibrationRefusalText(verdict.because));
    const believed = [...new Set(sheet.consensus.flatMap(believedIn))];
    await addCalibration(database(), {
      instrumentId: channel.instrument.id,
      channel: channel.channel,
      correction: verdict.correction,
      crossCheckId: sheetId,
      reference: believed.join(', '),
      calibratedAt: now(),
      adjusted: null,
    });
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** Notes that a channel of the device itself was set to show the reference; an earlier correction counts no longer. */
export async function adjustedAction(sheetId: number, name: string): Promise<Answer> {
  const answer = await answering(async () => {
    const sheet = (await judgedSheets(await judgedWorkshop())).find((one) => one.crossCheck.id === sheetId);
    const channel = sheet?.channels.find((one) => one.name === name);
    const adjustment = sheet && channel ? adjustmentOf(sheet, channel) : null;
    if (!sheet || !channel || !adjustment)
      return refuse('The reference is not known. Measure with three instruments first.');
    const { correction, position, showedV, setToV } = adjustment;
    await addCalibration(database(), {
      instrumentId: channel.instrument.id,
      channel: channel.channel,
      correction,
      crossCheckId: sheetId,
      reference: `B${position} of the sheet`,
      calibratedAt: now(),
      adjusted: { showedV, setToV },
    });
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** Withdraws a calibration: everything read since is judged without it at once. */
export async function withdrawAction(id: number, because: string): Promise<void> {
  await acting(() => withdrawCalibration(database(), serial.parse(id), reasonText.parse(because)));
  revalidatePath('/', 'layout');
}
