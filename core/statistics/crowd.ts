import { median, medianAbsoluteDeviation } from 'simple-statistics';

/** From so many values on, median and MAD describe a crowd. */
const leastCrowd = 5;
/** Fewer than this tell nothing at all. */
const leastFew = 3;
/** Among three or four, one that is this many times the middle is odd. Common practice: 22 among 6, 6 and 8 is on its way out. */
const fewTimes = 1.75;

/** MAD of a normal distribution is 0.6745 of its standard deviation. */
const normalMad = 0.6745;

export interface Crowd {
  median: number;
  /** Robust standard deviation: MAD / 0.6745, never below `floor`. */
  spread: number;
  low: number;
  high: number;
  /** Which rule set the limits: the spread of a crowd, or the ratio to the middle of a few. */
  rule: 'spread' | 'ratio';
}

/**
 * The crowd of a batch and the limits beyond which a value is odd. From five values on: median ± k · MAD / 0.6745; of three
 * or four, the middle divided and multiplied by 1.75. Null for fewer. Values must be above zero.
 * Source: Iglewicz and Hoaglin, How to Detect and Handle Outliers (1993), who use k = 3.5; common practice for the few.
 *
 * @param floor least spread assumed, e.g. the resolution of the readings, so that equal values do not condemn a neighbour
 */
export function crowdOf(values: readonly number[], k: number, floor: number): Crowd | null {
  if (values.length < leastFew) return null;
  const centre = median([...values]);
  const spread = Math.max(floor, medianAbsoluteDeviation([...values]) / normalMad);
  if (values.length < leastCrowd) return { median: centre, spread, low: centre / fewTimes, high: centre * fewTimes, rule: 'ratio' };
  return { median: centre, spread, low: centre - k * spread, high: centre + k * spread, rule: 'spread' };
}

export const isOdd = (value: number, crowd: Crowd | null): boolean => crowd !== null && (value < crowd.low || value > crowd.high);

/** The rule in words, for the screen that applies it. */
export const oddRuleText = (crowd: Crowd | null, k: number): string => {
  if (!crowd) return 'Odd ones show once three cells are read.';
  return crowd.rule === 'ratio'
    ? `So few cells: odd is what lies beyond ${fewTimes} times the middle, either way. From five on the spread of the batch decides.`
    : `Odd is what lies more than ${k} robust deviations (median absolute deviation / 0.6745) from the middle: one bad cell cannot drag these limits along.`;
};
