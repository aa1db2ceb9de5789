import { quadrature, rectangular } from '../quantity/quantity';

export const instrumentKinds = ['meter', 'checker', 'charger', 'load', 'logger'] as const;
export type InstrumentKind = (typeof instrumentKinds)[number];

export type MeasuredQuantity = 'voltage' | 'current' | 'resistance';

/** How finely and how truly an instrument measures one quantity, as its maker states it. */
export interface InstrumentRange {
  /** Last digit shown, in the SI unit of the quantity. */
  resolution: number;
  /** ± share of the reading. */
  accuracyShare: number;
  /** ± counts of the last digit. */
  accuracyCounts: number;
}

/**
 * Standard uncertainty of one reading: the maker's limits (± share of reading ± counts) taken as rectangular, and half a
 * digit of resolution. Source: JCGM 100:2008 (GUM), 4.3.7.
 */
export const readingU = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number =>
  quadrature(limitOf(value, { resolution, accuracyShare, accuracyCounts }) / Math.sqrt(3), rectangular(resolution));

/**
 * Standard uncertainty of one reading in what varies from press to press, as long as nobody pressed again: the last digit,
 * and a digit of noise either way (rectangular). Common practice.
 */
export const shownU = (step: number): number => quadrature(rectangular(step), step / Math.sqrt(3));

/** The most by which a reading may be off within the maker's promise. */
export const limitOf = (value: number, { resolution, accuracyShare, accuracyCounts }: InstrumentRange): number => Math.abs(value) * accuracyShare + accuracyCounts * resolution;
