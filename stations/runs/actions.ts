'use server';

import { batchByCode } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { fileEntry, pulsesFiled } from '@/records/readings';
import { openRound, roundOfBatch } from '@/records/rounds';
import { runById, voidRun } from '@/records/runs';
import { acting, type Answer, answering, done, reasonText, refuse, serial } from '@/stations/answer';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { cellOfCode } from '@/core/judging/shelf';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

/** Voids a run with a reason; its cell is judged without it. */
export async function voidRunAction(id: number, reason: string): Promise<void> {
  await acting(() => voidRun(database(), serial.parse(id), reasonText.parse(reason)));
  revalidatePath('/', 'layout');
}

/**
 * Files a step of a log as a reading of its cell, in the batch's round of steps in logs; opens that round if need be.
 */
export async function fileStepAction(runId: number, atS: number): Promise<Answer> {
  const answer = await answering(async () => {
    const db = database();
    const [run, judged] = await Promise.all([runById(db, serial.parse(runId)), judgedWorkshop()]);
    const workshop = run ? await withCellsOf(judged, { code: run.code }) : judged;
    const cell = run && cellOfCode(workshop, run.code);
    const batch = cell && (await batchByCode(db, cell.batchCode));
    if (!run || !cell || !batch) return refuse('This run is not there any more.');
    const protocol = [...workshop.protocols.values()].find((one) => one.method === 'pulse' && one.archivedAt === null);
    if (!protocol) return refuse('There is no protocol for steps in logs: write one down first.');
    if ((await pulsesFiled(db, runId)).some((at) => Math.abs(at - atS) < 1e-6))
      return refuse('This step is filed already.');
    await inTransaction(async (connection) => {
      const roundId =
        (await roundOfBatch(connection, batch.id, protocol.id)) ??
        (await openRound(connection, {
          batchId: batch.id,
          protocolId: protocol.id,
          method: 'pulse',
          instrumentId: null,
          ammeterId: null,
          loadResistanceOhm: null,
          loadTolerance: null,
          loadRatingW: null,
          temperatureC: null,
        }));
      await fileEntry(connection, {
        entry: randomUUID(),
        cellId: cell.id,
        withCellIds: run.withCodes.flatMap((code) => cellOfCode(workshop, code)?.id ?? []),
        confirmed: false,
        readings: [{ kind: 'pulse', roundId, temperatureC: null, runId, atS: z.number().min(0).parse(atS) }],
        takenAt: run.endedAt,
      });
    });
    return done(undefined);
  });
  revalidatePath('/', 'layout');
  return answer;
}
