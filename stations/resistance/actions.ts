'use server';

import { methodKeys } from '@/core/resistance/methods';
import { listBatches } from '@/records/batches';
import { database } from '@/records/database';
import { listInstruments } from '@/records/instruments';
import { addProtocol, listProtocols } from '@/records/protocols';
import { fileEntry, readingsOfRounds } from '@/records/readings';
import { beginRest } from '@/records/rests';
import { openRound } from '@/records/rounds';
import { type Answer, answering, ask, done, refuse, typedNumber, typedPositive } from '@/stations/answer';
import { redoEntry, undoEntry } from '@/stations/entry';
import { cellOfCode, judgedWorkshop } from '@/stations/workshop';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { after } from 'next/server';
import { z } from 'zod';
import { understandReading } from './entry';
import { contextOf, crowdOfRound, judgeReadings, openRoundById, type RoundFigure, roundFigure, whyNotMeasured } from './round';


const optional = (field: z.ZodType<number, string>) => z.union([z.literal('').transform(() => null), field]);
const celsius = (what: string) => optional(typedNumber(what).refine((value) => value > -30 && value < 80, `${what}: expected °C between -30 and 80.`));
const share = (what: string) => optional(typedNumber(what).refine((value) => value >= 0 && value <= 100, `${what}: expected 0 to 100 %.`));

const newProtocol = z
  .object({
    name: z.string().trim().min(1, 'What is it called?').max(60),
    school: z.string().trim().max(200),
    method: z.enum(methodKeys),
    chargeFrom: share('Charge from'),
    chargeTo: share('Charge to'),
    coldestC: celsius('Coldest'),
    warmestC: celsius('Warmest'),
    restMin: optional(typedNumber('Rest').refine((value) => value >= 0, 'Rest: at least nought.')),
    rateC: optional(typedPositive('Rate')),
    holdS: typedPositive('Read after').refine((value) => value <= 3600, 'Read after: at most 3600 s.'),
  })
  .refine(({ chargeFrom, chargeTo }) => (chargeFrom === null) === (chargeTo === null), { path: ['chargeTo'], error: 'Charge: give both ends of the window, or none.' })
  .refine(({ chargeFrom, chargeTo }) => chargeFrom === null || chargeTo === null || chargeFrom <= chargeTo, { path: ['chargeTo'], error: 'Charge: the window ends below where it begins.' })
  .refine(({ coldestC, warmestC }) => (coldestC === null) === (warmestC === null), { path: ['warmestC'], error: 'Temperature: give both ends of the window, or none.' })
  .refine(({ coldestC, warmestC }) => coldestC === null || warmestC === null || coldestC <= warmestC, { path: ['warmestC'], error: 'Temperature: the window ends below where it begins.' });

/** Writes a protocol down: conditions under which figures compare. */
export async function addProtocolAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const { chargeFrom, chargeTo, coldestC, warmestC, restMin, ...protocol } = newProtocol.parse(Object.fromEntries(form));
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

const newRound = z.object({
  batch: z.string().min(1, 'Choose a batch.'),
  protocol: z.coerce.number<string>().int(),
  instrument: z.string(),
  ammeter: z.string().optional(),
  temperatureC: celsius('Bench'),
  loadOhm: typedPositive('Load resistor').optional(),
  tolerancePercent: typedPositive('Tolerance').refine((value) => value < 100, 'Tolerance: below 100 %.').optional(),
  ratingW: optional(typedPositive('Power rating')).optional(),
});

/** Opens a round: a protocol applied to a batch, cell after cell. */
export async function openRoundAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const db = database();
    const round = newRound.parse(Object.fromEntries(form));
    const [batches, protocols, instruments] = await Promise.all([listBatches(db), listProtocols(db), listInstruments(db)]);
    const batch = batches.find((one) => one.code === round.batch);
    if (!batch) return refuse('There is no such batch.', { batch: 'There is no such batch.' });
    const protocol = protocols.find((one) => one.id === round.protocol);
    if (!protocol) return refuse('There is no such protocol.', { protocol: 'There is no such protocol.' });
    const idOf = (code: string | undefined) => instruments.find((one) => one.code === code)?.id ?? null;
    const byResistor = protocol.method === 'resistor';
    return done(
      await openRound(db, {
        batchId: batch.id,
        protocolId: protocol.id,
        method: protocol.method,
        instrumentId: idOf(round.instrument),
        ammeterId: idOf(round.ammeter),
        loadResistanceOhm: byResistor ? (round.loadOhm ?? null) : null,
        loadTolerance: byResistor ? (round.tolerancePercent ?? 1) / 100 : null,
        loadRatingW: byResistor ? (round.ratingW ?? null) : null,
        temperatureC: round.temperatureC,
      }),
    );
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/resistance/${answer.value}`);
}

export type FiledReading = Filed & { figure?: RoundFigure | null };

/**
 * Files one reading of the round and answers with its figure; the screen asks for the rest of itself afterwards.
 *
 * @param seen how many readings of that cell the screen knew of; null where it cannot tell
 */
export async function fileReading(roundId: number, typed: EntryLine, seen: number | null): Promise<FiledReading> {
  const answer = await answering(async () => {
    const { entry, text, confirmed, current } = entryLine.parse(typed);
    const open = await openRoundById(z.int().parse(roundId));
    if (!open) return refuse('This round is not there any more.');
    const { round, workshop, readings } = open;
    const inBatch = (code: string) => {
      const cell = cellOfCode(workshop, code);
      return cell?.batchCode === round.batchCode ? cell : null;
    };
    const byCode = (code: string) => {
      const cell = inBatch(code);
      return cell && whyNotMeasured(cell) === null ? cell : null;
    };
    const whyNot = (code: string) => {
      const cell = inBatch(code);
      return cell && whyNotMeasured(cell);
    };
    const line = understandReading(text, contextOf(open), current === null ? null : byCode(current), byCode, whyNot);
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    const already = readings.filter(({ row }) => row.code === line.code && row.entry !== entry);
    if (seen !== null && already.length > seen && !confirmed) return ask(`${line.code} was read meanwhile from another screen. Enter again files this as a second press.`);
    const takenWith = round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: 1 };
    await fileEntry(database(), { entry, cellId: cell.id, confirmed, takenWith, readings: [{ ...line.reading, roundId: round.id }] });
    const filed = judgeReadings(await readingsOfRounds(database(), [round.id], { entry }), workshop, open.protocol);
    const now = [...filed, ...readings.filter(({ row }) => row.entry !== entry)];
    // What the filing changed is judged while the next figure is typed, not when it is filed.
    after(() => openRoundById(round.id));
    return done({ said: line.said, figure: roundFigure(line.code, now, crowdOfRound(now, workshop.rules.limits.oddBeyond)) });
  });
  if (!answer.ok) return answer;
  const { said, figure } = answer.value;
  return { ok: true, said: `Filed ${said}.`, odd: figure?.odd === true || figure?.repeats?.differ === true, figure };
}

export const undoReading = async (entry: string): Promise<Filed> => undoEntry(entry);
export const redoReading = async (entry: string, anew: string): Promise<Filed> => redoEntry(entry, anew);

/** The batch was just charged: it rests from now on, and the watch counts down. */
export async function beginRestAction(batchCode: string): Promise<void> {
  const batch = (await listBatches(database())).find((one) => one.code === batchCode);
  if (!batch) return;
  const { rules } = await judgedWorkshop();
  await beginRest(database(), batch.id, 'charge', rules.limits.restAfterChargeH * 3600);
  revalidatePath('/', 'layout');
}
