'use server';

import { subjectByCode } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { holdBench } from '@/records/locks';
import { forgetMapping } from '@/records/logMappings';
import { newestRoundOf, openRound } from '@/records/rounds';
import { runById } from '@/records/runs';
import { type Answer, answering, done, refuse, serial } from '@/stations/answer';
import { judgeRun } from '@/workshop/judgeRun';
import { judgedWorkshop } from '@/workshop/judged';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

/** A mapping is offered no more. */
export async function forgetMappingAction(name: string): Promise<Answer> {
  const answer = await answering(async () => {
    const isGone = await forgetMapping(database(), z.string().parse(name));
    return isGone ? done(undefined) : refuse('It is offered no more already.');
  });
  revalidatePath('/capacity');
  return answer;
}

/**
 * Files a step of a log as a reading: of a cell in its batch's round of steps in logs, of a pack as from terminal to
 * terminal in such a round over packs; opens that round if need be.
 */
export async function fileStepAction(runId: number, atS: number): Promise<Answer> {
  const answer = await answering(
    async () => {
      const db = database();
      const [run, workshop] = await Promise.all([runById(db, serial.parse(runId)), judgedWorkshop()]);
      const subject = run && (await subjectByCode(db, run.code));
      if (!run || !subject) return refuse('This run is not there any more.');
      const protocol = [...workshop.protocols.values()].find(
        (one) => one.method === 'pulse' && one.archivedAt === null,
      );
      if (!protocol) return refuse('There is no protocol for steps in logs: write one down first.');
      const { edges } = await judgeRun(run, lowestVoltageV(subject.chemistry, workshop.rules.limits));
      const step = edges.find((edge) => Math.abs(edge.atS - atS) < 1e-6);
      if (!step) return refuse('This log shows no step there.');
      await inTransaction(async (connection) => {
        // Of two steps that are filed at once the second goes into the round that the first opened.
        await holdBench(connection);
        const { occasionId } =
          (await newestRoundOf(connection, subject.batchId, protocol.id)) ??
          (await openRound(connection, {
            batchId: subject.batchId,
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
          subjectIds: run.subjectIds,
          occasionId,
          bodies: [{ kind: 'pulse', runId, atS: step.atS }],
          takenAt: run.endedAt,
        });
      });
      return done(undefined);
    },
    { step_filed_once: 'This step is filed already.' },
  );
  revalidatePath('/', 'layout');
  return answer;
}
