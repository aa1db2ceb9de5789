'use server';

import { allInstruments } from '@/workshop/instruments';
import { methodKeys } from '@/core/resistance/methods';
import { batchByCode } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { addProtocol, archiveProtocol, listProtocols } from '@/records/protocols';
import { beginRest } from '@/records/periods';
import { openRound } from '@/records/rounds';
import {
  acting,
  type Answer,
  answering,
  done,
  fieldsOf,
  optional,
  refuse,
  serial,
  typedNumber,
  typedPositive,
  typedText,
} from '@/stations/answer';
import { now } from '@/workshop/clock';
import { countText } from '@/workshop/strictFields';
import { judgedWorkshop } from '@/workshop/judged';
import { overPacks } from './overPacks';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';

const celsius = (what: string) =>
  optional(typedNumber(what).refine((value) => value > -30 && value < 80, `${what}: expected °C between -30 and 80.`));
const fraction = (what: string) =>
  optional(typedNumber(what).refine((value) => value >= 0 && value <= 100, `${what}: expected 0 to 100 %.`));

const newProtocol = z
  .object({
    name: typedText('Name', 60, 'Enter a name.'),
    school: typedText('School', 200),
    method: z.enum(methodKeys),
    chargeFrom: fraction('Charge from'),
    chargeTo: fraction('Charge to'),
    coldestC: celsius('Coldest'),
    warmestC: celsius('Warmest'),
    restMin: optional(typedNumber('Rest').refine((value) => value >= 0, 'Rest: at least zero.')),
    rateC: optional(typedPositive('Rate')),
    holdS: typedPositive('Read after').refine((value) => value <= 3600, 'Read after: at most 3600 s.'),
  })
  .refine(({ chargeFrom, chargeTo }) => (chargeFrom === null) === (chargeTo === null), {
    path: ['chargeTo'],
    error: 'Charge: give both ends of the window, or none.',
  })
  .refine(({ chargeFrom, chargeTo }) => chargeFrom === null || chargeTo === null || chargeFrom <= chargeTo, {
    path: ['chargeTo'],
    error: 'Charge: the window ends below where it begins.',
  })
  .refine(({ coldestC, warmestC }) => (coldestC === null) === (warmestC === null), {
    path: ['warmestC'],
    error: 'Temperature: give both ends of the window, or none.',
  })
  .refine(({ coldestC, warmestC }) => coldestC === null || warmestC === null || coldestC <= warmestC, {
    path: ['warmestC'],
    error: 'Temperature: the window ends below where it begins.',
  });

/** Writes a protocol down: conditions under which figures compare. */
export async function addProtocolAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const { chargeFrom, chargeTo, coldestC, warmestC, restMin, ...protocol } = newProtocol.parse(fieldsOf(form));
      await addProtocol(database(), {
        ...protocol,
        charge: chargeFrom === null || chargeTo === null ? null : { from: chargeFrom / 100, to: chargeTo / 100 },
        temperature: coldestC === null || warmestC === null ? null : { coldestC, warmestC },
        restS: (restMin ?? 0) * 60,
      });
      return done(undefined);
    },
    { protocol_name_key: 'There is a protocol of this name already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect('/resistance');
}

/** Puts a protocol away or takes it out again. What was measured by it stays, and rounds begun with it go on. */
export async function archiveProtocolAction(id: number, away: boolean): Promise<void> {
  await acting(() => archiveProtocol(database(), serial.parse(id), z.boolean().parse(away)));
  revalidatePath('/', 'layout');
}

const newRound = z.object({
  batch: z.string().min(1, 'Choose what to measure.'),
  protocol: countText(z.number()),
  instrument: z.string(),
  ammeter: z.string().optional(),
  temperatureC: celsius('Bench'),
  leadMilliohm: optional(
    typedPositive('Wires of the connector').refine((value) => value < 1000, 'Wires: below 1000 mΩ.'),
  ).optional(),
  zero: z.enum(['', 'yes', 'no']).default(''),
  loadOhm: typedPositive('Load resistor').optional(),
  tolerancePercent: typedPositive('Tolerance')
    .refine((value) => value < 100, 'Tolerance: below 100 %.')
    .optional(),
  ratingW: optional(typedPositive('Power rating')).optional(),
  afterS: optional(
    typedPositive('Recovery voltage').refine((value) => value <= 3600, 'Recovery voltage: within an hour.'),
  ).optional(),
});

/** Opens a round: a protocol applied to a batch, cell after cell, or to the packs. */
export async function openRoundAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const db = database();
    const round = newRound.parse(fieldsOf(form));
    const [batch, protocols, instruments] = await Promise.all([
      batchByCode(db, round.batch),
      listProtocols(db),
      allInstruments(db),
    ]);
    const ofPacks = round.batch === overPacks;
    if (!batch && !ofPacks) return refuse('There is no such batch.', { batch: 'There is no such batch.' });
    const protocol = protocols.find((one) => one.id === round.protocol);
    if (!protocol || protocol.archivedAt)
      return refuse('There is no such protocol.', { protocol: 'There is no such protocol, or it was put away.' });
    if (protocol.method === 'pulse')
      return refuse('Steps in logs are filed from the page of their run.', {
        protocol: 'Steps in logs are filed from the page of their run.',
      });
    if (protocol.method === 'resistor' && round.loadOhm === undefined)
      return refuse('Load resistor is missing.', { loadOhm: 'Load resistor is missing.' });
    const idOf = (code: string | undefined) => instruments.find((one) => one.code === code)?.id ?? null;
    const byResistor = protocol.method === 'resistor';
    const opened = await inTransaction((connection) =>
      openRound(connection, {
        batchId: batch?.id ?? null,
        protocolId: protocol.id,
        method: protocol.method,
        instrumentId: idOf(round.instrument),
        ammeterId: idOf(round.ammeter),
        loadResistanceOhm: byResistor ? (round.loadOhm ?? null) : null,
        loadTolerance: byResistor ? (round.tolerancePercent ?? 1) / 100 : null,
        loadRatingW: byResistor ? (round.ratingW ?? null) : null,
        zeroTaken: protocol.method !== 'ac-meter' || round.zero === '' ? null : round.zero === 'yes',
        afterS: protocol.method === 'ac-meter' ? null : (round.afterS ?? null),
        leadOhm: ofPacks && protocol.method !== 'told' && round.leadMilliohm ? round.leadMilliohm / 1000 : null,
        temperatureC: round.temperatureC,
      }),
    );
    return done(opened.id);
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/resistance/${answer.value}`);
}

/** The batch was just charged: it rests from now on, and the watch counts down. */
export async function beginRestAction(batchCode: string): Promise<void> {
  await acting(async () => {
    const batch = await batchByCode(database(), z.string().max(10).parse(batchCode));
    if (!batch) return;
    const { rules } = await judgedWorkshop();
    await inTransaction((db) => beginRest(db, batch.id, 'charge', rules.limits.restAfterChargeH * 3600, now()));
  });
  revalidatePath('/', 'layout');
}
