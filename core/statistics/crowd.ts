import { median, medianAbsoluteDeviation } from 'simple-statistics';

/** Fewer values than this tell nothing about a crowd. */
const leastCrowd = 5;

/** MAD of a normal distribution is 0.6745 of its standard deviation. */
const normalMad = 0.6745;

export interface Crowd {
  median: number;
  /** Robust standard deviation: MAD / 0.6745, never below `floor`. */
  spread: number;
  low: number;
  high: number;
}

/**
 * The crowd of a batch by median and median absolute deviation, and the limits beyond which a value is odd:
 * median ± k · MAD / 0.6745. Null while fewer than five values are known.
 * Source: Iglewicz and Hoaglin, How to Detect and Handle Outliers (1993), who use k = 3.5.
 *
 * @param floor least spread assumed, e.g. the resolution of the readings, so that equal values do not condemn a neighbour
 */
export function crowdOf(values: readonly number[], k: number, floor: number): Crowd | null {
  if (values.length < leastCrowd) return null;
  const centre = median([...values]);
  const spread = Math.max(floor, medianAbsoluteDeviation([...values]) / normalMad);
  return { median: centre, spread, low: centre - k * spread, high: centre + k * spread };
}

export const isOdd = (value: number, crowd: Crowd | null): boolean => crowd !== null && (value < crowd.low || value > crowd.high);
