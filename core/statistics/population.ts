import { median, medianAbsoluteDeviation } from 'simple-statistics';
import { normalQuantile } from './distributions';

/** From this many values on, median and MAD describe a population. */
const leastPopulation = 5;
/** Fewer than this make no population. */
const leastFew = 3;
/**
 * Among three or four, one that is this many times the median is odd. Common practice: 22 among 6, 6 and 8 is on its
 * way out.
 */
export const fewTimes = 1.75;

/** MAD of a normal distribution is 0.6745 of its standard deviation. */
const normalMad = 0.6745;

/**
 * The k for which one of twenty populations of 5, 6, … 16 normal values without an odd one shows any. Simulated, 40 000
 * populations each.
 */
const smallFactors = [8.1, 5.56, 5.89, 4.86, 5.05, 4.57, 4.63, 4.37, 4.45, 4.23, 4.27, 4.14];
/** The k that these factors belong to. */
const usualFactor = 3.5;

/**
 * The factor by which one of twenty populations of that size shows an odd one where there is none; for larger
 * populations fitted to the same simulation.
 */
function alarmFactor(count: number): number {
  const known = smallFactors[count - leastPopulation];
  return known ?? normalQuantile(1 - 0.025 / count) * (1 + 7 / count);
}

export interface Population {
  median: number;
  /** Robust standard deviation: MAD / 0.6745, never below `floor`. */
  spread: number;
  low: number;
  high: number;
  /** Which rule set the limits: the deviation of a population, or the ratio to the median of a few. */
  rule: 'spread' | 'ratio';
  /** Robust deviations from the median to either limit; null under the rule of the ratio. */
  factor: number | null;
}

/**
 * The population of a batch and the limits beyond which a value is odd. From five values on: median ± factor · MAD /
 * 0.6745, the factor such that at k = 3.5 one of twenty populations of that size without an odd one alarms; other k
 * widen or narrow it in proportion. Of three or four, the median divided and multiplied by 1.75. Null for fewer. Values
 * must be above zero. Source: Iglewicz and Hoaglin, How to Detect and Handle Outliers (1993), who use k = 3.5; common
 * practice for the few.
 *
 * @param floor least deviation assumed, e.g. the resolution of the readings, so that equal values do not condemn a
 * neighbour
 */
export function populationOf(values: readonly number[], k: number, floor: number): Population | null {
  if (values.length < leastFew) return null;
  const centre = median([...values]);
  const seen = medianAbsoluteDeviation([...values]) / normalMad;
  const deviation = Math.max(floor, seen);
  if (values.length < leastPopulation)
    return {
      median: centre,
      spread: deviation,
      low: centre / fewTimes,
      high: centre * fewTimes,
      rule: 'ratio',
      factor: null,
    };
  const factor = (alarmFactor(values.length) * k) / usualFactor;
  // The floor is known and needs no allowance for a deviation from a few values.
  const half = Math.max(factor * seen, k * floor);
  return {
    median: centre,
    spread: deviation,
    low: centre - half,
    high: centre + half,
    rule: 'spread',
    factor: half / deviation,
  };
}

export const isOutlier = (value: number, population: Population | null): boolean =>
  population !== null && (value < population.low || value > population.high);
