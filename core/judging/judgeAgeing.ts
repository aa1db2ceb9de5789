import { ageingTrend, type AgedRun, type Trend, turningPoints, underOneCondition } from '../capacity/ageing';
import { exact, type Quantity } from '../quantity/quantity';
import type { Warning } from '../warning';

/** Capacity that health is relative to: measured when new, rated, or of the first run where neither is known. */
export interface AsNew {
  capacityAh: number;
  is: 'measured' | 'rated' | 'first';
  /** When it was new, s; undefined where not known. */
  atS?: number | undefined;
}

/** Price of a cycle over the whole service, with its 95 % interval; the low end is 0 where service may never end. */
export interface CostPerCycle {
  value: number;
  from95: number;
  to95: number;
}

/** How a cell or pack ages. */
export interface Ageing {
  asNew: AsNew;
  /** The runs that compare: the largest set at one rate, temperature and end. */
  compared: AgedRun[];
  /** From the trend; without one, of the last run, without an uncertainty. */
  healthNow: Quantity;
  /** Null where the runs are too few. */
  overCycles: Trend | null;
  overTime: Trend | null;
  /** Price of a cycle over those done; null where unknown. */
  costSoFar: number | null;
  costUntilEnd: CostPerCycle | null;
  warnings: Warning[];
}

/** Further beyond what was seen than this share of it, a trend is a guess. */
const farBeyond = 1;
/** Over time a trend shows after a week: what differs sooner is the bench. From memory. */
const leastSpanS = 7 * 86_400;
/** The health at which it leaves service. */
const leavesService = Math.min(...turningPoints);

/**
 * How a cell or pack ages, where it crosses 80 and 70 %, and what a cycle costs.
 *
 * @param runs those that ended at the cut-off, the oldest first; one at least
 * @param asNew what it held when new; null where not known, then the first run is taken instead
 * @param price in the workshop's own money; null where unknown
 */
export function judgeAgeing(runs: readonly AgedRun[], asNew: AsNew | null, price: number | null): Ageing {
  const compared = underOneCondition(runs);
  const against = asNew ?? { capacityAh: compared[0]?.capacityAh ?? NaN, is: 'first' };
  const asNewAh = against.capacityAh;
  const overCycles = ageingTrend(compared, ({ cycle }) => cycle, { asNewAh, origin: 0 });
  const overTime = ageingTrend(compared, ({ atS }) => atS, { asNewAh, origin: against.atS, leastSpan: leastSpanS });
  const trend = overCycles ?? overTime;
  const cycles = Math.max(0, ...runs.map(({ cycle }) => cycle ?? 0));
  const end = overCycles?.crossings.find(({ health }) => health === leavesService);
  return {
    asNew: against,
    compared,
    healthNow: trend?.healthNow ?? exact((compared.at(-1)?.capacityAh ?? NaN) / against.capacityAh),
    overCycles,
    overTime,
    costSoFar: price !== null && cycles > 0 ? price / cycles : null,
    costUntilEnd:
      price !== null && end && end.from95 > 0
        ? { value: price / end.at, from95: end.to95 === null ? 0 : price / end.to95, to95: price / end.from95 }
        : null,
    warnings: warningsOf(against, runs.length - compared.length, trend),
  };
}

function warningsOf({ is }: AsNew, otherRates: number, trend: Trend | null): Warning[] {
  const warnings: Warning[] = [];
  if (is === 'first') warnings.push({ code: 'first-run-taken-as-new' });
  if (otherRates > 0) warnings.push({ code: 'other-rates-left-out', count: otherRates });
  if (!trend) warnings.push({ code: 'no-trend' });
  else if (trend.crossings.length === 0) warnings.push({ code: 'no-fade-seen' });
  else if (trend.beyond > farBeyond) warnings.push({ code: 'far-beyond-seen', times: trend.beyond });
  return warnings;
}

/** A run time a person noted: for how long it served. */
export interface ServedFor {
  at: Date;
  durationS: number;
}

/** How run times that were noted compare with each other, and to the capacity that was measured. */
export interface RunTimes {
  first: ServedFor;
  last: ServedFor;
  /** Of the first, what is left. */
  share: number;
  /** It fell by more than the capacity did over the same days: sag or another use, not charge. */
  beyondCapacity: boolean;
}

/** What run times may differ by from one use to the next, a share. */
const useDiffers = 0.1;

/** Null with fewer than two. */
export function judgeRunTimes(noted: readonly ServedFor[], overTime: Trend | null): RunTimes | null {
  const [first, last] = [noted[0], noted.at(-1)];
  if (!first || !last || first === last) return null;
  const fraction = last.durationS / first.durationS;
  const healthAt = (at: Date): number | undefined =>
    overTime?.course.reduce((nearest, one) =>
      Math.abs(one.at - at.getTime() / 1000) < Math.abs(nearest.at - at.getTime() / 1000) ? one : nearest,
    ).health;
  const [before, after] = [healthAt(first.at), healthAt(last.at)];
  const kept = before !== undefined && after !== undefined ? after / before : null;
  return { first, last, share: fraction, beyondCapacity: kept !== null && fraction < kept - useDiffers };
}
