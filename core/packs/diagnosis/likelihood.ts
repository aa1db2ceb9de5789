import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import { type Factor, factorOf, lastGiven, logStudent, type Student } from '../../statistics/gaussian';
import type { Unknowns } from './faults';
import type { Middle } from './middles';

/** Alike cells differ by so much (standard): in capacity, resistance, leak, own voltage. From memory. */
const alike = { capacity: 0.022, resistance: 0.09, leakPerH: 1e-5, misreadV: 0.0045 };
/** What the curve makes of a difference is right to this share. */
const curveShare = 0.12;
const degrees = 5;

/** Where the groups were equal, as state of charge, and from when a leak is counted, h. */
export type Start = Pick<Middle, 'soc' | 'hours'>;

/**
 * Where the groups of a pack were equal: a balancing charger makes them so when they are full, whatever was used since.
 * Of a pack that was never balanced only the first reading tells.
 */
export const startOf = (first: Middle, isKeptEven: boolean): Start => ({
  soc: isKeptEven ? 1 : first.soc,
  hours: first.hours,
});

/** How far a group with such unknowns stands from the middle in a round, V. */
export function predicted(unknowns: Unknowns, middle: Middle, start: Start, curve: OpenCircuitCurve): number {
  const { shift, capacity, resistance, leakPerH, misreadBy } = unknowns;
  const misreadV = misreadBy === null || misreadBy === middle.meter ? unknowns.misreadV : 0;
  const given = start.soc - middle.soc;
  const soc = start.soc + shift - given / capacity - leakPerH * (middle.hours - start.hours);
  // Below empty it falls as steeply as at the end of its curve.
  const atSoc = Math.max(0, Math.min(1, soc));
  const beyond = soc < 0 ? soc * curve.slopeAt(0.005) : 0;
  const openV = curve.voltageAt(atSoc) + beyond - curve.voltageAt(middle.soc);
  return openV - (resistance - 1) * middle.jointV + misreadV;
}

const steps = { shift: 0.004, capacity: 0.01, resistance: 0.05, leakPerH: 5e-6, misreadV: 0.001 };
const names = Object.keys(steps) as (keyof typeof steps)[];

/** What one look of a fault lets expect of the readings of any group. */
export interface Expected {
  /** How far it stands from the middle in each round, V. */
  apartV: Float64Array;
  factor: Factor;
}

/**
 * What a look lets expect where the middle of the groups stood so.
 *
 * @param isKeptEven the groups were equal when they were full
 * @param alikeShift by how much the charges of sound groups differ (standard)
 */
export function expectedOf(
  unknowns: Unknowns,
  middles: readonly Middle[],
  curve: OpenCircuitCurve,
  { isKeptEven, alikeShift }: { isKeptEven: boolean; alikeShift: number },
): Expected {
  const differ = { ...alike, shift: alikeShift };
  const n = middles.length;
  const start = startOf(middles[0] as Middle, isKeptEven);
  const apartV = Float64Array.from(middles, (middle) => predicted(unknowns, middle, start, curve));
  const covariance = new Float64Array(n * n);
  middles.forEach(({ u }, r) => {
    covariance[r * n + r] = u ** 2 + (curveShare * (apartV[r] as number)) ** 2;
  });
  for (const name of names) {
    const moved = { ...unknowns, [name]: unknowns[name] + steps[name] };
    const slopes = middles.map(
      (middle, r) => (predicted(moved, middle, start, curve) - (apartV[r] as number)) / steps[name],
    );
    for (let r = 0; r < n; r++)
      for (let c = 0; c < n; c++)
        covariance[r * n + c] =
          (covariance[r * n + c] as number) + differ[name] ** 2 * (slopes[r] as number) * (slopes[c] as number);
  }
  return { apartV, factor: factorOf(covariance, n) };
}

/** How likely readings are under what was expected, as a logarithm. */
export const logLikelihood = (apartV: readonly number[], expected: Expected): number =>
  logStudent(
    Float64Array.from(apartV, (v, r) => v - (expected.apartV[r] as number)),
    expected.factor,
    degrees,
  );

/** The newest of the readings that are expected, where the others came out so. */
export function newestGiven(apartV: readonly number[], { apartV: expectedV, factor }: Expected): Student {
  const known = Float64Array.from(apartV, (v, r) => v - (expectedV[r] as number));
  const given = lastGiven(known, factor, degrees);
  return { ...given, centre: given.centre + (expectedV[apartV.length] as number) };
}
