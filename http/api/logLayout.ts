import 'server-only';
import type { DischargeLoad } from '@/core/capacity/discharge';
import type { LogMapping } from '@/core/capacity/logMapping';
import { logToolsOf } from '@/core/capacity/logTools';
import { otherCount } from '@/core/capacity/seriesCount';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { ImpossibleInput } from '@/core/impossibleInput';
import type { LoggedSubject } from '@/records/cells';
import { database, noteNothingStored } from '@/records/database';
import { reserveLayoutId } from '@/records/runs';
import { temporaryFolder } from '@/records/temporary';
import { judgeRunsInForce } from '@/workshop/judgeRun';
import { inBackground } from '@/workshop/pool';
import { rulesInForce } from '@/workshop/rules';
import type { LogReading } from '@/workshop/readLog';
import type { LogToFile } from '@/workshop/storeLog';
import { once } from 'node:events';
import { rm } from 'node:fs/promises';
import { MessageChannel } from 'node:worker_threads';
import { Refusal } from './respond';

/** How a log is read, as its sender says. */
export interface LogDescription {
  load: DischargeLoad;
  /** Limit of the resistor or the set current, a share; null where not given. */
  loadTolerance: number | null;
  /** What its columns are; null where the file names them. */
  mapping: LogMapping | null;
  /** At which lead the columns of groups begin; null where not given. */
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

interface LogOnDisk {
  file: string;
  subject: LoggedSubject;
  /** What the maker of its logger promises. */
  ranges: Parameters<typeof logToolsOf>[1];
}

/**
 * Reads a log that lies on disk as described, beside the server's own thread, and files it with what `decide` says once
 * it is read; where that throws, nothing is stored.
 *
 * @throws Refusal without a column of current where that was needed; ImpossibleInput for what is no log so,
 *   or one of another count in series; what `decide` throws
 */
export async function storeAs(
  { load, loadTolerance, mapping, groups }: LogDescription,
  { file, subject, ranges }: LogOnDisk,
  decide: (read: LogReading) => Promise<Pick<LogToFile, 'run' | 'keep'>>,
  signal: AbortSignal | undefined,
): Promise<{ id: number; read: LogReading }> {
  const db = database();
  const cutoffV = lowestVoltageV(subject.chemistry, (await rulesInForce(db)).limits);
  const layoutId = await reserveLayoutId(db);
  const { port1: port, port2 } = new MessageChannel();
  const reading = once(port, 'message').then(([read]) => read as LogReading);
  const storing = inBackground(
    'storeLog',
    {
      file,
      load,
      tools: logToolsOf(loadTolerance, ranges),
      cutoffPerGroupV: cutoffV,
      logged: { series: subject.series, fromRed: groups === 'from-red', mapping: mapping ?? undefined },
      layoutId,
      port: port2,
    },
    { moved: [port2] },
  );
  // A client that leaves ends its own log, not the thread, which may read another one, too.
  const leave = (): void => port.close();
  signal?.addEventListener('abort', leave);
  const toldNothing = (): never => {
    signal?.throwIfAborted();
    throw new Error('The thread that stores a log did not answer.');
  };
  try {
    signal?.throwIfAborted();
    const read = await Promise.race([reading, storing.then(toldNothing)]);
    const other = otherCount(read.result.segments, subject.series, subject.chemistry);
    if (other) throw new ImpossibleInput('csv', { code: 'other-count', series: subject.series, ...other });
    if (load.kind === 'column' && !read.columns.some((column) => column.field === 'current')) throw noCurrent();
    const filing: LogToFile = { ...(await decide(read)), layout: { load, loadTolerance, mapping } };
    port.postMessage(filing);
    const id = (await storing) ?? toldNothing();
    await judgeUnderNewRules(subject, cutoffV);
    return { id, read };
  } finally {
    // Without an answer this ends it; its folder goes only then.
    leave();
    signal?.removeEventListener('abort', leave);
    await storing.catch(() => undefined);
  }
}

/** Rules that were adopted meanwhile ask for another cut-off, and those who adopted them did not see this run yet. */
async function judgeUnderNewRules({ chemistry }: LoggedSubject, cutoffV: number): Promise<void> {
  if (lowestVoltageV(chemistry, (await rulesInForce(database())).limits) !== cutoffV) await judgeRunsInForce();
}

const noCurrent = (): Refusal =>
  new Refusal(
    400,
    'no-current',
    'This log has no column of current; say which resistor or which current was the load.',
    [{ path: 'load', message: 'No column of current was found.' }],
  );
