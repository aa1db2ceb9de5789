import { createByteLog, logText } from '@/core/capacity/logBytes';
import type { Discharge, DischargeLoad, DischargeSettings } from '@/core/capacity/discharge';
import type { LoggedMoment } from '@/core/capacity/loggedMoment';
import type { LogColumn, Logged } from '@/core/capacity/logColumns';
import type { LogHead } from '@/core/capacity/logMapping';
import type { LogEnd, Sample } from '@/core/capacity/logReader';
import type { LogTools } from '@/core/capacity/logTools';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { Warning } from '@/core/warning';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { setImmediate } from 'node:timers/promises';
import { meterBeside, meterHere } from './meterBeside';

export interface LogFile {
  /** The log as it arrived. */
  file: string;
  load: DischargeLoad;
  tools: LogTools;
  /** Last digit of the voltage where given; else it is taken from the log. */
  voltageDigitV?: number | undefined;
  /** Of the whole; else that of a group is asked of each, or of the whole by their count. */
  cutoffV?: number | undefined;
  cutoffPerGroupV?: number | undefined;
  logged: Logged;
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

/** Where the samples of a log go while it is read. */
export interface SampleSink {
  push(sample: Sample): void;
  /** Waits until more may be pushed. */
  ready(): Promise<void>;
}

/** This much of a file shows the last digit of its voltage. */
const glanceBytes = 1 << 17;

/** How long the reading of a log keeps its thread to itself, ms. */
const longestTurnMs = 50;

/** A log of more is metered on a thread of its own. */
const longLogBytes = 1 << 22;

/** What the beginning of a log shows; undefined where that is not readable, which the whole will show. */
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

/** What ends a discharge: the whole as entered, the first group where groups are logged, or the whole by count. */
export function cutoffOf(
  { cutoffV, cutoffPerGroupV }: Pick<LogFile, 'cutoffV' | 'cutoffPerGroupV'>,
  series: number,
  hasGroups: boolean,
): Pick<DischargeSettings, 'cutoffV' | 'cutoffPerGroupV'> {
  if (cutoffPerGroupV === undefined) return cutoffV === undefined ? {} : { cutoffV };
  return hasGroups ? { cutoffPerGroupV } : { cutoffV: cutoffV ?? cutoffPerGroupV * series };
}

/**
 * Reads and meters a log that lies on disk, in constant memory.
 *
 * @param kept takes its samples as well, in order
 * @throws ImpossibleInput for what is no log
 */
export async function readLog(
  { file, load, tools, voltageDigitV, logged, ...told }: LogFile,
  kept?: SampleSink,
): Promise<LogReading> {
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
  const log = createByteLog((sample) => {
    firstGroupsV ??= sample.groupsV ?? null;
    meter.push(sample);
    kept?.push(sample);
  }, logged);
  try {
    const open = () => createReadStream(file, { highWaterMark: 1 << 18 });
    let turnAt = performance.now();
    for await (const bytes of (await logText(open, logged.mapping?.sheet)).bytes) {
      log.push(bytes);
      // What was sent to this thread meanwhile is heard: that the sender left, and another's work.
      if (performance.now() - turnAt > longestTurnMs) {
        await setImmediate();
        turnAt = performance.now();
      }
      await kept?.ready();
      await meter.ready();
    }
    const end = log.finish();
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
  }
}
