'use server';

import { addBatch, archiveBatch, batchByCode, correctBatch, modelNamed } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import {
  acting,
  type Answer,
  answering,
  ask,
  changedBy,
  done,
  fieldsOf,
  refuse,
  serial,
  typedCount,
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
import { account, batchCode, bothOf } from './batchFields';
import { batchMiddle, understandIntake } from './intakeLine';
import { lineCellOf } from './lineCell';

const newBatch = z.object({
  code: batchCode,
  count: typedCount('Number of cells', 999),
});

const correction = z.object({ code: z.string().max(10), by: changedBy });

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
