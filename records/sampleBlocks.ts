import { extremesOf } from './curve';
import type { Sample } from '@/core/capacity/logReader';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { copyEnd, copySignature } from './binaryCopy';

/** So many samples a row: enough for one array to be worth compressing, few enough to be read for a short stretch. */
export const blockSamples = 2048;
/** What PostgreSQL calls the type of an array's elements: float8. */
const doubleType = 701;

/** Every field of a row with its length before it, nulls as −1. */
const fieldOf = (bytes: Buffer | null): Buffer => {
  const length = Buffer.alloc(4);
  length.writeInt32BE(bytes?.length ?? -1);
  return bytes === null ? length : Buffer.concat([length, bytes]);
};
const integer = (value: number): Buffer => {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(value);
  return bytes;
};
const double = (value: number): Buffer => {
  const bytes = Buffer.alloc(8);
  bytes.writeDoubleBE(value);
  return bytes;
};
/** Version 1 of how JSON is kept, and its text. */
const json = (value: unknown): Buffer => Buffer.from(`\x01${JSON.stringify(value)}`);

/** Dimensions, whether any are null, type; length and first index of each dimension; each value with its length. */
function array(values: readonly (number | null)[], dimensions: readonly number[]): Buffer {
  const bytes = new DataView(new ArrayBuffer(12 + 8 * dimensions.length + 12 * values.length));
  let at = 0;
  const head = [dimensions.length, values.includes(null) ? 1 : 0, doubleType];
  for (const one of [...head, ...dimensions.flatMap((length) => [length, 1])]) {
    bytes.setInt32(at, one);
    at += 4;
  }
  for (const value of values) {
    bytes.setInt32(at, value === null ? -1 : 8);
    at += 4;
    if (value === null) continue;
    bytes.setFloat64(at, value);
    at += 8;
  }
  return Buffer.from(bytes.buffer, 0, at);
}

const column = (values: readonly (number | null)[]): Buffer | null =>
  values.every((value) => value === null) ? null : array(values, [values.length]);

/** An array a group. */
function groupsOf(samples: readonly Sample[]): Buffer | null {
  const series = samples[0]?.groupsV?.length ?? 0;
  if (series === 0) return null;
  const byGroup = Array.from({ length: series }, (_, group) => samples.map(({ groupsV }) => groupsV?.[group] ?? null));
  return array(byGroup.flat(), [series, samples.length]);
}

/**
 * Writes samples as rows of sample_block in the binary form of COPY. Source: PostgreSQL 15 documentation, COPY, "Binary
 * Format".
 *
 * @param send called with each full row; it may keep it
 */
export function createSampleBlocks(layoutId: number, send: (row: Buffer) => void) {
  let seq = 0;
  let samples: Sample[] = [];
  send(copySignature);

  const sendBlock = (): void => {
    const [first, last] = [samples[0], samples.at(-1)];
    if (!first || !last) return;
    const fields = [
      integer(layoutId),
      integer(seq++),
      integer(samples.length),
      double(first.timeS),
      double(last.timeS),
      column(samples.map(({ timeS }) => timeS)),
      column(samples.map(({ voltageV }) => voltageV)),
      column(samples.map(({ currentA }) => currentA)),
      column(samples.map(({ temperatureC }) => temperatureC)),
      groupsOf(samples),
      json(extremesOf(samples)),
    ];
    const count = Buffer.alloc(2);
    count.writeInt16BE(fields.length);
    send(Buffer.concat([count, ...fields.map(fieldOf)]));
    samples = [];
  };

  return {
    push(sample: Sample): void {
      samples.push(sample);
      if (samples.length === blockSamples) sendBlock();
    },
    finish(): void {
      sendBlock();
      send(copyEnd);
    },
  };
}

/** The rows of samples that are all at hand. */
export function sampleBlocksOf(layoutId: number, samples: readonly Sample[]): Readable {
  const rows: Buffer[] = [];
  const blocks = createSampleBlocks(layoutId, (row) => rows.push(row));
  samples.forEach(blocks.push);
  blocks.finish();
  return Readable.from(rows);
}

/** Streams rows made by `createSampleBlocks` into the database. Their layout must be there already. */
export async function copySamples(connection: PoolClient, rows: Readable): Promise<void> {
  await pipeline(rows, connection.query(copyFrom('copy sample_block from stdin (format binary)')));
}
