'use server';

import { addBatch, archiveBatch, batchByCode, correctBatch, modelNamed } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { holdRow } from '@/records/locks';
import {
  acting,
  type Answer,
  answering,
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
import { cellsOfBatch } from '@/core/judging/shelf';
import type { EntryLine, Filed } from '@/ui/entryLine';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { account, batchCode, bothOf } from './batchFields';
import { readingsOf } from './readingsOf';

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
      const there = await batchByCode(db, code);
      if (!there) return false;
      await holdRow(db, 'batch', there.id);
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

/** Files what was read of a cell of a batch, or of one that is named. */
export async function fileIntake(batchCode: string, typed: EntryLine): Promise<Filed> {
  return filing(typed, async (line) => {
    const workshop = await withCellsOf(await judgedWorkshop(), { batchCode });
    return readingsOf(line, cellsOfBatch(workshop, batchCode), workshop.instruments);
  });
}
