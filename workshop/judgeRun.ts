import 'server-only';
import { rulesInForce } from './rules';
import { type Discharge, dischargeArithmetic } from '@/core/capacity/discharge';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { database } from '@/records/database';
import { resultOf, type Run, runById, runsWithoutResult } from '@/records/runs';
import { cutoffsOf } from '@/core/judging/judgeCell';
import { inBackground } from './pool';

/** The result of a run at a cut-off: as kept, or computed from its samples and kept. */
export async function judgeRun(run: Run, cutoffV: number): Promise<Discharge> {
  const db = database();
  const kept = await resultOf(db, run.id, cutoffV, dischargeArithmetic);
  if (kept) return kept;
  return inBackground('judgeRun', { runId: run.id, cutoffV });
}

/** So many runs are waited for; of more, each cell is judged without its run until that was judged. */
const mostAwaited = 300;

/** Judges every run anew whose cut-off the rules have changed; when there are many, beside whatever follows. */
export async function judgeRunsBy(rules: HouseRules): Promise<void> {
  const db = database();
  const waiting = await runsWithoutResult(db, cutoffsOf(rules), dischargeArithmetic);
  const judging = (async () => {
    for (const { id, cutoffV } of waiting) {
      const run = await runById(db, id);
      if (run) await judgeRun(run, cutoffV);
    }
  })();
  if (waiting.length <= mostAwaited) return judging;
  judging.catch((error: unknown) => console.error(error));
}

/** Judges every run that has no result by the rules in force and today's arithmetic. */
export const judgeRunsInForce = async (): Promise<void> => judgeRunsBy((await rulesInForce(database())).limits);
