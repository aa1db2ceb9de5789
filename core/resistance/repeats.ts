import { sampleStandardDeviation } from 'simple-statistics';
import { coverage95 } from '../statistics/distributions';

/** Two single readings differ by more than 2.8 standard deviations in one of twenty cases (ISO 5725, from memory). */
const repeatabilityFactor = 2.8;
/** A contact may always differ by so much. */
const leastShare = 0.03;

/** So many presses of one cell teach how much its figure varies. */
const leastPresses = 4;

/**
 * What pressing again has taught of the noise of one reading, one standard uncertainty: the deviation of the presses
 * with Student's factor for so few; null while they are too few.
 * @worked 28.1, 28.4, 28.2, 28.3 and 28.2 mΩ: `taughtNoise([28.1, 28.4, 28.2, 28.3, 28.2])` mΩ
 */
export function taughtNoise(values: readonly number[]): number | null {
  if (values.length < leastPresses) return null;
  return (sampleStandardDeviation([...values]) * coverage95(values.length - 1)) / coverage95(Infinity);
}

export interface Repeats {
  /** Largest less smallest. */
  range: number;
  /** What pressing again may differ by. */
  limit: number;
  differ: boolean;
}

/**
 * Whether readings of one cell in one round differ by more than pressing again should: a figure that changes is a
 * contact, not a cell. Null for a single reading.
 *
 * @param randomU standard uncertainty of one reading from what varies between readings
 * @worked 28.1 and 31.9 mΩ, noise of 0.2 mΩ: `repeatsOf([28.1, 31.9], 0.2)?.differ ? 'a contact' : 'they agree'`
 */
export function repeatsOf(values: readonly number[], randomU: number): Repeats | null {
  if (values.length < 2) return null;
  const range = Math.max(...values) - Math.min(...values);
  const middle = values.reduce((sum, value) => sum + value, 0) / values.length;
  const limit = Math.max(repeatabilityFactor * randomU, leastShare * Math.abs(middle));
  return { range, limit, differ: range > limit };
}
