import { now } from '@/workshop/clock';
import { allInstruments } from './instruments';
import { createDischargeMeter, type Discharge, dischargeArithmetic } from '@/core/capacity/discharge';
import { logToolsOf } from '@/core/capacity/logTools';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { type Match, matchCells, type MatchRequest } from '@/core/matching/match';
import { type Job, type Shape, shapesFor } from '@/core/matching/shapes';
import { compareRemedies, type Remedies, type Uneven } from '@/core/packs/remedies';
import { type BenchPlanRequest, type BenchPlan, planJobs } from '@/core/planning/benchPlan';
import { type BenchRequest, type Plan, planBench } from '@/core/planning/schedule';
import { chargerSheet } from '@/core/planning/chargerSheet';
import type { SheetInput, Sheeted } from '@/core/planning/sheet';
import type { PackRun } from '@/core/simulation/packRun';
import { type PlainRun, runPlain } from '@/core/simulation/plainRun';
import { cellFacts } from '@/records/cells';
import { database } from '@/records/database';
import { keepResult, runById } from '@/records/runs';
import { eachSample, samplePortions } from '@/records/samples';
import { loggedBy } from '@/core/capacity/sampleColumns';
import { writeParquet } from './parquet';
import { equipmentOf, type StoredEquipment } from '@/core/judging/equipment';
import { cutoffsOf, judgeCell, type JudgedCell } from '@/core/judging/judgeCell';
import { cutoffOf, type LogFile, type LogReading, readLog } from './readLog';
import { type LogToStore, storeLog } from './storeLog';
import { settled } from './threads';

/** What runs in worker threads, each by its name. */
export interface Tasks {
  /** Does nothing: its answer shows that the thread is loaded. */
  ready(given: undefined): Promise<void>;
  remedies(given: Uneven): Promise<Remedies>;
  sheet(given: SheetInput): Promise<Sheeted>;
  plan(given: BenchRequest): Promise<Plan>;
  jobs(given: BenchPlanRequest): Promise<BenchPlan>;
  packRun(given: PlainRun): Promise<PackRun>;
  shapes(given: Job): Promise<Shape[]>;
  match(given: { request: MatchRequest; limitMs: number }): Promise<Match>;
  readLog(given: LogFile): Promise<LogReading>;
  storeLog(given: LogToStore): Promise<number | null>;
  /** At that cut-off of a cell or group. */
  judgeRun(given: { runId: number; cutoffV: number }): Promise<Discharge>;
  judgeCells(given: CellsToJudge): Promise<JudgedCell[]>;
  /** The samples of a run into a Parquet file. */
  writeParquet(given: { runId: number; file: string }): Promise<void>;
}

/** Cells, with all it takes to judge them. */
export interface CellsToJudge {
  ids: readonly number[];
  rules: HouseRules;
  stored: StoredEquipment;
}

const tasks: Tasks = {
  async ready() {},

  async remedies(given) {
    return compareRemedies(given);
  },

  async sheet(given) {
    return chargerSheet(given);
  },

  async plan(given) {
    return planBench(given);
  },

  async jobs(given) {
    return planJobs(given);
  },

  async packRun(given) {
    return runPlain(given);
  },

  async shapes(given) {
    return shapesFor(given);
  },

  async match({ request, limitMs }) {
    const end = performance.now() + limitMs;
    return matchCells({ ...request, isOver: () => performance.now() > end });
  },

  readLog: (given) => readLog(given),

  storeLog,

  async judgeRun({ runId, cutoffV }) {
    const db = database();
    const run = await runById(db, runId);
    if (!run) throw new Error(`There is no run ${runId}.`);
    const logger =
      run.loggerId === null ? undefined : (await allInstruments(db)).find((one) => one.id === run.loggerId);
    const meter = createDischargeMeter({
      load: run.load,
      tools: logToolsOf(run.loadTolerance, logger?.ranges ?? null),
      voltageDigitV: run.voltageStepV,
      seriesCells: run.series,
      ...(run.groupStepV === null ? {} : { groupDigitV: run.groupStepV }),
      ...cutoffOf({ cutoffPerGroupV: cutoffV }, run.series, run.groupStepV !== null),
    });
    await eachSample(db, run.layoutId, (sample) => meter.push(sample));
    const result = meter.finish(run.voltageStepV, run.currentStepA);
    await keepResult(db, run.layoutId, cutoffV, dischargeArithmetic, result);
    return result;
  },

  async judgeCells({ ids, rules, stored }) {
    const equipment = equipmentOf(stored, now());
    return (await cellFacts(database(), cutoffsOf(rules), dischargeArithmetic, ids)).map((facts) =>
      judgeCell(facts, rules, equipment),
    );
  },

  async writeParquet({ runId, file }) {
    const db = database();
    const run = await runById(db, runId);
    if (!run) throw new Error(`There is no run ${runId}.`);
    const about = { subject: run.code, ended_at: run.endedAt.toISOString(), load: JSON.stringify(run.load) };
    await writeParquet(file, loggedBy(run.columns), about, samplePortions(db, run.layoutId));
  },
};

export const ready = settled(tasks.ready);
export const remedies = settled(tasks.remedies);
export const sheet = settled(tasks.sheet);
export const plan = settled(tasks.plan);
export const jobs = settled(tasks.jobs);
export const match = settled(tasks.match);
export const packRun = settled(tasks.packRun);
export const shapes = settled(tasks.shapes);
const logRead = settled(tasks.readLog);
const logStored = settled(tasks.storeLog);
export const judgeRun = settled(tasks.judgeRun);
export const judgeCells = settled(tasks.judgeCells);
const samplesWritten = settled(tasks.writeParquet);
export { logRead as readLog, logStored as storeLog, samplesWritten as writeParquet };
