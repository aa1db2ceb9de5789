import { mean, median, sampleCorrelation, sampleStandardDeviation } from 'simple-statistics';
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
  /** Where nineteen of twenty further differences lie. */
  low: number;
  high: number;
  /** Half width of the 95 % interval of either limit. */
  limitU: number;
  /** Median of second over first, and where nineteen of twenty further ratios lie. */
  ratio: number;
  ratioLow: number;
  ratioHigh: number;
  /** The differences grow or shrink with the size of what is measured: then the limits are those of the ratio. */
  growing: boolean;
}

/** Share of the differences' variance that their size must explain to say that they grow with it. */
const growingFraction = 0.5;

/** Fewer cells measured both ways than this say nothing about two methods. */
export const leastPairs = 8;

/**
 * How far two methods agree on the same cells: the mean difference and the limits within which nineteen of twenty lie.
 * Null while fewer than `leastPairs` were measured both ways. The paper takes ± 2 standard deviations for many
 * subjects; for few, the prediction interval of one further difference makes "nineteen of twenty" true: t(n − 1) · s ·
 * √(1 + 1/n). The limits of the ratio are the same of the logarithms, as the paper advises where differences grow with
 * the size. Source: Bland and Altman, Statistical methods for assessing agreement, Lancet 1986; i: 307.
 */
export function agreementOf(pairs: readonly Pair[]): Agreement | null {
  const count = pairs.length;
  if (count < leastPairs) return null;
  const differences = pairs.map(({ first, second }) => first - second);
  const bias = differences.reduce((sum, value) => sum + value, 0) / count;
  const deviation = Math.sqrt(differences.reduce((sum, value) => sum + (value - bias) ** 2, 0) / (count - 1));
  const factor = coverage95(count - 1) * Math.sqrt(1 + 1 / count);
  const logs = pairs.map(({ first, second }) => Math.log(second / first));
  const [logRatio, logDeviation] = [mean(logs), sampleStandardDeviation(logs)];
  return {
    count,
    bias: { value: bias, u: deviation / Math.sqrt(count) },
    spread: deviation,
    low: bias - factor * deviation,
    high: bias + factor * deviation,
    limitU: coverage95(count - 1) * deviation * Math.sqrt(3 / count),
    growing: growsWith(
      pairs.map(({ first, second }) => (first + second) / 2),
      differences,
    ),
    ratio: median(pairs.map(({ first, second }) => second / first)),
    ratioLow: Math.exp(logRatio - factor * logDeviation),
    ratioHigh: Math.exp(logRatio + factor * logDeviation),
  };
}

function growsWith(means: readonly number[], differences: readonly number[]): boolean {
  const deviations = Math.max(...means) > Math.min(...means) && Math.max(...differences) > Math.min(...differences);
  return deviations && sampleCorrelation([...means], [...differences]) ** 2 > growingFraction;
}

/** Whether a cell is outside the limits for these two methods. */
export function isApart({ first, second }: Pair, { growing, low, high, ratioLow, ratioHigh }: Agreement): boolean {
  const [value, least, most] = growing ? [second / first, ratioLow, ratioHigh] : [first - second, low, high];
  return value < least || value > most;
}
