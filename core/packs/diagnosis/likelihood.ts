import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import { type Factor, factorOf, lastGiven, logStudent, type Student } from '../../statistics/gaussian';
import type { Unknowns } from './faults';
import type { RoundMedian } from './roundMedians';

/** Alike cells differ by this much (standard): in capacity, resistance, leak, own voltage. From memory. */
const alike = { capacity: 0.022, resistance: 0.09, leakPerH: 1e-5, misreadV: 0.0045 };
/** What the curve makes of a difference is right to this share. */
const curveFraction = 0.12;
const degrees = 5;

/** Where the groups were equal, as state of charge, and from when a leak is counted, h. */
type Start = Pick<RoundMedian, 'soc' | 'hours'>;

/**
 * Where the groups of a pack were equal: a balancing charger makes them so when they are full, whatever was used since.
 * Of a pack that was never balanced only the first reading counts.
 */
const startOf = (first: RoundMedian, isKeptEven: boolean): Start => ({
  soc: isKeptEven ? 1 : first.soc,
  hours: first.hours,
});

/** Another instrument has channels of its own; what a tap adds shows with any. */
const isMisread = ({ misreadBy }: Unknowns, { meter }: RoundMedian): boolean =>
  misreadBy === null || misreadBy === meter;

/** State of charge of a group with such unknowns in a round; below 0 where it is more than empty. */
const socIn = ({ shift, capacity, leakPerH }: Unknowns, median: RoundMedian, start: Start): number =>
  start.soc + shift - (start.soc - median.soc) / capacity - leakPerH * (median.hours - start.hours);

/** Rested voltage at a charge; below empty it falls as steeply as at the end of its curve, V. */
const openAt = (soc: number, curve: OpenCircuitCurve): number =>
  soc < 0 ? curve.voltageAt(0) + soc * curve.slopeAt(0.005) : curve.voltageAt(Math.min(1, soc));

/** The slope of the curve is taken over this much charge. */
const slopeOver = 0.004;

/** What one look of a fault lets expect of the readings of any group. */
export interface Expected {
  /** Its distance from the median in each round, V. */
  apartV: Float64Array;
  factor: Factor;
}

/**
 * What a look lets expect beside this median of the groups: how far the group is from it, and how that
 * varies among alike groups.
 *
 * @param isKeptEven the groups were equal when they were full
 * @param alikeShift by how much the charges of sound groups differ (standard)
 */
export function expectedOf(
  unknowns: Unknowns,
  roundMedians: readonly RoundMedian[],
  curve: OpenCircuitCurve,
  { isKeptEven, alikeShift }: { isKeptEven: boolean; alikeShift: number },
): Expected {
  const { capacity, resistance, misreadV } = unknowns;
  const n = roundMedians.length;
  const start = startOf(roundMedians[0] as RoundMedian, isKeptEven);
  const apartV = new Float64Array(n);
  /** By how much a round moves with one standard deviation of each unknown, V, row by row. */
  const moves = new Float64Array(n * unknownsThatDiffer);
  for (let r = 0; r < n; r++) {
    const median = roundMedians[r] as RoundMedian;
    const soc = socIn(unknowns, median, start);
    const openV = openAt(soc, curve);
    const slope = (openAt(soc + slopeOver, curve) - openV) / slopeOver;
    const misread = isMisread(unknowns, median);
    apartV[r] = openV - median.openV - (resistance - 1) * median.jointV + (misread ? misreadV : 0);
    const at = r * unknownsThatDiffer;
    moves[at] = alikeShift * slope;
    moves[at + 1] = (alike.capacity * slope * (start.soc - median.soc)) / capacity ** 2;
    moves[at + 2] = alike.leakPerH * slope * (median.hours - start.hours);
    moves[at + 3] = alike.resistance * median.jointV;
    moves[at + 4] = misread ? alike.misreadV : 0;
  }
  const covariance = new Float64Array(n * n);
  for (let r = 0; r < n; r++)
    for (let c = 0; c <= r; c++) {
      let sum = r === c ? (roundMedians[r] as RoundMedian).u ** 2 + (curveFraction * (apartV[r] as number)) ** 2 : 0;
      for (let k = 0; k < unknownsThatDiffer; k++)
        sum += (moves[r * unknownsThatDiffer + k] as number) * (moves[c * unknownsThatDiffer + k] as number);
      covariance[r * n + c] = sum;
    }
  return { apartV, factor: factorOf(covariance, n) };
}

const unknownsThatDiffer = 5;

/** How likely readings are under what was expected, as a logarithm. */
export const logLikelihood = (apartV: readonly number[], { apartV: expectedV, factor }: Expected): number =>
  logStudent(apartV, factor, degrees, expectedV);

/** The newest of the readings that are expected, where the others came out so. */
export const newestGiven = (apartV: readonly number[], { apartV: expectedV, factor }: Expected): Student =>
  lastGiven(apartV, factor, degrees, expectedV);
