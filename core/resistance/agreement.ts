import { median, sampleCorrelation } from 'simple-statistics';
import { coverage95 } from '../statistics/distributions';
import type { Quantity } from '../quantity/quantity';

export interface Pair {
  first: number;
  second: number;
}

export interface Agreement {
  count: number;
  /** Mean of first − second, with its standard error. */
  bias: Quantity;
  /** Standard deviation of the differences. */
  spread: number;
  /** Bias ± 2 standard deviations: where nineteen of twenty differences lie. */
  low: number;
  high: number;
  /** Half width of the 95 % interval of either limit. */
  limitDoubt: number;
  /** Median of second over first. */
  ratio: number;
  /** The differences grow or shrink with the size of what is measured: then the ratio tells more than the bias. */
  growing: boolean;
}

/** Share of the differences' variance that their size must explain to say that they grow with it. */
const growingShare = 0.5;

/** Fewer cells measured both ways than this say nothing about two methods. */
export const leastPairs = 8;

/**
 * How far two methods agree on the same cells: the mean difference and the limits within which nineteen of twenty lie.
 * Null while fewer than `leastPairs` were measured both ways.
 * Source: Bland and Altman, Statistical methods for assessing agreement, Lancet 1986; i: 307.
 */
export function agreementOf(pairs: readonly Pair[]): Agreement | null {
  const count = pairs.length;
  if (count < leastPairs) return null;
  const differences = pairs.map(({ first, second }) => first - second);
  const bias = differences.reduce((sum, value) => sum + value, 0) / count;
  const spread = Math.sqrt(differences.reduce((sum, value) => sum + (value - bias) ** 2, 0) / (count - 1));
  return {
    count,
    bias: { value: bias, u: spread / Math.sqrt(count) },
    spread,
    low: bias - 2 * spread,
    high: bias + 2 * spread,
    limitDoubt: coverage95(count - 1) * spread * Math.sqrt(3 / count),
    growing: growsWith(pairs.map(({ first, second }) => (first + second) / 2), differences),
    ratio: median(pairs.map(({ first, second }) => second / first)),
  };
}

function growsWith(means: readonly number[], differences: readonly number[]): boolean {
  const spreads = Math.max(...means) > Math.min(...means) && Math.max(...differences) > Math.min(...differences);
  return spreads && sampleCorrelation([...means], [...differences]) ** 2 > growingShare;
}
