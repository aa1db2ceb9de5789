import { chemistries } from '../chemistry/chemistries';
import { openCircuitOf, type Rechargeable } from '../chemistry/openCircuit';
import { positive } from '../impossibleInput';
import { runPlain } from '../simulation/plainRun';

/** What a pack is to do. */
export interface Job {
  chemistry: Rechargeable;
  /** How many may stand in series. */
  series: { from: number; to: number };
  /** All the time: one current, or one power at any number in series. */
  load: { currentA: number } | { powerW: number };
  /** For a few seconds, at any time; null: no more than all the time. */
  peakA: number | null;
  minutes: number;
  cutoffPerGroupV: number;
  /** A middling cell of those at hand, and how many there are. */
  cell: { capacityAh: number; resistanceOhm: number };
  atHand: number;
}

/** So many in series and in parallel, and what they give. */
export interface Shape {
  series: number;
  parallel: number;
  cells: number;
  nominalV: number;
  /** Full and resting, and at the cut-off. */
  fullV: number;
  emptyV: number;
  minutes: number;
  energyWh: number;
  /** Of the whole, ten seconds into the peak, V. */
  peakSagV: number;
  /** What its weakest group must hold for the job, a little more than this cell promises, Ah. */
  enoughAh: number;
  /** All the time, of each cell's capacity. */
  rateC: number;
  /** What it falls short of; null of one that does it with what is at hand. */
  short: 'minutes' | 'peak' | 'cells' | null;
}

/** A fifth is left as the peak comes: it comes late as well. Own rule. */
const peakSoc = 0.2;
const mostParallel = 100;
/** So much more than a middling cell promises is asked of a match. Own rule. */
const margin = 1.03;
/** For each number in series, of those that do it, so many beyond the smallest. */
const beyond = 1;

/**
 * The shapes that can do a job: for each number in series the fewest in parallel that carry the load for so long and
 * bear its peak, by a middling cell; the shape one smaller, and what it falls short of; and one larger. What runs
 * longest on fewest cells comes first. Source: own rule, by the simulation of a pack.
 *
 * @throws ImpossibleInput where a figure is not above zero
 */
export function shapesFor(job: Job): Shape[] {
  positive('minutes', job.minutes);
  positive('cutoffPerGroupV', job.cutoffPerGroupV);
  const shapes: Shape[] = [];
  for (let series = job.series.from; series <= job.series.to; series += 1) {
    const least = fewestParallel(job, series);
    for (let parallel = Math.max(1, least - 1); parallel <= Math.min(mostParallel, least + beyond); parallel += 1)
      shapes.push(shapeOf(job, series, parallel));
  }
  return shapes.sort((a, b) => Number(a.short !== null) - Number(b.short !== null) || a.cells - b.cells);
}

/** By halving: more in parallel carry longer. One beyond all where none do. */
function fewestParallel(job: Job, series: number): number {
  let [low, high] = [1, mostParallel + 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    const { short } = shapeOf(job, series, middle);
    if (short === 'minutes' || short === 'peak') low = middle + 1;
    else high = middle;
  }
  return low;
}

function shapeOf(job: Job, series: number, parallel: number): Shape {
  const { chemistry, cell, cutoffPerGroupV, atHand } = job;
  const { nominalV, fullV } = chemistries[chemistry];
  // Alike groups of alike cells behave as one cell under its part of the load.
  const load =
    'currentA' in job.load
      ? { currentA: job.load.currentA / parallel }
      : { powerW: job.load.powerW / series / parallel };
  const run = runPlain({ chemistry, curve: null, groups: [[{ ...cell, soc: 1 }]], load, cutoffPerGroupV });
  const peakA = job.peakA === null ? 0 : job.peakA / parallel;
  const peakV = openCircuitOf(chemistry).voltageAt(peakSoc) - peakA * cell.resistanceOhm;
  const cells = series * parallel;
  const minutes = run.runTimeS / 60;
  const short = (): Shape['short'] => {
    if (minutes < job.minutes) return 'minutes';
    if (peakV < cutoffPerGroupV) return 'peak';
    return cells > atHand ? 'cells' : null;
  };
  return {
    series,
    parallel,
    cells,
    nominalV: series * nominalV,
    fullV: series * fullV,
    emptyV: series * cutoffPerGroupV,
    minutes,
    energyWh: run.deliveredWh * cells,
    peakSagV:
      series * Math.max(peakA, run.deliveredAh > 0 ? (run.deliveredAh * 3600) / run.runTimeS : 0) * cell.resistanceOhm,
    enoughAh: (margin * parallel * cell.capacityAh * job.minutes) / Math.max(minutes, job.minutes / 100),
    rateC: run.runTimeS > 0 ? (run.deliveredAh * 3600) / run.runTimeS / cell.capacityAh : 0,
    short: short(),
  };
}
