import { allInstruments } from './instruments';
import { createByteLog, logText } from '@/core/capacity/logBytes';
import {
  createDischargeMeter,
  type Discharge,
  dischargeArithmetic,
  type DischargeLoad,
  type DischargeSettings,
} from '@/core/capacity/discharge';
import type { LoggedMoment } from '@/core/capacity/loggedMoment';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import type { LogHead } from '@/core/capacity/logMapping';
import type { LogEnd } from '@/core/capacity/logReader';
import { type LogTools, logToolsOf } from '@/core/capacity/logTools';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { type Match, matchCells, type MatchRequest } from '@/core/matching/match';
import { type Job, type Shape, shapesFor } from '@/core/matching/shapes';
import { compareRemedies, type Remedies, type Uneven } from '@/core/packs/remedies';
import { type BenchAsked, type BenchPlan, planJobs } from '@/core/planning/benchPlan';
import { type Asked, type Plan, planBench } from '@/core/planning/schedule';
import { chargerSheet, type SheetAsked, type Sheeted } from '@/core/planning/chargerSheet';
import type { PackRun } from '@/core/simulation/packRun';
import { type PlainRun, runPlain } from '@/core/simulation/plainRun';
import type { Warning } from '@/core/warning';
import { cellFacts } from '@/records/cells';
import { database } from '@/records/database';
import { keepResult, runById } from '@/records/runs';
import { createSampleBlocks } from '@/records/sampleBlocks';
import { eachSample, samplePortions } from '@/records/samples';
import { loggedBy } from '@/core/capacity/sampleColumns';
import { writeParquet } from './parquet';
import { once } from 'node:events';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { finished } from 'node:stream/promises';
import { equipmentOf, type StoredEquipment } from '@/core/judging/equipment';
import { cutoffsOf, judgeCell, type JudgedCell } from '@/core/judging/judgeCell';
import { meterBeside, meterHere } from './meterBeside';
import { settled } from './threads';

/** What runs in worker threads, each by its name. */
export interface Tasks {
  /** Does nothing: whoever asks knows that the thread is loaded. */
  ready(given: undefined): Promise<void>;
  remedies(given: Uneven): Promise<Remedies>;
  sheet(given: SheetAsked): Promise<Sheeted>;
  plan(given: Asked): Promise<Plan>;
  jobs(given: BenchAsked): Promise<BenchPlan>;
  packRun(given: PlainRun): Promise<PackRun>;
  shapes(given: Job): Promise<Shape[]>;
  match(given: { request: MatchRequest; limitMs: number }): Promise<Match>;
  readLog(given: LogFile): Promise<LogReading>;
  /** At that cut-off of a cell or group. */
  judgeRun(given: { runId: number; cutoffV: number }): Promise<Discharge>;
  judgeCells(given: CellsToJudge): Promise<JudgedCell[]>;
  /** The samples of a run into a Parquet file. */
  writeParquet(given: { runId: number; file: string }): Promise<void>;
}

export interface LogFile {
  /** The log as it arrived. */
  file: string;
  load: DischargeLoad;
  tools: LogTools;
  /** Last digit of the voltage where it was told; else it is taken from the log. */
  voltageDigitV?: number | undefined;
  /** Of the whole; else that of a group is asked of each, or of the whole by their count. */
  cutoffV?: number | undefined;
  cutoffPerGroupV?: number | undefined;
  logged: Logged;
  /** Where its samples go as blocks under a layout, if they are to be kept. */
  blocks?: { file: string; layoutId: number };
}

export interface LogReading {
  /** How the file begins. */
  head: LogHead;
  columns: LogColumn[];
  notices: Warning[];
  endedAt: LoggedMoment | null;
  voltageStepV: number;
  currentStepA: number | null;
  groupStepV: number | null;
  /** The groups as the log begins; null where none are logged. */
  firstGroupsV: readonly number[] | null;
  result: Discharge;
}

/** Cells, with all it takes to judge them. */
export interface CellsToJudge {
  ids: readonly number[];
  rules: HouseRules;
  stored: StoredEquipment;
}

/** So much of a file shows the last digit of its voltage. */
const glanceBytes = 1 << 17;

/** A log of more is metered on a thread of its own. */
const longLogBytes = 1 << 22;

/** What the beginning of a log shows; undefined where that is not readable, which the whole will tell. */
async function glanceAt(file: string, logged: Logged): Promise<LogEnd | undefined> {
  const log = createByteLog(() => {}, logged);
  let seen = 0;
  try {
    const { bytes: parts } = await logText(() => createReadStream(file), logged.mapping?.sheet);
    for await (const bytes of parts) {
      log.push(bytes);
      seen += bytes.length;
      if (seen >= glanceBytes) break;
    }
    return log.finish(seen >= glanceBytes);
  } catch (error) {
    if (error instanceof ImpossibleInput) return undefined;
    throw error;
  }
}

/** What ends a discharge: the whole as told, the first group where groups are logged, or the whole by count. */
function cutoffOf(
  { cutoffV, cutoffPerGroupV }: Pick<LogFile, 'cutoffV' | 'cutoffPerGroupV'>,
  series: number,
  hasGroups: boolean,
): Pick<DischargeSettings, 'cutoffV' | 'cutoffPerGroupV'> {
  if (cutoffPerGroupV === undefined) return cutoffV === undefined ? {} : { cutoffV };
  return hasGroups ? { cutoffPerGroupV } : { cutoffV: cutoffV ?? cutoffPerGroupV * series };
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

  async readLog({ file, load, tools, voltageDigitV, logged, blocks, ...told }) {
    const glance = await glanceAt(file, logged);
    const digitV = voltageDigitV ?? glance?.voltageStepV;
    const groupDigitV = glance?.groupStepV ?? null;
    const meter = ((await stat(file)).size > longLogBytes ? meterBeside : meterHere)({
      load,
      tools,
      seriesCells: logged.series,
      ...(digitV === undefined ? {} : { voltageDigitV: digitV }),
      ...(groupDigitV === null ? {} : { groupDigitV }),
      ...cutoffOf(told, logged.series, groupDigitV !== null),
    });
    let firstGroupsV: readonly number[] | null = null;
    const out = blocks && createWriteStream(blocks.file);
    const kept = blocks && out && createSampleBlocks(blocks.layoutId, (row) => out.write(row));
    const log = createByteLog((sample) => {
      firstGroupsV ??= sample.groupsV ?? null;
      meter.push(sample);
      kept?.push(sample);
    }, logged);
    try {
      const open = () => createReadStream(file, { highWaterMark: 1 << 18 });
      for await (const bytes of (await logText(open, logged.mapping?.sheet)).bytes) {
        log.push(bytes);
        if (out?.writableNeedDrain) await once(out, 'drain');
        await meter.ready();
      }
      const end = log.finish();
      kept?.finish();
      const voltageStepV = voltageDigitV ?? end.voltageStepV;
      return {
        head: log.head(),
        columns: end.columns,
        notices: end.warnings,
        endedAt: end.endedAt,
        voltageStepV,
        currentStepA: end.currentStepA,
        groupStepV: end.groupStepV,
        firstGroupsV,
        result: await meter.finish(voltageStepV, end.currentStepA),
      };
    } finally {
      meter.end();
      out?.end();
      if (out) await finished(out);
    }
  },

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
    const equipment = equipmentOf(stored);
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
export const readLog = settled(tasks.readLog);
export const judgeRun = settled(tasks.judgeRun);
export const judgeCells = settled(tasks.judgeCells);
const samplesWritten = settled(tasks.writeParquet);
export { samplesWritten as writeParquet };
