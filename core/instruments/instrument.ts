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
  /** Nobody knows its accuracy: it is taken as that of a cheap one. */
  isAssumed?: boolean;
}

/** What is noted of an instrument: its accuracy as far as anybody knows. */
export interface NotedRange {
  resolution: number;
  accuracyShare: number | null;
  accuracyCounts: number | null;
}

/** Limits of cheap instruments, as a share of the reading; with three counts. From memory of common data sheets. */
const cheapShare: Record<MeasuredQuantity, number> = { voltage: 0.005, current: 0.01, resistance: 0.02 };
const cheapCounts = 3;
/** A voltmeter at the bench without a name (standard), V. */
export const benchMeterU = 0.005;

/** What an instrument is taken to promise. */
export function rangeOf(
  quantity: MeasuredQuantity,
  { resolution, accuracyShare, accuracyCounts }: NotedRange,
): InstrumentRange {
  if (accuracyShare === null && accuracyCounts === null)
    return { resolution, accuracyShare: cheapShare[quantity], accuracyCounts: cheapCounts, isAssumed: true };
  return { resolution, accuracyShare: accuracyShare ?? 0, accuracyCounts: accuracyCounts ?? 0 };
}

/** The range that a reading was taken in: its last digit tells it, where that is coarser than the finest. */
export const rangeFor = <R extends Pick<InstrumentRange, 'resolution'>>(range: R, step: number): R => ({
  ...range,
  resolution: Math.max(range.resolution, step),
});

/**
 * Standard uncertainty of one reading: the maker's limits (± share of reading ± counts) taken as rectangular, and half
 * a digit of resolution. Source: JCGM 100:2008 (GUM), 4.3.7.
 * @worked 3.7 V in steps of 1 mV, ± 0.5 % ± 3 counts: `readingU(3.7, { resolution: 0.001, accuracyShare: 0.005,
 * accuracyCounts: 3 })` V
 */
export const readingU = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number =>
  quadrature(limitOf(value, { resolution, accuracyShare, accuracyCounts }) / Math.sqrt(3), rectangular(resolution));

/**
 * Standard uncertainty of one reading in what varies from press to press, as long as nobody pressed again: the last
 * digit, and a digit of noise either way (rectangular). Common practice.
 * @worked Steps of 0.1 mΩ: `shownU(0.1)` mΩ
 */
export const shownU = (step: number): number => quadrature(rectangular(step), step / Math.sqrt(3));

/**
 * The most by which a reading may be off within the maker's promise.
 * @worked 3.7 V in steps of 1 mV, ± 0.5 % ± 3 counts: `limitOf(3.7, { resolution: 0.001, accuracyShare: 0.005,
 * accuracyCounts: 3 })` V
 */
export const limitOf = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number =>
  Math.abs(value) * accuracyShare + accuracyCounts * resolution;
