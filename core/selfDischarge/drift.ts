import { median } from 'simple-statistics';
import type { Chemistry } from '../chemistry/chemistries';
import { chemistries } from '../chemistry/chemistries';
import type { Quantity } from '../quantity/quantity';
import { type Population, populationOf } from '../statistics/population';
import { normalQuantile } from '../statistics/distributions';
import { curveOfMake, openCircuitOf, type OpenCircuitCurve } from '../chemistry/openCircuit';
import { fitLine } from '../statistics/line';

/** The voltages of a cell or pack that was put to rest, a cell or group each. */
export interface SelfDischargeSubject {
  id: string;
  /** Each with its standard uncertainty against the others of the same subject, V, above 0. */
  readings: readonly { atS: number; voltageV: number; u: number }[];
  /** When it was charged last, on the same clock; null or left out: not known. */
  chargedAtS?: number | null;
  /** Its open-circuit curve; left out: that of its chemistry. */
  curve?: OpenCircuitCurve | null;
}

/** What a self-discharge test is compared with. */
export interface SelfDischargeLimits {
  /** A healthy lithium cell falls by up to this much near full, V per day; elsewhere the same charge counts. */
  lithiumVPerDay: number;
  /** Out of the population is what falls by more than this many deviations beyond its median. */
  oddBeyond: number;
}

/** Why a self-discharge test says what it says. */
export type SelfDischargeWhy =
  /** Fewer than two readings, or less than a day between them. */
  | { code: 'too-short'; days: number }
  /** It is higher than before: it was not settled, or not as warm. */
  | { code: 'rose'; voltsPerDay: number }
  | { code: 'out-of-crowd'; lowestVPerDay: number }
  | { code: 'falls-fast'; limitVPerDay: number }
  | { code: 'within-limit'; limitVPerDay: number }
  | { code: 'with-crowd'; lowestVPerDay: number }
  /** Its drift cannot be distinguished from the limit yet; after this many days it could. */
  | { code: 'not-yet'; limitVPerDay: number; days: number }
  /** Most of its batch fall by more than a healthy cell does: they have not settled, or the meter drifts. */
  | { code: 'settling'; limitVPerDay: number }
  /** Its voltage lies where the curve is so flat that a leak does not show in any usual time. */
  | { code: 'flat'; voltageV: number }
  /** The voltage of this chemistry shows a leak only against others, and there are too few. */
  | { code: 'no-crowd'; least: number };

export interface SelfDischargeResult {
  id: string;
  /** V per day, negative where it falls; null where it is not known. */
  drift: Quantity | null;
  /** It falls faster than the others of its batch. */
  outlier: boolean;
  verdict: 'holds' | 'leaks' | 'cannot-tell';
  why: SelfDischargeWhy;
}

const dayS = 86_400;
const leastDays = 1;
/** Fewer make no population. */
const leastPopulation = 5;
const ninetyFive = normalQuantile(0.975);

/** No test is planned for longer, days. */
export const mostDays = 60;
/** Where a healthy cell falls by less than this fraction of what it does near full, the curve is flat. */
const flatBelow = 0.5;
/**
 * A lithium cell settles for this time after a charge, s; a minute after it this much is still to come (standard), V.
 */
const [settlesS, settlesV] = [dayS, 0.015];

/** How much of the settling is still to come (standard), V: it goes with the logarithm of the time since the charge. */
const settlingU = (sinceS: number): number =>
  settlesV * Math.max(0, 1 - Math.log(1 + Math.max(0, sinceS) / 60) / Math.log(1 + settlesS / 60));

/**
 * The readings that show a drift: those after it has settled, where they are enough; else all, those before that with
 * what is still to come in their uncertainty. Settling from memory.
 */
function telling({ readings, chargedAtS = null }: SelfDischargeSubject): SelfDischargeSubject['readings'] {
  if (chargedAtS === null) return readings;
  const settled = readings.filter(({ atS }) => atS - chargedAtS >= settlesS);
  return daysOf(settled) >= leastDays
    ? settled
    : readings.map((one) => ({ ...one, u: Math.hypot(one.u, settlingU(one.atS - chargedAtS)) }));
}

/** The drift by these readings; null where they are too few or too near. */
function driftOf(readings: SelfDischargeSubject['readings']): Quantity | null {
  if (daysOf(readings) < leastDays) return null;
  const from = Math.min(...readings.map(({ atS }) => atS));
  return fitLine(readings.map(({ atS, voltageV, u }) => ({ x: (atS - from) / dayS, y: voltageV, u }))).slope;
}

/** What a healthy cell falls by there, V per day: less than `least` surely holds, more than `most` surely leaks. */
interface DriftLimit {
  least: number;
  most: number;
  isFlat: boolean;
}

/** The rule speaks of a cell near full: at this state of charge of the cylindrical table. */
const ruleSoc = 0.9;
const besideSoc = 0.02;
const slopeAt = (curve: OpenCircuitCurve, soc: number): number =>
  (curve.voltageAt(Math.min(1, soc + besideSoc)) - curve.voltageAt(Math.max(0, soc - besideSoc))) /
  (Math.min(1, soc + besideSoc) - Math.max(0, soc - besideSoc));

/** A make that is less likely than this does not change a verdict. Own rule. */
const leastProbability = 0.06;

/** Where on the curve a cell is, is known no better than the curve. */
function slopesAbout(curve: OpenCircuitCurve, voltageV: number): number[] {
  const socAt = (value: number): number => curve.socAt({ value, u: 0 }).value;
  const curveU = curve.uAt(socAt(voltageV));
  return [-curveU, 0, curveU].map((offV) => slopeAt(curve, socAt(voltageV + offV)));
}

/**
 * The limit as the charge that a healthy cell loses, through the curve where the subject lies: steep there, it falls
 * further.
 */
function limitAt(
  chemistry: Chemistry,
  lithiumVPerDay: number,
  voltageV: number,
  own: OpenCircuitCurve | null,
): DriftLimit | null {
  if (chemistry === 'alkaline' || chemistries[chemistry].family !== 'lithium') return null;
  const fractionPerDay = lithiumVPerDay / slopeAt(curveOfMake('mixed-oxide'), ruleSoc);
  const slopes = (own ?? openCircuitOf(chemistry)).options
    .filter(({ probability }) => probability >= leastProbability)
    .flatMap(({ curve }) => slopesAbout(curve, voltageV));
  const least = fractionPerDay * Math.min(...slopes);
  return { least, most: fractionPerDay * Math.max(...slopes), isFlat: least < flatBelow * lithiumVPerDay };
}

/** Where most drifts lie, in their own unit; null while too few are known. */
export const driftPopulation = (drifts: readonly Quantity[], oddBeyond: number): Population | null =>
  drifts.length < leastPopulation
    ? null
    : populationOf(
        drifts.map(({ value }) => value),
        oddBeyond,
        median(drifts.map(({ u }) => u)),
      );

function daysOf(readings: SelfDischargeSubject['readings']): number {
  const times = readings.map(({ atS }) => atS);
  return readings.length < 2 ? 0 : (Math.max(...times) - Math.min(...times)) / dayS;
}

/**
 * Judges a self-discharge test: how fast the voltage of each rested subject drifts, which are outliers, and who falls
 * faster than a healthy one does. Lithium is compared with a limit and with the others; of other chemistries, whose
 * voltage falls by itself, only the others show a leak. The limit is a charge: on a flat part of the curve it is few
 * volts. A batch that falls alike has not settled. Where more days would decide, the answer gives their number. Source:
 * common practice; the population as in `crowdOf`.
 *
 * @example holdTest([{ id: 'a', readings: [{ atS: 0, voltageV: 4.15, u: 0.0005 },
 * { atS: 604800, voltageV: 4.09, u: 0.0005 }] }], 'li-ion', { lithiumVPerDay: 0.0007, oddBeyond: 3.5 })
 * // verdict: leaks
 */
export function selfDischargeTest(
  subjects: readonly SelfDischargeSubject[],
  chemistry: Chemistry,
  { lithiumVPerDay, oddBeyond }: SelfDischargeLimits,
): SelfDischargeResult[] {
  const used = subjects.map(telling);
  const drifts = used.map(driftOf);
  const population = driftPopulation(
    drifts.filter((drift) => drift !== null),
    oddBeyond,
  );
  const known = drifts.filter((drift) => drift !== null);
  const usual = population ? median(known.map(({ value }) => value)) : null;

  return subjects.map(({ id, curve }, i) => {
    const readings = used[i] ?? [];
    const drift = drifts[i] ?? null;
    if (drift === null)
      return {
        id,
        drift,
        outlier: false,
        verdict: 'cannot-tell',
        why: { code: 'too-short', days: daysOf(readings) },
      };
    const outlier = population !== null && drift.value < population.low;
    const voltageV = median(readings.map((one) => one.voltageV));
    return {
      id,
      drift,
      outlier,
      ...judge(drift, {
        isOutlier: outlier,
        lowest: population?.low ?? null,
        usual,
        limit: limitAt(chemistry, lithiumVPerDay, voltageV, curve ?? null),
        days: daysOf(readings),
        voltageV,
      }),
    };
  });
}

interface Judging {
  isOutlier: boolean;
  /** Where the population ends, V per day; null: there is no population. */
  lowest: number | null;
  /** What most of the population fall by, V per day. */
  usual: number | null;
  limit: DriftLimit | null;
  days: number;
  voltageV: number;
}

function judge(
  { value, u }: Quantity,
  { isOutlier, lowest, usual, limit, days, voltageV }: Judging,
): Pick<SelfDischargeResult, 'verdict' | 'why'> {
  const [low, high] = [value - ninetyFive * u, value + ninetyFive * u];
  if (isOutlier && lowest !== null) return { verdict: 'leaks', why: { code: 'out-of-crowd', lowestVPerDay: lowest } };
  if (limit === null)
    return lowest === null
      ? { verdict: 'cannot-tell', why: { code: 'no-crowd', least: leastPopulation } }
      : { verdict: 'holds', why: { code: 'with-crowd', lowestVPerDay: lowest } };
  const limitVPerDay = limit.most;
  if (low > limit.most) return { verdict: 'cannot-tell', why: { code: 'rose', voltsPerDay: value } };
  if (high < -limit.most)
    return usual !== null && usual < -limit.most
      ? { verdict: 'cannot-tell', why: { code: 'settling', limitVPerDay } }
      : { verdict: 'leaks', why: { code: 'falls-fast', limitVPerDay } };
  if (low > -limit.least) return { verdict: 'holds', why: { code: 'within-limit', limitVPerDay } };
  // The uncertainty falls as the days grow; it must become less than the way to the limit, or at least half the limit.
  const way = Math.max(value < -limit.most ? -value - limit.most : value + limit.least, limit.least / 2);
  const needed = Math.ceil((days * ninetyFive * u) / way);
  if (needed > mostDays && limit.isFlat) return { verdict: 'cannot-tell', why: { code: 'flat', voltageV } };
  return { verdict: 'cannot-tell', why: { code: 'not-yet', limitVPerDay, days: Math.max(needed, days + 1) } };
}
