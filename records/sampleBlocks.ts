import { across, extremePlaces } from './curve';
import { numberOrNull } from './samples';
import type { Sample } from '@/core/capacity/logReader';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { copyEnd, copySignature } from './binaryCopy';

/** This many samples a row: enough for one array to be worth compressing, few enough to be read for a short stretch. */
export const blockSamples = 2048;
/** What PostgreSQL calls the type of an array's elements: float8. */
const doubleType = 701;

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
/** A field of a row with its length before it, a null as −1. */
const fieldOf = (bytes: Buffer | null): Buffer[] => (bytes === null ? [integer(-1)] : [integer(bytes.length), bytes]);
/** Version 1 of how JSON is kept, and its text. */
const json = (value: unknown): Buffer => Buffer.from(`\x01${JSON.stringify(value)}`);

/** The samples of a block, a column of them; numbers alone, with NaN for null. */
interface Column {
  values: Float64Array;
  put(at: number, value: number | null | undefined): void;
  /** How many were put that are no null. */
  known(): number;
}

function createColumn(): Column {
  const values = new Float64Array(blockSamples);
  let known = 0;
  return {
    values,
    put(at, value) {
      if (at === 0) known = 0;
      values[at] = value ?? NaN;
      if (value != null) known += 1;
    },
    known: () => known,
  };
}

/**
 * The first values of some columns: dimensions, whether any are null, type; length and first index of each dimension;
 * each value with its length.
 */
function array(columns: readonly Column[], length: number, isSeveral: boolean): Buffer {
  const dimensions = isSeveral ? [columns.length, length] : [length];
  const bytes = new DataView(new ArrayBuffer(12 + 8 * dimensions.length + 12 * columns.length * length));
  let at = 0;
  const head = [dimensions.length, columns.some((column) => column.known() < length) ? 1 : 0, doubleType];
  for (const one of [...head, ...dimensions.flatMap((extent) => [extent, 1])]) {
    bytes.setInt32(at, one);
    at += 4;
  }
  for (const { values } of columns)
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

/**
 * Writes samples as rows of sample_block in the binary form of COPY. Source: PostgreSQL 15 documentation, COPY, "Binary
 * Format".
 *
 * @param send called with each full row; it may keep it
 */
export function createSampleBlocks(layoutId: number, send: (row: Buffer) => void) {
  let seq = 0;
  let held = 0;
  // A million samples kept for a while are a million that have to be tidied up: their numbers alone are held.
  const [times, voltages, currents, temperatures] = [createColumn(), createColumn(), createColumn(), createColumn()];
  const [cycles, steps] = [createColumn(), createColumn()];
  let isNumbered = false;
  let groups: Column[] = [];
  send(copySignature);

  const sendBlock = (): void => {
    if (held === 0) return;
    const column = (one: Column): Buffer | null => (one.known() === 0 ? null : array([one], held, false));
    const filled = ({ values }: Column): Float64Array => values.subarray(0, held);
    const ofGroups = groups.length === 0 ? [] : [Math.min, Math.max].map((one) => across(groups.map(filled), one));
    const sampleAt = (i: number): Sample => ({
      timeS: times.values[i] as number,
      voltageV: voltages.values[i] as number,
      currentA: numberOrNull(currents.values[i]),
      temperatureC: numberOrNull(temperatures.values[i]),
      ...(isNumbered && { cycle: numberOrNull(cycles.values[i]), step: numberOrNull(steps.values[i]) }),
      ...(groups.length > 0 && { groupsV: groups.map(({ values }) => values[i] as number) }),
    });
    const fields = [
      integer(layoutId),
      integer(seq++),
      integer(held),
      double(times.values[0] as number),
      double(times.values[held - 1] as number),
      column(times),
      column(voltages),
      column(currents),
      column(temperatures),
      groups.length === 0 ? null : array(groups, held, true),
      json(extremePlaces([...[voltages, currents, temperatures].map(filled), ...ofGroups]).map(sampleAt)),
      column(cycles),
      column(steps),
    ];
    const count = Buffer.alloc(2);
    count.writeInt16BE(fields.length);
    send(Buffer.concat([count, ...fields.flatMap(fieldOf)]));
    held = 0;
  };

  return {
    push({ timeS, voltageV, currentA, temperatureC, groupsV, cycle, step }: Sample): void {
      if (groupsV && groups.length === 0) groups = groupsV.map(createColumn);
      times.put(held, timeS);
      voltages.put(held, voltageV);
      currents.put(held, currentA);
      temperatures.put(held, temperatureC);
      cycles.put(held, cycle);
      steps.put(held, step);
      isNumbered ||= cycle !== undefined || step !== undefined;
      for (let group = 0; group < groups.length; group++) groups[group]?.put(held, groupsV?.[group]);
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
