import type { Quantity } from '@/core/quantity/quantity';
import { type Chance, seededChance } from '@/core/statistics/random';
import { median } from 'simple-statistics';

/** One simulated case: what was said, and what is true. Null where the application gives none. */
export interface TrueCase {
  told: Quantity | null;
  truth: number;
}

/** A population of cases, made in one way, and the figures that are given of each. */
export interface Population {
  /** How the cases are made, in one line. */
  made: string;
  figures: readonly string[];
  /** One case: of each figure in turn. */
  draw(chance: Chance): TrueCase[];
}

export interface Coverage {
  figure: string;
  made: string;
  cases: number;
  /** Fraction of cases with the figure. */
  told: number;
  /** Fraction of these whose value ± 1.96 u holds the truth. */
  held: number;
  /** Median of (value − truth)/truth; NaN where the truth is 0. */
  bias: number;
  /** Median of |value − truth|/u. */
  errorOverU: number;
  /** Median of u/truth. */
  relativeU: number;
}

const fraction = (count: number, of: number): number => (of === 0 ? NaN : count / of);
const medianOf = (values: number[]): number =>
  values.length === 0 || values.some(Number.isNaN) ? NaN : median(values);

/** Draws this many cases with a seed and compares the results with the truth. */
export function coverageOf({ made, figures, draw }: Population, cases: number, seed: number): Coverage[] {
  const chance = seededChance(seed);
  const drawn = Array.from({ length: cases }, () => draw(chance));
  return figures.map((figure, i): Coverage => {
    const estimates = drawn.flatMap((one) => {
      const { told: said, truth } = one[i] as TrueCase;
      return said ? [{ ...said, truth }] : [];
    });
    return {
      figure,
      made,
      cases,
      told: fraction(estimates.length, cases),
      held: fraction(
        estimates.filter(({ value, u, truth }) => Math.abs(value - truth) <= 1.959964 * u).length,
        estimates.length,
      ),
      bias: medianOf(estimates.map(({ value, truth }) => (truth === 0 ? NaN : (value - truth) / truth))),
      errorOverU: medianOf(estimates.map(({ value, u, truth }) => Math.abs(value - truth) / u)),
      relativeU: medianOf(estimates.map(({ u, truth }) => (truth === 0 ? NaN : u / Math.abs(truth)))),
    };
  });
}

/** An interval as a value and the uncertainty that makes ± 1.96 of it. */
export const interval = (low: number, high: number): Quantity => ({
  value: (low + high) / 2,
  u: (high - low) / 2 / 1.959964,
});
