'use server';

import { chemistryKeys } from '@/core/chemistry/chemistries';
import { addBatch, modelNamed } from '@/records/batches';
import { inTransaction } from '@/records/database';
import { fileEntry } from '@/records/readings';
import { type Answer, answering, done, refuse, typedCount, typedPositive } from '@/stations/answer';
import { entryId, filing, undoEntry } from '@/stations/entry';
import { judgedWorkshop } from '@/stations/workshop';
import type { Filed } from '@/ui/ReadingBar';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { understandIntake } from './entry';
import { entryCellOf } from './entryCell';

const newBatch = z.object({
  code: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{0,5}$/, 'Code: a letter, then up to five letters or digits, such as S2.'),
  origin: z.string().trim().min(1, 'Where did these cells come from?').max(200),
  count: typedCount('Number of cells', 999),
  maker: z.string().trim().min(1, 'Maker is missing.').max(60),
  model: z.string().trim().min(1, 'Model is missing.').max(60),
  chemistry: z.enum(chemistryKeys),
  ratedAh: typedPositive('Rated capacity').refine((value) => value < 1000, 'Rated capacity in Ah: this looks like mAh.'),
  massG: z.union([z.literal('').transform(() => null), typedPositive('Weight')]),
});

/** Adds a batch with running codes and opens its intake. */
export async function addBatchAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const batch = newBatch.parse(Object.fromEntries(form));
    await inTransaction(async (db) => {
      const model = await modelNamed(db, { maker: batch.maker, name: batch.model, chemistry: batch.chemistry, ratedCapacityAh: batch.ratedAh, massKg: batch.massG === null ? null : batch.massG / 1000 });
      await addBatch(db, { code: batch.code, origin: batch.origin, modelId: model.id, count: batch.count });
    });
    return done(batch.code);
  }, { batch_code_key: 'There is a batch with this code already; choose another.' });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/intake/${answer.value}`);
}

/** Files one line of the reading bar for a cell of this batch. */
export async function fileIntake(batchCode: string, currentCode: string | null, text: string, entry: string, confirmed: boolean): Promise<Filed> {
  return filing(async () => {
    const cells = (await judgedWorkshop()).cells.filter((cell) => cell.batchCode === batchCode);
    const byCode = (code: string | null) => cells.find((cell) => cell.code === code);
    const current = byCode(currentCode);
    const line = understandIntake(z.string().max(200).parse(text), current ? entryCellOf(current) : null, (code) => {
      const cell = byCode(code);
      return cell ? entryCellOf(cell) : null;
    });
    if (line.kind !== 'readings') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return refuse(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    await inTransaction((db) => fileEntry(db, { entry: entryId.parse(entry), cellId: cell.id, confirmed, readings: line.readings }));
    return done(line.said);
  });
}

export const undoIntake = async (entry: string): Promise<Filed> => undoEntry(entry);
