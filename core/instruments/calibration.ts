import { ImpossibleInput } from '../impossibleInput';
import { type Quantity, quadrature } from '../quantity/quantity';
import { coverage95 } from '../statistics/distributions';
import { fitLine, type Line, newPoint, onLine } from '../statistics/line';

/** One level at which an instrument's reading stands beside a reference. */
export interface CalibrationPoint {
  /** Raw, with the doubt of its last digit and noise alone: what its maker promises is what is being found out. */
  reading: Quantity;
  reference: Quantity;
}

/** What is known of an instrument that is to be corrected. */
export interface Calibrated {
  /** Last digit. */
  resolution: number;
  /** Standard uncertainty of its readings as its maker states it; endless where nothing is known. */
  statedU: number;
}

/** What to take off a reading: offset + gain error · reading, with its covariance, in the unit of the reading. */
export interface Correction {
  kind: 'offset' | 'line';
  /** Of the error reading − reference, at a reading of nought. */
  offset: Quantity;
  /** Growth of the error with the reading; nought for an offset alone. */
  gain: Quantity;
  covariance: number;
  /** Scatter of the levels about the correction. */
  residual: number;
  degrees: number;
}

export type CalibrationVerdict = { ok: true; correction: Correction } | { ok: false; because: string };

/**
 * The correction of an instrument against a reference: an offset from one level or more, or offset and gain from two or
 * more different levels, by weighted least squares.
 * Refused where it could only make things worse: a reference less certain than the instrument itself or than the
 * correction wanted, an instrument whose last digit is coarser than the correction, nothing to correct.
 * Source: JCGM 100:2008 (GUM), annex H.3.
 */
export function calibrate(kind: Correction['kind'], points: readonly CalibrationPoint[], { resolution, statedU }: Calibrated): CalibrationVerdict {
  if (points.length === 0) return refused('There is no level at which this channel and the reference were both read.');
  const errors = points.map(({ reading, reference }) => ({ x: reading.value, y: reading.value - reference.value, u: quadrature(reading.u, reference.u) }));
  const worst = points.find(({ reference }) => reference.u > statedU);
  if (worst) return refused(`The reference (± ${millivolts(worst.reference.u)}) is less certain than the instrument itself (± ${millivolts(statedU)} by its maker). Use one that resolves better.`);
  if (kind === 'line' && points.length < 2) return refused('A gain needs two levels at least: read a fuller or an emptier battery as well, or correct the offset alone.');
  let line: Line;
  try {
    line = kind === 'line' ? fitLine(errors) : offsetOf(errors);
  } catch (error) {
    if (!(error instanceof ImpossibleInput)) throw error;
    return refused('All levels are equal: they cannot tell a gain. Read a fuller or an emptier battery as well, or correct the offset alone.');
  }
  // The same meters are the reference at every level: what they are off by in common does not average out.
  const common = Math.max(...points.map(({ reference }) => reference.u));
  const correction: Correction = { kind, offset: { value: line.intercept.value, u: quadrature(line.intercept.u, common) }, gain: line.slope, covariance: line.covariance, residual: line.residual, degrees: line.degrees };
  const largest = Math.max(...errors.map(({ x }) => Math.abs(onLine(line, x).value)));
  if (largest < resolution) return refused(`The correction wanted (${millivolts(largest)}) is finer than this instrument's last digit (${millivolts(resolution)}); it would be no truer afterwards.`);
  if (2 * common > largest) return refused(`To correct ${millivolts(largest)} the reference must be surer than that: it is good to ± ${millivolts(2 * common)}. Read the batteries with a finer meter as well.`);
  const unsure = errors.every(({ x }) => Math.abs(onLine(line, x).value) < 2 * onLine(asLine(correction), x).u);
  if (unsure) return refused(`The error found (${millivolts(largest)}) cannot be told from nought within its doubt; correcting it would add as much as it takes away.`);
  return { ok: true, correction };
}

const refused = (because: string): CalibrationVerdict => ({ ok: false, because });

const millivolts = (volts: number): string => `${Number((volts * 1000).toPrecision(2))} mV`;

function offsetOf(errors: readonly { y: number; u: number }[]): Line {
  const weights = errors.map(({ u }) => 1 / u ** 2);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = errors.reduce((sum, { y }, i) => sum + y * (weights[i] as number), 0) / total;
  const left = errors.length - 1;
  const scatter = left > 0 ? errors.reduce((sum, { y }, i) => sum + (y - mean) ** 2 * (weights[i] as number), 0) / left : 0;
  return {
    intercept: { value: mean, u: Math.sqrt(Math.max(1, scatter) / total) },
    slope: { value: 0, u: 0 },
    covariance: 0,
    residual: Math.sqrt((scatter * errors.length) / total),
    rSquared: 1,
    degrees: Infinity,
  };
}

const asLine = ({ offset, gain, covariance, residual, degrees }: Correction): Line => ({ intercept: offset, slope: gain, covariance, residual, rSquared: 1, degrees });

/** A raw reading with its correction taken off, and the doubt of both. */
export function corrected(reading: Quantity, correction: Correction | null): Quantity {
  if (!correction) return reading;
  const error = onLine(asLine(correction), reading.value);
  return { value: reading.value - error.value, u: quadrature(reading.u, error.u) };
}

/** Where the error of a further reading of that size lies, with 95 % confidence. */
export function errorInterval(correction: Correction, reading: number): { value: number; low: number; high: number } {
  const { value, u } = newPoint(asLine(correction), reading);
  const half = coverage95(correction.degrees) * u;
  return { value, low: value - half, high: value + half };
}

/**
 * The voltage to which a charger channel with that error really fills a cell: it stops when it reads the full voltage, so
 * a channel that reads low overfills.
 */
export const fillsTo = (fullV: number, correction: Correction): Quantity => corrected({ value: fullV, u: 0 }, correction);
