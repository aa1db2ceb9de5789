import { across, extremePlaces } from './curve';
import { numberOrNull } from './samples';
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

/**
 * Dimensions, whether any are null, type; length and first index of each dimension; each value with its length. NaN
 * stands for null.
 */
function array(columns: readonly Float64Array[], isSeveral: boolean): Buffer {
  const length = columns[0]?.length ?? 0;
  const dimensions = isSeveral ? [columns.length, length] : [length];
  const hasNull = columns.some((values) => values.some(Number.isNaN));
  const bytes = new DataView(new ArrayBuffer(12 + 8 * dimensions.length + 12 * columns.length * length));
  let at = 0;
  const head = [dimensions.length, hasNull ? 1 : 0, doubleType];
  for (const one of [...head, ...dimensions.flatMap((extent) => [extent, 1])]) {
    bytes.setInt32(at, one);
    at += 4;
  }
  for (const values of columns)
    for (let i = 0; i < length; i++) {
      const value = values[i] as number;
      const isNull = Number.isNaN(value);
      bytes.setInt32(at, isNull ? -1 : 8);
      at += 4;
      if (isNull) continue;
      bytes.setFloat64(at, value);
      at += 8;
    }
  return Buffer.from(bytes.buffer, 0, at);
}

const column = (values: Float64Array): Buffer | null => (values.every(Number.isNaN) ? null : array([values], false));

/**
 * Writes samples as rows of sample_block in the binary form of COPY. Source: PostgreSQL 15 documentation, COPY, "Binary
 * Format".
 *
 * @param send called with each full row; it may keep it
 */
export function createSampleBlocks(layoutId: number, send: (row: Buffer) => void) {
  let seq = 0;
  let held = 0;
  // Numbers alone are held: a million samples kept for a while are a million that have to be tidied up.
  const block = () => new Float64Array(blockSamples);
  const [times, voltages, currents, temperatures] = [block(), block(), block(), block()];
  const [cycles, steps] = [block(), block()];
  let isNumbered = false;
  let groups: Float64Array[] = [];
  send(copySignature);

  const sendBlock = (): void => {
    if (held === 0) return;
    const filled = (values: Float64Array): Float64Array => values.subarray(0, held);
    const ofGroups = groups.length === 0 ? [] : [Math.min, Math.max].map((one) => across(groups, one));
    const drawn = [voltages, currents, temperatures, ...ofGroups];
    const sampleAt = (i: number): Sample => ({
      timeS: times[i] as number,
      voltageV: voltages[i] as number,
      currentA: numberOrNull(currents[i]),
      temperatureC: numberOrNull(temperatures[i]),
      ...(isNumbered && { cycle: numberOrNull(cycles[i]), step: numberOrNull(steps[i]) }),
      ...(groups.length > 0 && { groupsV: groups.map((values) => values[i] as number) }),
    });
    const fields = [
      integer(layoutId),
      integer(seq++),
      integer(held),
      double(times[0] as number),
      double(times[held - 1] as number),
      column(filled(times)),
      column(filled(voltages)),
      column(filled(currents)),
      column(filled(temperatures)),
      groups.length === 0 ? null : array(groups.map(filled), true),
      json(extremePlaces(drawn.map(filled)).map(sampleAt)),
      column(filled(cycles)),
      column(filled(steps)),
    ];
    const count = Buffer.alloc(2);
    count.writeInt16BE(fields.length);
    send(Buffer.concat([count, ...fields.map(fieldOf)]));
    held = 0;
  };

  return {
    push({ timeS, voltageV, currentA, temperatureC, groupsV, cycle, step }: Sample): void {
      if (groupsV && groups.length === 0) groups = groupsV.map(block);
      times[held] = timeS;
      voltages[held] = voltageV;
      currents[held] = currentA ?? NaN;
      temperatures[held] = temperatureC ?? NaN;
      cycles[held] = cycle ?? NaN;
      steps[held] = step ?? NaN;
      isNumbered ||= cycle !== undefined || step !== undefined;
      for (let group = 0; group < groups.length; group++)
        (groups[group] as Float64Array)[held] = groupsV?.[group] ?? NaN;
      held += 1;
      if (held === blockSamples) sendBlock();
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
