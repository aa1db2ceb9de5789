import { median } from 'simple-statistics';
import type { Chemistry } from '../chemistry/chemistries';
import { chemistries } from '../chemistry/chemistries';
import type { Quantity } from '../quantity/quantity';
import { type Crowd, crowdOf } from '../statistics/crowd';
import { normalQuantile } from '../statistics/distributions';
import { fitLine } from '../statistics/line';

/** The voltages of a cell or pack that was put to rest, a cell or group each. */
export interface HoldSubject {
  id: string;
  /** Each with its standard uncertainty against the others of the same subject, V, above 0. */
  readings: readonly { atS: number; voltageV: number; u: number }[];
}

/** What a hold test is held against. */
export interface HoldLimits {
  /** A healthy lithium cell falls by up to so much, V per day. */
  lithiumVPerDay: number;
  /** Out of the crowd is what falls by more than so many deviations beyond its middle. */
  oddBeyond: number;
}

/** Why a hold test says what it says. */
export type HoldWhy =
  /** Fewer than two readings, or less than a day between them. */
  | { code: 'too-short'; days: number }
  /** It stands higher than before: it was not settled, or not as warm. */
  | { code: 'rose'; voltsPerDay: number }
  | { code: 'out-of-crowd'; lowestVPerDay: number }
  | { code: 'falls-fast'; limitVPerDay: number }
  | { code: 'within-limit'; limitVPerDay: number }
  | { code: 'with-crowd'; lowestVPerDay: number }
  /** Its drift cannot be told from the limit yet; after so many days it could. */
  | { code: 'not-yet'; limitVPerDay: number; days: number }
  /** The voltage of this chemistry tells a leak only against others, and there are too few. */
  | { code: 'no-crowd'; least: number };

export interface HoldResult {
  id: string;
  /** V per day, negative where it falls; null where it cannot be told. */
  drift: Quantity | null;
  /** It falls faster than the others of its batch. */
  outlier: boolean;
  verdict: 'holds' | 'leaks' | 'cannot-tell';
  why: HoldWhy;
}

const dayS = 86_400;
const leastDays = 1;
/** Of fewer no crowd is told. */
const leastCrowd = 5;
const ninetyFive = normalQuantile(0.975);

/** The drift of one subject; null where readings are too few or too near. */
function driftOf({ readings }: HoldSubject): Quantity | null {
  if (daysOf(readings) < leastDays) return null;
  const from = Math.min(...readings.map(({ atS }) => atS));
  return fitLine(readings.map(({ atS, voltageV, u }) => ({ x: (atS - from) / dayS, y: voltageV, u }))).slope;
}

/** Where most drifts lie, in their own unit; null while too few are known. */
export const crowdOfDrifts = (drifts: readonly Quantity[], oddBeyond: number): Crowd | null =>
  drifts.length < leastCrowd
    ? null
    : crowdOf(
        drifts.map(({ value }) => value),
        oddBeyond,
        median(drifts.map(({ u }) => u)),
      );

function daysOf(readings: HoldSubject['readings']): number {
  const times = readings.map(({ atS }) => atS);
  return readings.length < 2 ? 0 : (Math.max(...times) - Math.min(...times)) / dayS;
}

/**
 * Judges a hold test: how fast the voltage of each rested subject drifts, who falls out of the crowd, and who falls
 * faster than a healthy one does. Lithium is held against a limit and against the others; of other chemistries, whose
 * voltage falls by itself, only the others tell. What cannot be told from the limit yet is said, with the days that it
 * takes. Source: common practice; the crowd as in `crowdOf`.
 *
 * @example holdTest([{ id: 'a', readings: [{ atS: 0, voltageV: 4.15, u: 0.0005 },
 * { atS: 604800, voltageV: 4.09, u: 0.0005 }] }], 'li-ion', { lithiumVPerDay: 0.0007, oddBeyond: 3.5 })
 * // verdict: leaks
 */
export function holdTest(
  subjects: readonly HoldSubject[],
  chemistry: Chemistry,
  { lithiumVPerDay, oddBeyond }: HoldLimits,
): HoldResult[] {
  const drifts = subjects.map(driftOf);
  const crowd = crowdOfDrifts(
    drifts.filter((drift) => drift !== null),
    oddBeyond,
  );
  const limit = chemistries[chemistry].family === 'lithium' ? lithiumVPerDay : null;

  return subjects.map(({ id, readings }, i) => {
    const drift = drifts[i] ?? null;
    if (drift === null)
      return {
        id,
        drift,
        outlier: false,
        verdict: 'cannot-tell',
        why: { code: 'too-short', days: daysOf(readings) },
      };
    const outlier = crowd !== null && drift.value < crowd.low;
    return { id, drift, outlier, ...judge(drift, outlier, limit, crowd?.low ?? null, daysOf(readings)) };
  });
}

function judge(
  { value, u }: Quantity,
  outlier: boolean,
  limit: number | null,
  lowest: number | null,
  days: number,
): Pick<HoldResult, 'verdict' | 'why'> {
  const [low, high] = [value - ninetyFive * u, value + ninetyFive * u];
  if (outlier && lowest !== null) return { verdict: 'leaks', why: { code: 'out-of-crowd', lowestVPerDay: lowest } };
  if (limit === null)
    return lowest === null
      ? { verdict: 'cannot-tell', why: { code: 'no-crowd', least: leastCrowd } }
      : { verdict: 'holds', why: { code: 'with-crowd', lowestVPerDay: lowest } };
  if (low > limit) return { verdict: 'cannot-tell', why: { code: 'rose', voltsPerDay: value } };
  if (high < -limit) return { verdict: 'leaks', why: { code: 'falls-fast', limitVPerDay: limit } };
  if (low > -limit) return { verdict: 'holds', why: { code: 'within-limit', limitVPerDay: limit } };
  // The doubt falls as the days grow; it must become less than the way to the limit, or at least half the limit.
  const way = Math.max(Math.abs(value + limit), limit / 2);
  const needed = Math.ceil((days * ninetyFive * u) / way);
  return { verdict: 'cannot-tell', why: { code: 'not-yet', limitVPerDay: limit, days: Math.max(needed, days + 1) } };
}
