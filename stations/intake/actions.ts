'use server';

import { chemistryKeys } from '@/core/chemistry/chemistries';
import { parseQuantity } from '@/core/quantity/parse';
import { addBatch, archiveBatch, type BatchAccount, batchByCode, correctBatch, modelNamed } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import {
  acting,
  type Answer,
  answering,
  ask,
  changedBy,
  done,
  fieldsOf,
  optional,
  refuse,
  serial,
  typedCount,
  typedPositive,
  typedText,
} from '@/stations/answer';
import { filing } from '@/stations/filing';
import { beginJudgingRuns } from '@/workshop/judgeRun';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { voltDigitOf } from '@/core/judging/instrumentBook';
import { cellsOfBatch } from '@/core/judging/shelf';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { batchMiddle, understandIntake } from './intakeLine';
import { lineCellOf } from './lineCell';

/**
 * 2.2 and 2.2 Ah are the same, and so are 2200 and 2200 mAh: no cell holds a hundred ampere-hours and no label says 2.2
 * mAh.
 */
const capacity = typedText('Capacity', 20, 'The capacity printed on it, or that of its model, is missing.').transform(
  (text, context) => {
    const read = parseQuantity(text, { dimension: 'charge', factor: 1 });
    const isMilli = /^[\d.,]+$/.test(text) && (read?.value ?? 0) >= 100;
    const charge = read?.dimension === 'charge' ? read.value : NaN;
    const valueAh = isMilli ? charge / 1000 : charge;
    if (valueAh > 0 && valueAh < 1000) return valueAh;
    context.addIssue('Capacity: expected a figure such as 2.2 Ah or 2200 mAh.');
    return z.NEVER;
  },
);

/**
 * What is noted of a batch beside its code: where it comes from, and what its cells are, by model or by what can be
 * seen.
 */
const account = z
  .object({
    origin: typedText('From', 200, 'Where did these cells come from?'),
    notes: typedText('Notes', 500).default(''),
    known: z.enum(['yes', 'no']),
    maker: typedText('Maker', 60).default(''),
    model: typedText('Model', 60).default(''),
    size: typedText('Size', 20).default(''),
    chemistry: z.enum(chemistryKeys),
    ratedAh: capacity,
    massG: optional(
      typedPositive('Weight').refine(
        (value) => value < 100_000,
        'Weight of one cell in g: this is more than anybody lifts.',
      ),
    ),
    board: z.enum(['none', 'own']),
    asNewMilliohm: optional(typedPositive('Resistance when new')),
  })
  .refine(({ known, model }) => known === 'no' || model !== '', {
    path: ['model'],
    error: 'Model is missing; where nobody knows it, say so above.',
  })
  .refine(({ known, maker }) => known === 'no' || maker !== '', {
    path: ['maker'],
    error: 'Maker is missing; where nobody knows it, say so above.',
  })
  .refine(({ known, size }) => known === 'yes' || size !== '', {
    path: ['size'],
    error: 'Size is missing: 18650, AA, or what it looks like.',
  })
  .transform(
    ({ origin, notes, known, maker, model, size, chemistry, ratedAh, massG, board, asNewMilliohm }): BatchAccount => ({
      origin,
      notes,
      model: {
        ...(known === 'yes' ? { maker, name: model, size: null } : { maker: null, name: null, size }),
        chemistry,
        ratedCapacityAh: ratedAh,
        massKg: massG === null ? null : massG / 1000,
        board: board === 'own',
        asNewOhm: asNewMilliohm === null ? null : asNewMilliohm / 1000,
      },
    }),
  );

const newBatch = z.object({
  code: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z][A-Z0-9]{0,5}$/, 'Code: a letter, then up to five letters or digits, such as S2.'),
  count: typedCount('Number of cells', 999),
});

const correction = z.object({ code: z.string().max(10), by: changedBy });

/** What both say of the same fields; everything that is wrong by either is told at once. */
function bothOf<A, B>(one: z.ZodType<A>, other: z.ZodType<B>, given: unknown): A & B {
  const [a, b] = [one.safeParse(given), other.safeParse(given)];
  if (!a.success || !b.success) throw new z.ZodError([...(a.error?.issues ?? []), ...(b.error?.issues ?? [])]);
  return { ...a.data, ...b.data };
}

/** Adds a batch with running codes and opens its intake. */
export async function addBatchAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(
    async () => {
      const given = fieldsOf(form);
      const { code, count, origin, notes, model } = bothOf(newBatch, account, given);
      await inTransaction(async (db) =>
        addBatch(db, { code, origin, notes, modelId: (await modelNamed(db, model)).id, count }),
      );
      return done(code);
    },
    { batch_code_key: 'There is a batch with this code already; choose another.' },
  );
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(`/intake/${answer.value}`);
}

/** Corrects what was noted of a batch; who did it is kept. */
export async function correctBatchAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const given = fieldsOf(form);
    const { code, by, ...corrected } = bothOf(correction, account, given);
    const isThere = await inTransaction(async (db) => {
      const batch = await batchByCode(db, code);
      if (batch) await correctBatch(db, batch, corrected, by);
      return batch !== null;
    });
    if (!isThere) return refuse(`There is no batch ${code}.`, { code: `There is no batch ${code}.` });
    // Another chemistry has another cut-off.
    await beginJudgingRuns();
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}

/** Puts a batch away with its cells, or takes it out again. */
export async function archiveBatchAction(id: number, away: boolean): Promise<void> {
  await acting(() => archiveBatch(database(), serial.parse(id), z.boolean().parse(away)));
  revalidatePath('/', 'layout');
}

/** Files one line of the reading bar for a cell of this batch. */
export async function fileIntake(batchCode: string, typed: EntryLine): Promise<Filed> {
  return filing(typed, async ({ text, confirmed, current: shown, circumstances, replaces }) => {
    const workshop = await withCellsOf(await judgedWorkshop(), { batchCode });
    const cells = cellsOfBatch(workshop, batchCode);
    const byCode = (code: string | null) => cells.find((cell) => cell.code === code);
    const instrument =
      workshop.instruments.all.find((one) => one.code === circumstances.meter && one.archivedAt === null) ?? null;
    const lineCell = (code: string | null) => {
      const cell = byCode(code);
      return cell ? lineCellOf(cell) : null;
    };
    const line = understandIntake(text, lineCell(shown), lineCell, batchMiddle(cells), {
      meter: voltDigitOf(instrument),
      corrects: replaces !== null,
    });
    // That they are welded was filed already, by this very line: it is sent again.
    if (line.kind === 'go' && confirmed && text.includes('+')) return done({ said: text.trim(), files: null });
    if (line.kind !== 'readings') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const [first, ...others] = line.cells.flatMap((code) => byCode(code)?.id ?? []);
    if (first === undefined) return refuse(`There is no cell ${line.code}.`);
    const { isWeld, readings, said } = line;
    const takenWith = instrument ? { instrumentId: instrument.id, channel: 1 } : null;
    return done({
      said,
      files: {
        subjectIds: [first, ...others],
        takenWith,
        bodies: isWeld ? [{ kind: 'weld' }, ...readings] : readings,
      },
    });
  });
}
