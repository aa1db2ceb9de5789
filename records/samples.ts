import { reducedCurve } from './curve';
import type { Sample } from '@/core/capacity/logReader';
import type { Queryable } from './database';

/** Each column as the database sends an array in binary: read many times quicker than as text. */
interface Block {
  samples: number;
  time: Buffer;
  voltage: Buffer;
  current: Buffer | null;
  temperature: Buffer | null;
  groups: Buffer | null;
  cycle: Buffer | null;
  step: Buffer | null;
}

const blockColumns = `samples, array_send(time_s) as time, array_send(voltage_v) as voltage,
  array_send(current_a) as current, array_send(temperature_c) as temperature, array_send(groups_v) as groups,
  array_send(cycle) as cycle, array_send(step) as step`;

/**
 * The numbers of an array as sent in binary, those of several dimensions one after the other; NaN for null. Source:
 * PostgreSQL 15, array_send.
 */
function numbersOf(sent: Buffer): Float64Array {
  const bytes = new DataView(sent.buffer, sent.byteOffset, sent.byteLength);
  const dimensions = bytes.getInt32(0);
  let at = 12;
  let count = 1;
  for (let i = 0; i < dimensions; i++, at += 8) count *= bytes.getInt32(at);
  const numbers = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const isNull = bytes.getInt32(at) < 0;
    numbers[i] = isNull ? NaN : bytes.getFloat64(at + 4);
    at += isNull ? 4 : 12;
  }
  return numbers;
}

const numbersOfEach = ({ current, temperature, groups, cycle, step }: Omit<Block, 'samples'>) => ({
  current: current && numbersOf(current),
  temperature: temperature && numbersOf(temperature),
  groups: groups && numbersOf(groups),
  cycle: cycle && numbersOf(cycle),
  step: step && numbersOf(step),
});

/** Of what is kept as a number alone: NaN means null. */
export const numberOrNull = (value: number | undefined): number | null =>
  value === undefined || Number.isNaN(value) ? null : value;

function samplesOf({ samples: count, ...columns }: Block): Sample[] {
  const [time, voltage] = [numbersOf(columns.time), numbersOf(columns.voltage)];
  const { current, temperature, groups, cycle, step } = numbersOfEach(columns);
  const samples: Sample[] = [];
  for (let i = 0; i < count; i++)
    samples.push({
      timeS: time[i] as number,
      voltageV: voltage[i] as number,
      currentA: numberOrNull(current?.[i]),
      temperatureC: numberOrNull(temperature?.[i]),
      groupsV: groups ? Array.from({ length: groups.length / count }, (_, g) => groups[g * count + i] as number) : null,
      ...(cycle && { cycle: numberOrNull(cycle[i]) }),
      ...(step && { step: numberOrNull(step[i]) }),
    });
  return samples;
}

/** This many blocks at a time. */
const portion = 10;

/** The samples under a layout in order, some thousands at a time. */
export async function* samplePortions(db: Queryable, layoutId: number): AsyncGenerator<Sample[]> {
  for (let from = 0; ; from += portion) {
    const { rows: blocks } = await db.query<Block>(
      `select ${blockColumns} from sample_block where layout_id = $1 and seq between $2 and $3 order by seq`,
      [layoutId, from, from + portion - 1],
    );
    for (const block of blocks) yield samplesOf(block);
    if (blocks.length < portion) return;
  }
}

/** Hands over the samples under a layout in order. */
export async function eachSample(db: Queryable, layoutId: number, visit: (sample: Sample) => void): Promise<void> {
  for await (const samples of samplePortions(db, layoutId)) samples.forEach(visit);
}

/** The samples of some blocks, the last included: all of them. */
async function wholeBlocks(db: Queryable, layoutId: number, first: number, last: number): Promise<Sample[]> {
  const { rows } = await db.query<Block>(
    `select ${blockColumns} from sample_block where layout_id = $1 and seq between $2 and $3 order by seq`,
    [layoutId, first, last],
  );
  return rows.flatMap(samplesOf);
}

/** Of each of these blocks those that are highest or lowest, read without unpacking it. */
async function extremesOfBlocks(db: Queryable, layoutId: number, first: number, last: number): Promise<Sample[]> {
  const { rows } = await db.query<{ extremes: Sample[] }>(
    'select extremes from sample_block where layout_id = $1 and seq between $2 and $3 order by seq',
    [layoutId, first, last],
  );
  return rows.flatMap(({ extremes }) => extremes);
}

/** A stretch of a log, seconds from its start. */
export interface Stretch {
  fromS: number;
  toS: number;
}

/** Up to this many blocks are read whole; of more their extremes are plenty. */
const mostWhole = 50;
/** Enough for any screen. */
const usualStretches = 400;
const everything: Stretch = { fromS: 0, toS: Infinity };

/**
 * The curve under a layout, or a stretch of it with the samples next to either side, reduced to what a screen can show:
 * the lowest and the highest of everything are kept.
 */
export async function curveOf(
  db: Queryable,
  layoutId: number,
  { fromS, toS }: Stretch = everything,
  stretches = usualStretches,
): Promise<Sample[]> {
  const { rows } = await db.query<{ first: number | null; last: number | null }>(
    `select min(seq) as first, max(seq) as last
     from sample_block
     where layout_id = $1 and to_s >= $2 and from_s <= $3`,
    [layoutId, fromS, toS],
  );
  const { first, last } = rows[0] ?? {};
  if (first == null || last == null) return [];
  const read = last - first < mostWhole ? wholeBlocks : extremesOfBlocks;
  const samples = await read(db, layoutId, first, last);
  const begin = samples.findLastIndex(({ timeS }) => timeS <= fromS);
  const end = samples.findIndex(({ timeS }) => timeS >= toS);
  return reducedCurve(samples.slice(Math.max(0, begin), end < 0 ? undefined : end + 1), stretches);
}
