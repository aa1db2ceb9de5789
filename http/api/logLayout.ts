import 'server-only';
import { type DischargeLoad, dischargeArithmetic } from '@/core/capacity/discharge';
import type { LogMapping } from '@/core/capacity/logMapping';
import { logToolsOf } from '@/core/capacity/logTools';
import { otherCount } from '@/core/capacity/seriesCount';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { LoggedSubject } from '@/records/cells';
import { database, noteNothingStored } from '@/records/database';
import { addLayout, keepResult } from '@/records/runs';
import { copySamples } from '@/records/sampleBlocks';
import { temporaryFolder } from '@/records/temporary';
import { judgeRunsInForce } from '@/workshop/judgeRun';
import { inBackground } from '@/workshop/pool';
import { rulesInForce } from '@/workshop/rules';
import type { LogReading } from '@/workshop/tasks';
import { createReadStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { PoolClient } from 'pg';
import { Refusal } from './respond';

/** How a log is read, as whoever sends it tells. */
export interface Told {
  load: DischargeLoad;
  /** Limit of the resistor or the set current, a share; null where nobody said. */
  loadTolerance: number | null;
  /** What its columns are; null where they tell by themselves. */
  mapping: LogMapping | null;
  /** At which lead the columns of groups begin; null where nobody said. */
  groups: GroupOrder | null;
}

export type GroupOrder = 'from-black' | 'from-red';

/** Works in a folder of its own, and knows of a failure whether it came before anything was stored. */
export async function storingAll<Result>(
  work: (folder: string, storing: () => void) => Promise<Result>,
): Promise<Result> {
  const folder = await temporaryFolder();
  let isStoring = false;
  try {
    return await work(folder, () => {
      isStoring = true;
    });
  } catch (error) {
    if (!isStoring) noteNothingStored(error);
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** A log that was read and not stored yet. */
interface ReadLayout {
  told: Told;
  layoutId: number;
  cutoffV: number;
  /** The file of its samples. */
  blocks: string;
  read: LogReading;
}

interface LogOnDisk {
  file: string;
  folder: string;
  subject: LoggedSubject;
  /** What the maker of its logger promises. */
  ranges: Parameters<typeof logToolsOf>[1];
}

/**
 * Reads a log that lies on disk as told, beside the server's own thread; its samples go into a file, as blocks under
 * that layout.
 *
 * @throws Refusal without a column of current where that was to tell; ImpossibleInput for what is no log so,
 *   or one of another count in series
 */
export async function readAs(
  told: Told,
  layoutId: number,
  { file, folder, subject, ranges }: LogOnDisk,
  signal: AbortSignal | undefined,
): Promise<ReadLayout> {
  const { load, loadTolerance, mapping, groups } = told;
  const cutoffV = lowestVoltageV(subject.chemistry, (await rulesInForce(database())).limits);
  const blocks = join(folder, 'blocks');
  const read = await inBackground(
    'readLog',
    {
      file,
      load,
      tools: logToolsOf(loadTolerance, ranges),
      cutoffPerGroupV: cutoffV,
      logged: { series: subject.series, fromRed: groups === 'from-red', mapping: mapping ?? undefined },
      blocks: { file: blocks, layoutId },
    },
    signal === undefined ? {} : { signal },
  );
  const other = otherCount(read.result.segments, subject.series, subject.chemistry);
  if (other) throw new ImpossibleInput('csv', { code: 'other-count', series: subject.series, ...other });
  if (load.kind === 'column' && !read.columns.some((column) => column.field === 'current')) throw noCurrent();
  return { told, layoutId, cutoffV, blocks, read };
}

/** Files a layout with its samples and what they come to, within the caller's transaction. */
export async function store(
  connection: PoolClient,
  runId: number,
  { told: { load, loadTolerance, mapping }, layoutId, cutoffV, blocks, read }: ReadLayout,
): Promise<void> {
  await addLayout(connection, layoutId, runId, {
    ...read,
    mapping,
    load,
    loadTolerance,
    samples: read.result.samples,
  });
  await copySamples(connection, createReadStream(blocks, { highWaterMark: 1 << 18 }));
  await keepResult(connection, layoutId, cutoffV, dischargeArithmetic, read.result);
}

/** Rules that were adopted meanwhile ask for another cut-off, and those who adopted them did not see this run yet. */
export async function judgeUnderNewRules({ chemistry }: LoggedSubject, cutoffV: number): Promise<void> {
  if (lowestVoltageV(chemistry, (await rulesInForce(database())).limits) !== cutoffV) await judgeRunsInForce();
}

const noCurrent = (): Refusal =>
  new Refusal(
    400,
    'no-current',
    'This log has no column of current; say which resistor or which current was the load.',
    [{ path: 'load', message: 'No column of current was found.' }],
  );
