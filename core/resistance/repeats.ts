import { mean, sampleStandardDeviation } from 'simple-statistics';
import { quadrature, type Quantity } from '../quantity/quantity';
import { coverage95 } from '../statistics/distributions';

/** Two single readings differ by more than 2.8 standard deviations in one of twenty cases (ISO 5725, from memory). */
const repeatabilityFactor = 2.8;
/** A contact may always differ by this much. */
const leastFraction = 0.03;

/** This many presses of one cell teach how much its figure varies. */
const leastPresses = 4;

/**
 * What pressing again has taught of the noise of one reading, one standard uncertainty: the deviation of the presses
 * with Student's factor for so few; null while they are too few.
 */
export function taughtNoise(values: readonly number[]): number | null {
  if (values.length < leastPresses) return null;
  return (sampleStandardDeviation([...values]) * coverage95(values.length - 1)) / coverage95(Infinity);
}

/** Contacts scatter by about this fraction (standard), which counts as this many repeats. From memory. */
const contactFraction = 0.009;
const believedAs = 3;

/**
 * The value of a cell by its repeats in one round: their mean. Its random part is pooled from the scatter of the
 * repeats and what contacts usually scatter by, and no less than the scatter alone; what the tools are off by stays.
 *
 * @param values one at least
 * @param one standard uncertainty of one reading, and the part of it that differs from repeat to repeat
 */
export function meanOfRepeats(values: readonly number[], one: { u: number; randomU: number }): Quantity {
  const n = values.length;
  const value = mean([...values]);
  const squares = values.reduce((sum, each) => sum + (each - value) ** 2, 0);
  const usual = quadrature(one.randomU, contactFraction * value);
  const pooled = Math.sqrt((believedAs * usual ** 2 + squares) / (believedAs + n - 1));
  const widened = (pooled * coverage95(believedAs + n - 1)) / coverage95(Infinity);
  const scatter = n < 2 ? one.randomU : Math.max(widened, Math.sqrt(squares / (n - 1)));
  const lasting = Math.sqrt(Math.max(0, one.u ** 2 - one.randomU ** 2));
  return { value, u: quadrature(lasting, scatter / Math.sqrt(n)) };
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
 */
export function repeatsOf(values: readonly number[], randomU: number): Repeats | null {
  if (values.length < 2) return null;
  const range = Math.max(...values) - Math.min(...values);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const limit = Math.max(repeatabilityFactor * randomU, leastFraction * Math.abs(mean));
  return { range, limit, differ: range > limit };
}
