import { dischargeArithmetic } from '@/core/capacity/discharge';
import { inTransaction } from '@/records/database';
import { keepMapping, type NamedMapping } from '@/records/logMappings';
import { keepRunFile } from '@/records/runFiles';
import { addLayout, addRun, keepResult, type NewRun, type RunLayout } from '@/records/runs';
import { copySamples, createSampleBlocks } from '@/records/sampleBlocks';
import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { PassThrough } from 'node:stream';
import type { MessagePort } from 'node:worker_threads';
import type { PoolClient } from 'pg';
import { type LogFile, type LogReading, readLog } from './readLog';

export interface LogToStore extends LogFile {
  layoutId: number;
  /** Of a cell or group. */
  cutoffPerGroupV: number;
  /** Tells what was read, and hears what is to be filed; where it is closed before, nothing is. */
  port: MessagePort;
}

/** What is filed with the samples of a log. */
export interface LogToFile {
  /** One that exists already, or a new one with the packed file that it came from. */
  run: number | (NewRun & { packed: string });
  layout: Pick<RunLayout, 'load' | 'loadTolerance' | 'mapping'>;
  /** Kept under its name for the next file of this shape. */
  keep: NamedMapping | null;
}

/** This many bytes of samples may wait for the database. */
const mostWaiting = 1 << 20;

/**
 * Reads a log, and its samples go into the database meanwhile, within the transaction that keeps all of it or nothing:
 * the other facts are given once the log is read, or that it must not be filed.
 *
 * @returns the run; null where nothing was to be filed
 * @throws ImpossibleInput for what is no log
 */
export async function storeLog({ port, ...log }: LogToStore): Promise<number | null> {
  const filing = answerOf(port);
  let isStored = false;
  return inTransaction(async (connection) => {
    const read = await copyWhileReading(connection, log, filing);
    // Once more from the start, should another transaction have stood in its way: no question is asked again for that.
    if (!isStored) port.postMessage(read);
    isStored = true;
    const stored = await filing;
    if (stored === null) throw new Dropped();
    return file(connection, log, read, stored);
  }).catch((error: unknown) => {
    if (error instanceof Dropped) return null;
    throw error;
  });
}

/** It must not be stored. */
class Dropped extends Error {}

const answerOf = (port: MessagePort): Promise<LogToFile | null> =>
  new Promise((resolve) => {
    port.once('message', resolve);
    port.once('close', () => resolve(null));
  });

async function copyWhileReading(
  connection: PoolClient,
  { layoutId, ...log }: Omit<LogToStore, 'port'>,
  filing: Promise<LogToFile | null>,
): Promise<LogReading> {
  let isLeft = false;
  const left = filing.then((stored) => {
    isLeft = stored === null;
  });
  const rows = new PassThrough({ highWaterMark: mostWaiting });
  const copied = copySamples(connection, rows);
  // A failure shows where it is awaited.
  copied.catch(() => undefined);
  const blocks = createSampleBlocks(layoutId, (row) => rows.write(row));
  try {
    const read = await readLog(log, {
      push: blocks.push,
      ready: async () => {
        if (rows.writableNeedDrain) await Promise.race([once(rows, 'drain'), copied, left]);
        if (isLeft) throw new Dropped();
      },
    });
    blocks.finish();
    rows.end();
    await copied;
    return read;
  } catch (error) {
    rows.destroy(error as Error);
    // The connection is free for its end only after the copying has ended.
    await copied.catch(() => undefined);
    throw error;
  }
}

async function file(
  connection: PoolClient,
  { layoutId, cutoffPerGroupV }: Pick<LogToStore, 'layoutId' | 'cutoffPerGroupV'>,
  read: LogReading,
  { run, layout, keep }: LogToFile,
): Promise<number> {
  const runId = typeof run === 'number' ? run : await addRun(connection, run);
  const { samples } = read.result;
  await addLayout(connection, layoutId, runId, { ...read, ...layout, samples });
  await keepResult(connection, layoutId, cutoffPerGroupV, dischargeArithmetic, read.result);
  if (typeof run !== 'number')
    await keepRunFile(connection, runId, createReadStream(run.packed, { highWaterMark: 1 << 18 }));
  if (keep) await keepMapping(connection, keep);
  return runId;
}
