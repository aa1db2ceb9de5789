'use server';

import { chemistryKeys } from '@/core/chemistry/chemistries';
import { addBatch, modelNamed } from '@/records/batches';
import { inTransaction } from '@/records/database';
import { fileEntry, voidEntry } from '@/records/readings';
import { type Answer, answering, ask, done, fieldsOf, refuse, typedCount, typedPositive, typedText } from '@/stations/answer';
import { filing, redoEntry, undoEntry } from '@/stations/entry';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { voltDigitOf } from '@/workshop/book';
import { cellsOfBatch } from '@/workshop/shelf';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { batchMiddleV, understandIntake } from './entry';
import { entryCellOf } from './entryCell';

const newBatch = z.object({
  code: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{0,5}$/, 'Code: a letter, then up to five letters or digits, such as S2.'),
  origin: typedText('From', 200, 'Where did these cells come from?'),
  count: typedCount('Number of cells', 999),
  maker: typedText('Maker', 60, 'Maker is missing.'),
  model: typedText('Model', 60, 'Model is missing.'),
  chemistry: z.enum(chemistryKeys),
  ratedAh: typedPositive('Rated capacity').refine((value) => value < 1000, 'Rated capacity in Ah: this looks like mAh.'),
  massG: z.union([z.literal('').transform(() => null), typedPositive('Weight').refine((value) => value < 100_000, 'Weight of one cell in g: this is more than anybody lifts.')]),
  board: z.enum(['none', 'own']),
  asNewMilliohm: z.union([z.literal('').transform(() => null), typedPositive('Resistance when new')]),
});

/** Adds a batch with running codes and opens its intake. */
export async function addBatchAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const batch = newBatch.parse(fieldsOf(form));
    await inTransaction(async (db) => {
      const model = await modelNamed(db, { maker: batch.maker, name: batch.model, chemistry: batch.chemistry, ratedCapacityAh: batch.ratedAh, massKg: batch.massG === null ? null : batch.massG / 1000, board: batch.board === 'own', asNewOhm: batch.asNewMilliohm === null ? null : batch.asNewMilliohm / 1000 });
      await addBatch(db, { code: batch.code, origin: batch.origin, modelId: model.id, count: batch.count });
    });
    return done(batch.code);
  }, { batch_code_key: 'There is a batch with this code already; choose another.' });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/intake/${answer.value}`);
}

/** Files one line of the reading bar for a cell of this batch. */
export async function fileIntake(batchCode: string, typed: EntryLine): Promise<Filed> {
  return filing(typed, voidEntry, async ({ entry, text, confirmed, current: shown, circumstances, replaces }) => {
    const workshop = await withCellsOf(await judgedWorkshop(), { batchCode });
    const cells = cellsOfBatch(workshop, batchCode);
    const byCode = (code: string | null) => cells.find((cell) => cell.code === code);
    const instrument = workshop.instruments.all.find((one) => one.code === circumstances.meter && one.archivedAt === null) ?? null;
    const entryCell = (code: string | null) => {
      const cell = byCode(code);
      return cell ? entryCellOf(cell) : null;
    };
    const line = understandIntake(text, entryCell(shown), entryCell, batchMiddleV(cells), { meter: voltDigitOf(instrument), corrects: replaces !== null });
    if (line.kind !== 'readings') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    const takenWith = instrument ? { instrumentId: instrument.id, channel: 1 } : null;
    return done({ said: line.said, store: (db) => fileEntry(db, { entry, cellId: cell.id, confirmed, takenWith, readings: line.readings }) });
  });
}

export const undoIntake = async (entry: string): Promise<Filed> => undoEntry(entry);
export const redoIntake = async (entry: string, anew: string): Promise<Filed> => redoEntry(entry, anew);
