import { quadrature, rectangular } from '../quantity/quantity';

export const instrumentKinds = ['meter', 'checker', 'charger', 'load', 'logger'] as const;
export type InstrumentKind = (typeof instrumentKinds)[number];

export type MeasuredQuantity = 'voltage' | 'current' | 'resistance';

/** How finely and how truly an instrument measures one quantity, as its maker states it, or as is assumed of it. */
export interface InstrumentRange {
  /** Last digit shown, in the SI unit of the quantity. */
  resolution: number;
  /** ± share of the reading. */
  accuracyShare: number;
  /** ± counts of the last digit. */
  accuracyCounts: number;
  /** The accuracy is not known: that of a cheap instrument is assumed. */
  isAssumed?: boolean;
  /** The coarser ranges of the same quantity, the finest first. */
  coarser?: InstrumentRange[];
}

/** What is noted of the finest range of an instrument, and of its coarser ranges; null where not known. */
export interface NotedRange {
  resolution: number;
  accuracyShare: number | null;
  accuracyCounts: number | null;
  coarser?: NotedRange[];
}

/** Limits of cheap instruments, as a share of the reading; with three counts. From memory of common data sheets. */
const cheapFraction: Record<MeasuredQuantity, number> = { voltage: 0.005, current: 0.01, resistance: 0.02 };
const cheapCounts = 3;
/** A voltmeter at the bench without a name (standard), V. */
export const benchMeterU = 0.005;

/** The accuracy of an instrument in each of its ranges: as noted, or as assumed of a cheap one. */
export function rangeOf(
  quantity: MeasuredQuantity,
  { resolution, accuracyShare, accuracyCounts, coarser }: NotedRange,
): InstrumentRange {
  const others = coarser && { coarser: coarser.map((range) => rangeOf(quantity, range)) };
  if (accuracyShare === null && accuracyCounts === null)
    return {
      resolution,
      accuracyShare: cheapFraction[quantity],
      accuracyCounts: cheapCounts,
      isAssumed: true,
      ...others,
    };
  return { resolution, accuracyShare: accuracyShare ?? 0, accuracyCounts: accuracyCounts ?? 0, ...others };
}

/**
 * The range in which a reading with this last digit was taken: of the noted ranges the coarsest that is no coarser than
 * the digit. A digit coarser than that range replaces the range's own.
 */
export function rangeFor({ coarser, ...finest }: InstrumentRange, step: number): InstrumentRange {
  const range = coarser?.findLast(({ resolution }) => resolution <= step * (1 + 1e-9)) ?? finest;
  return { ...range, resolution: Math.max(range.resolution, step) };
}

/**
 * Standard uncertainty of one reading: the maker's limits (± share of reading ± counts) taken as rectangular, and half
 * a digit of resolution. Source: JCGM 100:2008 (GUM), 4.3.7.
 */
export const readingU = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number =>
  quadrature(limitOf(value, { resolution, accuracyShare, accuracyCounts }) / Math.sqrt(3), rectangular(resolution));

/**
 * Standard uncertainty of one reading in what varies from press to press, without repeats: the last
 * digit, and a digit of noise either way (rectangular). Common practice.
 */
export const shownU = (step: number): number => quadrature(rectangular(step), step / Math.sqrt(3));

/** The most by which a reading may be off within the maker's promise. */
export const limitOf = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number =>
  Math.abs(value) * accuracyShare + accuracyCounts * resolution;
