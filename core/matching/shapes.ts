import { chemistries } from '../chemistry/chemistries';
import { coldTimes } from '../chemistry/cold';
import { givenOrUsual, type PlainCurve, type Rechargeable } from '../chemistry/openCircuit';
import { ImpossibleInput, positive } from '../impossibleInput';
import { runPlain } from '../simulation/plainRun';

/** What a pack is to do. */
export interface Job {
  chemistry: Rechargeable;
  /** How many may be in series; null: as many as the window allows. */
  series: { from: number; to: number } | null;
  /** Volts that what it drives bears, from empty to full; null: any. */
  windowV: { low: number; high: number } | null;
  /** All the time: one current, or one power at any number in series. */
  load: { currentA: number } | { powerW: number };
  /** For a few seconds, at any time; null: no more than all the time. */
  peakA: number | null;
  /** For this time, or until this energy is delivered, or both. */
  minutes: number | null;
  energyWh: number | null;
  cutoffPerGroupV: number;
  /** Where it is used; null: on the bench. */
  temperatureC: number | null;
  /** The cells' open-circuit curve; null: that of the chemistry. */
  curve: PlainCurve | null;
  /** A median cell of those at hand, and how many there are. */
  cell: { capacityAh: number; resistanceOhm: number };
  atHand: number;
  /** How many there is room for; null: not given. */
  room: number | null;
}

/** This many in series and in parallel, and what they give. */
export interface Shape {
  series: number;
  parallel: number;
  cells: number;
  nominalV: number;
  /** Full and resting, and at the cut-off. */
  fullV: number;
  emptyV: number;
  /** Where its first group ends, V: higher than the lowest where the window asks for it. */
  cutoffPerGroupV: number;
  minutes: number;
  energyWh: number;
  /** Of the whole, ten seconds into the peak, V. */
  peakSagV: number;
  /** What its weakest group must hold for the job, a little more than this cell promises, Ah. */
  enoughAh: number;
  /** All the time, of each cell's capacity. */
  rateC: number;
  /** What it falls short of; null of one that does it with what is at hand. */
  short: 'window' | 'minutes' | 'energy' | 'peak' | 'room' | 'cells' | null;
}

/** A fifth is left as the peak comes: it comes late as well. Own rule. */
const peakSoc = 0.2;
const mostParallel = 100;
/** A window of any width is looked through up to this many in series. */
const mostInSeries = 30;
/** A match needs this much more than a median cell promises. Own rule. */
const margin = 1.03;
/** For each number in series, of those that do it, this many beyond the smallest. */
const beyond = 1;

/**
 * The shapes that can do a job: for each number in series the fewest in parallel that carry the load for the time and
 * bear its peak, by a median cell; the shape one smaller, and what it falls short of; and one larger. What runs
 * longest on fewest cells comes first. Source: own rule, by the simulation of a pack.
 *
 * @throws ImpossibleInput where a figure is not above zero, where no number of these cells lies within the window, and
 * where neither a time nor an energy is given
 */
export function shapesFor(job: Job): Shape[] {
  if (job.minutes === null && job.energyWh === null) throw new ImpossibleInput('minutes', { code: 'no-amount' });
  for (const name of ['minutes', 'energyWh', 'cutoffPerGroupV'] as const)
    if (job[name] !== null) positive(name, job[name]);
  const shapes: Shape[] = [];
  for (const series of countsOf(job)) {
    const least = fewestParallel(job, series);
    for (let parallel = Math.max(1, least - 1); parallel <= Math.min(mostParallel, least + beyond); parallel += 1)
      shapes.push(shapeOf(job, series, parallel));
  }
  const isAny = shapes.some(({ short }) => short === null);
  const shown = shapes.filter(({ parallel }) => parallel < mostParallel || !isAny);
  return shown.sort((a, b) => Number(a.short !== null) - Number(b.short !== null) || a.cells - b.cells);
}

/** The numbers in series to be looked at: those asked for, else those that lie within the window. */
function countsOf({ series, windowV, chemistry }: Job): number[] {
  const { from, to } = series ?? { from: 1, to: mostInSeries };
  const all = Array.from({ length: to - from + 1 }, (_, i) => from + i);
  if (series !== null || windowV === null) return all;
  const within = all.filter((count) => isWithin(windowV, chemistry, count));
  if (within.length === 0) throw new ImpossibleInput('windowV', { code: 'no-count-within', ...windowV });
  return within;
}

/** Full it is not above the window, and at its nominal voltage not below it. */
function isWithin(windowV: NonNullable<Job['windowV']>, chemistry: Job['chemistry'], series: number): boolean {
  const { nominalV, fullV } = chemistries[chemistry];
  return series * fullV <= windowV.high + 1e-9 && series * nominalV >= windowV.low;
}

/** By halving: more in parallel carry longer. One beyond all where none do. */
function fewestParallel(job: Job, series: number): number {
  let [low, high] = [1, mostParallel + 1];
  while (low < high) {
    const mid = (low + high) >> 1;
    const { short } = shapeOf(job, series, mid);
    if (short === 'minutes' || short === 'energy' || short === 'peak') low = mid + 1;
    else high = mid;
  }
  return low;
}

function shapeOf(job: Job, series: number, parallel: number): Shape {
  const { chemistry, atHand, windowV, room, temperatureC } = job;
  const colder = temperatureC === null ? 1 : coldTimes(temperatureC);
  const cell = { ...job.cell, resistanceOhm: colder * job.cell.resistanceOhm };
  const cutoffPerGroupV = Math.max(job.cutoffPerGroupV, (windowV?.low ?? 0) / series);
  const { nominalV, fullV } = chemistries[chemistry];
  // Alike groups of alike cells behave as one cell under its part of the load.
  const load =
    'currentA' in job.load
      ? { currentA: job.load.currentA / parallel }
      : { powerW: job.load.powerW / series / parallel };
  const run = runPlain({ chemistry, curve: job.curve, groups: [[{ ...cell, soc: 1 }]], load, cutoffPerGroupV });
  const peakA = job.peakA === null ? 0 : job.peakA / parallel;
  const peakV = givenOrUsual(job.curve, chemistry).voltageAt(peakSoc) - peakA * cell.resistanceOhm;
  const cells = series * parallel;
  const minutes = run.runTimeS / 60;
  const energyWh = run.deliveredWh * cells;
  const short = (): Shape['short'] => {
    if (windowV !== null && !isWithin(windowV, chemistry, series)) return 'window';
    if (minutes < (job.minutes ?? 0)) return 'minutes';
    if (energyWh < (job.energyWh ?? 0)) return 'energy';
    if (peakV < cutoffPerGroupV) return 'peak';
    if (room !== null && cells > room) return 'room';
    return cells > atHand ? 'cells' : null;
  };
  /** The fraction of its energy that the job takes; at most 100. */
  const fraction = Math.min(100, Math.max((job.minutes ?? 0) / minutes, (job.energyWh ?? 0) / energyWh));
  return {
    series,
    parallel,
    cells,
    nominalV: series * nominalV,
    fullV: series * fullV,
    emptyV: series * cutoffPerGroupV,
    cutoffPerGroupV,
    minutes,
    energyWh,
    peakSagV:
      series * Math.max(peakA, run.deliveredAh > 0 ? (run.deliveredAh * 3600) / run.runTimeS : 0) * cell.resistanceOhm,
    enoughAh: margin * parallel * cell.capacityAh * fraction,
    rateC: run.runTimeS > 0 ? (run.deliveredAh * 3600) / run.runTimeS / cell.capacityAh : 0,
    short: short(),
  };
}
