import 'server-only';
import { rulesInForce } from './rules';
import { type Discharge, dischargeArithmetic } from '@/core/capacity/discharge';
import { database } from '@/records/database';
import { resultOf, type Run, runById, runsWithoutResult } from '@/records/runs';
import { cutoffsOf } from '@/core/judging/judgeCell';
import { inBackground } from './pool';

/** The result of a run at a cut-off of a cell or group: as kept, or computed from its samples and kept. */
export async function judgeRun(run: Run, cutoffV: number): Promise<Discharge> {
  const db = database();
  const kept = await resultOf(db, run.layoutId, cutoffV, dischargeArithmetic);
  if (kept) return kept;
  return inBackground('judgeRun', { runId: run.id, cutoffV });
}

/** How far the judging of runs is. */
export interface RunsJudging {
  done: number;
  total: number;
}

interface Judging {
  progress: RunsJudging;
  /** What is missing changed since it began. */
  again: boolean;
  ended: Promise<void>;
}
const held = globalThis as typeof globalThis & { runsJudging?: Judging };

/** How far it is in this process; null where nothing is under way. */
export const runsJudging = (): RunsJudging | null => held.runsJudging?.progress ?? null;

/**
 * Judges every run that has no result by the rules in force and today's arithmetic. Asked for once more while it is
 * under way, it restarts with what is missing by then.
 */
export function judgeRunsInForce(): Promise<void> {
  const underWay = held.runsJudging;
  if (underWay) {
    underWay.again = true;
    return underWay.ended;
  }
  const own: Judging = { progress: { done: 0, total: 0 }, again: true, ended: Promise.resolve() };
  held.runsJudging = own;
  own.ended = untilNoneIsMissing(own).finally(() => {
    delete held.runsJudging;
  });
  return own.ended;
}

async function untilNoneIsMissing(own: Judging): Promise<void> {
  while (own.again) {
    own.again = false;
    await judgeMissing(own);
  }
}

async function judgeMissing(own: Judging): Promise<void> {
  const db = database();
  const { limits } = await rulesInForce(db);
  const missing = await runsWithoutResult(db, cutoffsOf(limits), dischargeArithmetic);
  own.progress = { done: 0, total: missing.length };
  for (const { id, cutoffV } of missing) {
    if (own.again) return;
    const run = await runById(db, id);
    if (run) await judgeRun(run, cutoffV);
    own.progress.done += 1;
  }
}

/** How long a page waits for results of capacity tests before it shows without them. */
const mostAwaitedMs = 1500;

/** Begins it, and comes back once it is done, or under way with its progress to be seen. */
export async function beginJudgingRuns(): Promise<void> {
  const judging = judgeRunsInForce();
  let timer: NodeJS.Timeout | undefined;
  const enough = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, mostAwaitedMs);
  });
  await Promise.race([judging, enough]).finally(() => clearTimeout(timer));
  // A later failure goes to the log of the server.
  judging.catch((error: unknown) => console.error(error));
}
