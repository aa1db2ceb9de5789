import type { Quantity } from '@/core/quantity/quantity';
import { type Chance, seededChance } from '@/core/statistics/random';
import { median } from 'simple-statistics';

/** One simulated case: what was said, and what is true. Null where the house did not tell. */
export interface TrueCase {
  told: Quantity | null;
  truth: number;
}

/** A population of cases of one figure. */
export interface Population {
  figure: string;
  /** How the cases were made, in one line. */
  made: string;
  /** Where limits are uniform and one of them rules, more than 97 of 100 may hold the truth. */
  limitRules?: boolean;
  draw(chance: Chance): TrueCase;
}

export interface Coverage {
  figure: string;
  made: string;
  cases: number;
  /** Share of cases that the house told. */
  told: number;
  /** Share of the told ones whose value ± 1.96 u holds the truth. */
  held: number;
  /** Median of (value − truth)/truth. */
  bias: number;
  /** Median of |value − truth|/u. */
  errorOverU: number;
  /** Median of u/truth. */
  relativeU: number;
  limitRules: boolean;
}

export function coverageOf({ figure, made, limitRules = false, draw }: Population, cases: number, seed: number): Coverage {
  const chance = seededChance(seed);
  const drawn = Array.from({ length: cases }, () => draw(chance));
  const told = drawn.flatMap(({ told: said, truth }) => (said ? [{ ...said, truth }] : []));
  const share = (count: number, of: number): number => (of === 0 ? NaN : count / of);
  const middle = (values: number[]): number => (values.length === 0 ? NaN : median(values));
  return {
    figure,
    made,
    cases,
    told: share(told.length, cases),
    held: share(told.filter(({ value, u, truth }) => Math.abs(value - truth) <= 1.959964 * u).length, told.length),
    bias: middle(told.map(({ value, truth }) => (value - truth) / truth)),
    errorOverU: middle(told.map(({ value, u, truth }) => Math.abs(value - truth) / u)),
    relativeU: middle(told.map(({ u, truth }) => u / truth)),
    limitRules,
  };
}
