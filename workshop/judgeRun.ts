import 'server-only';
import { createDischargeMeter, type Discharge, dischargeArithmetic } from '@/core/capacity/discharge';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { database } from '@/records/database';
import { rulesInForce } from '@/records/houseRules';
import { eachSample, keepResult, resultOf, type Run, runById, runsWithoutResult } from '@/records/runs';
import { cutoffsOf } from '@/workshop/judgeCell';

/** The result of a run at a cut-off: as kept, or computed from its samples and kept. */
export async function judgeRun(run: Run, cutoffV: number): Promise<Discharge> {
  const db = database();
  const kept = await resultOf(db, run.id, cutoffV, dischargeArithmetic);
  if (kept) return kept;
  const meter = createDischargeMeter({ load: run.load, cutoffV });
  await eachSample(db, run.id, (sample) => meter.push(sample));
  const result = meter.finish(run.voltageStepV);
  await keepResult(db, run.id, cutoffV, dischargeArithmetic, result);
  return result;
}

/** Judges every run anew whose cut-off the rules have changed. */
export async function judgeRunsBy(rules: HouseRules): Promise<void> {
  const db = database();
  for (const { id, cutoffV } of await runsWithoutResult(db, cutoffsOf(rules), dischargeArithmetic)) {
    const run = await runById(db, id);
    if (run) await judgeRun(run, cutoffV);
  }
}

/** Judges every run that has no result by the rules in force and today's arithmetic. */
export const judgeRunsInForce = async (): Promise<void> => judgeRunsBy((await rulesInForce(database())).limits);
