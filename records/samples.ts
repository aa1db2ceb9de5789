import { thinned } from '@/core/capacity/curve';
import type { Sample } from '@/core/capacity/logReader';
import type { Queryable } from './database';

interface Block {
  timeS: number[];
  voltageV: number[];
  currentA: (number | null)[] | null;
  temperatureC: (number | null)[] | null;
  /** An array a group. */
  groupsV: number[][] | null;
}

/** As JSON arrays are read many times quicker than as the database writes its own. */
const blockColumns = `to_json(time_s) as "timeS", to_json(voltage_v) as "voltageV", to_json(current_a) as "currentA",
  to_json(temperature_c) as "temperatureC", to_json(groups_v) as "groupsV"`;

function samplesOf({ timeS, voltageV, currentA, temperatureC, groupsV }: Block): Sample[] {
  return timeS.map((atS, i) => ({
    timeS: atS,
    voltageV: voltageV[i] as number,
    currentA: currentA?.[i] ?? null,
    temperatureC: temperatureC?.[i] ?? null,
    groupsV: groupsV && groupsV.map((ofGroup) => ofGroup[i] as number),
  }));
}

/** So many blocks at a time. */
const portion = 10;

/** The samples under a layout in order, some thousands at a time. */
export async function* samplePortions(db: Queryable, layoutId: number): AsyncGenerator<Sample[]> {
  for (let from = 0; ; from += portion) {
    const { rows: blocks } = await db.query<Block>(
      `select ${blockColumns} from sample_block where layout_id = $1 and seq >= $2 and seq < $3 order by seq`,
      [layoutId, from, from + portion],
    );
    for (const block of blocks) yield samplesOf(block);
    if (blocks.length < portion) return;
  }
}

/** Hands over the samples under a layout in order. */
export async function eachSample(db: Queryable, layoutId: number, visit: (sample: Sample) => void): Promise<void> {
  for await (const samples of samplePortions(db, layoutId)) samples.forEach(visit);
}

/** A stretch of a log, seconds from its start. */
export interface Stretch {
  fromS: number;
  toS: number;
}

/** Up to so many blocks are read whole; of more their extremes are plenty. */
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
  const { rows: blocks } = await db.query<{ seq: number; extremes: Sample[] }>(
    `select seq, extremes from sample_block where layout_id = $1 and to_s >= $2 and from_s <= $3 order by seq`,
    [layoutId, fromS, toS],
  );
  const [first, last] = [blocks[0]?.seq ?? 0, blocks.at(-1)?.seq ?? -1];
  const whole = async (): Promise<Sample[]> => {
    const { rows } = await db.query<Block>(
      `select ${blockColumns} from sample_block where layout_id = $1 and seq between $2 and $3 order by seq`,
      [layoutId, first, last],
    );
    return rows.flatMap(samplesOf);
  };
  const samples = blocks.length > mostWhole ? blocks.flatMap(({ extremes }) => extremes) : await whole();
  const begin = samples.findLastIndex(({ timeS }) => timeS <= fromS);
  const end = samples.findIndex(({ timeS }) => timeS >= toS);
  return thinned(samples.slice(Math.max(0, begin), end < 0 ? undefined : end + 1), stretches);
}
