import type { Chemistry } from '../chemistry/chemistries';
import { chemistries } from '../chemistry/chemistries';
import type { Quantity } from '../quantity/quantity';
import { fitLine } from '../statistics/line';

/** A capacity with the current it was drawn with. */
export interface RatedRun {
  atMs: number;
  capacityAh: number;
  u: number;
  currentA: number;
}

/** What a cell or pack gives at different rates. */
export interface RateDependence {
  /** The newest of each rate, the slowest first. */
  byRate: RatedRun[];
  /** Peukert's exponent of a lead-acid battery, 1 where the rate does not matter; null of others. */
  peukert: Quantity | null;
}

/** Rates within this share of each other are one. */
const oneRate = 0.25;

/**
 * How what it gives depends on the rate, of two rates or more; null of one. For lead-acid by Peukert's relation
 * I^k · t = constant, so that capacity falls as I^(1 − k). Source: W. Peukert 1897, from memory.
 */
export function rateDependence(runs: readonly RatedRun[], chemistry: Chemistry): RateDependence | null {
  const byRate: RatedRun[] = [];
  for (const run of runs.toSorted((one, other) => other.atMs - one.atMs))
    if (!byRate.some(({ currentA }) => Math.abs(Math.log(run.currentA / currentA)) < Math.log(1 + oneRate)))
      byRate.push(run);
  if (byRate.length < 2) return null;
  byRate.sort((one, other) => one.currentA - other.currentA);
  const isLead = chemistries[chemistry].family === 'lead';
  return { byRate, peukert: isLead ? peukertOf(byRate) : null };
}

function peukertOf(byRate: readonly RatedRun[]): Quantity {
  const { slope } = fitLine(
    byRate.map(({ currentA, capacityAh, u }) => ({
      x: Math.log(currentA),
      y: Math.log(capacityAh),
      u: Math.max(1e-4, u / capacityAh),
    })),
  );
  return { value: 1 - slope.value, u: slope.u };
}
