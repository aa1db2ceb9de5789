'use server';

import { listBatches } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/readings';
import { beginRest } from '@/records/rests';
import { openRound, roundById } from '@/records/rounds';
import { type Answer, answering, done, refuse, typedNumber, typedPositive } from '@/stations/answer';
import { entryId, filing, undoEntry } from '@/stations/entry';
import { judgedWorkshop } from '@/stations/workshop';
import type { Filed } from '@/ui/ReadingBar';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { understandStep } from './entry';
import { roundCells, roundContext } from './round';

const optional = (field: z.ZodType<number, string>) => z.union([z.literal('').transform(() => null), field]);

const protocol = {
  batch: z.string().min(1, 'Choose a batch.'),
  chargeState: z.enum(['full', 'storage', 'any']),
  temperatureC: optional(typedNumber('Temperature').refine((value) => value > -30 && value < 80, 'Temperature: expected °C between -30 and 80.')),
  holdS: typedPositive('Seconds under load').refine((value) => value <= 600, 'Seconds under load: at most 600.'),
};

const newRound = z.discriminatedUnion('method', [
  z.object({
    ...protocol,
    method: z.literal('resistor'),
    loadOhm: typedPositive('Load resistor'),
    tolerancePercent: typedPositive('Tolerance').refine((value) => value < 100, 'Tolerance: below 100 %.'),
    ratingW: optional(typedPositive('Power rating')),
  }),
  z.object({ ...protocol, method: z.literal('ammeter') }),
]);

/** Opens a round: a method and its protocol, applied to a batch cell after cell. */
export async function openRoundAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const round = newRound.parse(Object.fromEntries(form));
    const batch = (await listBatches(database())).find((one) => one.code === round.batch);
    if (!batch) return refuse('There is no such batch.', { batch: 'There is no such batch.' });
    return done(
      await openRound(database(), {
        batchId: batch.id,
        method: round.method,
        loadResistanceOhm: round.method === 'resistor' ? round.loadOhm : null,
        loadTolerance: round.method === 'resistor' ? round.tolerancePercent / 100 : null,
        loadRatingW: round.method === 'resistor' ? round.ratingW : null,
        holdS: round.holdS,
        chargeState: round.chargeState,
        temperatureC: round.temperatureC,
      }),
    );
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/resistance/${answer.value}`);
}

/** Files one step of the round. */
export async function fileStep(roundId: number, currentCode: string | null, text: string, entry: string, confirmed: boolean): Promise<Filed> {
  return filing(async () => {
    const round = await roundById(database(), z.int().parse(roundId));
    if (!round) return refuse('This round is not there any more.');
    const cells = roundCells(await judgedWorkshop(), round.batchCode);
    const byCode = (code: string | null) => cells.find((cell) => cell.code === code) ?? null;
    const line = understandStep(z.string().max(200).parse(text), await roundContext(round), byCode(currentCode), byCode);
    if (line.kind !== 'step') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return refuse(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    await inTransaction((db) => fileEntry(db, { entry: entryId.parse(entry), cellId: cell.id, confirmed, readings: [{ kind: 'load-step', roundId: round.id, ...line.reading }] }));
    return done(line.said);
  });
}

export const undoStep = async (entry: string): Promise<Filed> => undoEntry(entry);

/** The batch was just charged: it rests from now on, and the watch counts down. */
export async function beginRestAction(batchCode: string): Promise<void> {
  const batch = (await listBatches(database())).find((one) => one.code === batchCode);
  if (!batch) return;
  const { rules } = await judgedWorkshop();
  await beginRest(database(), batch.id, 'charge', rules.limits.restAfterChargeH * 3600);
  revalidatePath('/', 'layout');
}
