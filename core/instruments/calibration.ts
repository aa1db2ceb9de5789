import { ImpossibleInput } from '../impossibleInput';
import { type Quantity, quadrature, rectangular } from '../quantity/quantity';
import { coverage95 } from '../statistics/distributions';
import { fitLine, type Line, onLine } from '../statistics/line';

/** One level at which an instrument was compared with a reference. */
export interface CalibrationPoint {
  /**
   * Raw, with the uncertainty of its last digit and noise alone: what its maker promises is what is being found out.
   */
  reading: Quantity;
  reference: Quantity;
}

/** What is known of an instrument that is to be corrected. */
export interface Calibrated {
  /** Last digit. */
  resolution: number;
  /** Standard uncertainty of its readings as its maker states it; endless where nothing is known. */
  statedU: number;
  /**
   * What its maker promises of its gain, a share: from levels near each other the rest of the range is known no better.
   * Half a per cent where nothing is known.
   */
  accuracyShare?: number | undefined;
}

/** What to take off a reading: offset + gain error · reading, with its covariance, in the unit of the reading. */
export interface Correction {
  /** `adjusted`: the device itself was set; there is nothing to take off. */
  kind: 'offset' | 'line' | 'adjusted';
  /** Of the error reading − reference, at a reading of 0. */
  offset: Quantity;
  /** Growth of the error with the reading; 0 for an offset alone. */
  gain: Quantity;
  covariance: number;
  /** Scatter of the levels about the correction, and how many more of them there are than it takes to find it. */
  residual: number;
  degrees: number;
}

/** Why an instrument is not corrected, with the facts; its sentence is in words/instruments.ts. */
export type CalibrationRefusal =
  | { code: 'no-level' | 'one-level' | 'equal-levels' }
  | { code: 'reference-less-certain'; referenceU: number; statedU: number }
  | { code: 'finer-than-digit'; wantedV: number; resolutionV: number }
  | { code: 'reference-not-sure-enough'; wantedV: number; limitV: number }
  | { code: 'not-told-from-zero'; wantedV: number };

export type CalibrationVerdict = { ok: true; correction: Correction } | { ok: false; because: CalibrationRefusal };

/**
 * Without a stated accuracy a gain is off by up to this much; what is thought beforehand counts as this many levels.
 */
const assumedGainFraction = 0.005;
const assumedDegrees = 4;

/**
 * The correction of an instrument against a reference: an offset from one level or more, or offset and gain from two or
 * more different levels, by weighted least squares. Of an offset the gain is not known better than its maker promises:
 * away from the levels the correction gets less certain.
 * Refused where it could only make things worse: a reference less certain than the instrument itself or than the
 * correction wanted, an instrument whose last digit is coarser than the correction, nothing to correct.
 * Source: JCGM 100:2008 (GUM), annex H.3.
 */
export function calibrate(
  kind: Exclude<Correction['kind'], 'adjusted'>,
  points: readonly CalibrationPoint[],
  { resolution, statedU, accuracyShare = assumedGainFraction }: Calibrated,
): CalibrationVerdict {
  if (points.length === 0) return refused({ code: 'no-level' });
  const errors = points.map(({ reading, reference }) => ({
    x: reading.value,
    y: reading.value - reference.value,
    u: quadrature(reading.u, reference.u),
  }));
  const worst = points.find(({ reference }) => reference.u > statedU);
  if (worst) return refused({ code: 'reference-less-certain', referenceU: worst.reference.u, statedU });
  if (kind === 'line' && points.length < 2) return refused({ code: 'one-level' });
  let line: Line;
  try {
    line =
      kind === 'line'
        ? { ...fitLine(errors), degrees: errors.length - 2 }
        : offsetOf(errors, accuracyShare / Math.sqrt(3));
  } catch (error) {
    if (!(error instanceof ImpossibleInput)) throw error;
    return refused({ code: 'equal-levels' });
  }
  // The same meters are the reference at every level: what they are off by in common does not average out.
  const common = Math.max(...points.map(({ reference }) => reference.u));
  const correction: Correction = {
    kind,
    offset: { value: line.intercept.value, u: quadrature(line.intercept.u, common) },
    gain: line.slope,
    covariance: line.covariance,
    residual: line.residual,
    degrees: line.degrees,
  };
  const largest = Math.max(...errors.map(({ x }) => Math.abs(onLine(line, x).value)));
  if (largest < resolution) return refused({ code: 'finer-than-digit', wantedV: largest, resolutionV: resolution });
  if (2 * common > largest) return refused({ code: 'reference-not-sure-enough', wantedV: largest, limitV: 2 * common });
  const unsure = errors.every(({ x }) => Math.abs(onLine(line, x).value) < 2 * onLine(asLine(correction), x).u);
  if (unsure) return refused({ code: 'not-told-from-zero', wantedV: largest });
  return { ok: true, correction };
}

const refused = (because: CalibrationRefusal): CalibrationVerdict => ({ ok: false, because });

/** An offset as a line with slope 0. The uncertainty of the gain is lowered where the levels determine it. */
function offsetOf(errors: readonly { x: number; y: number; u: number }[], gainU: number): Line {
  const weighted = errors.map(({ x, y, u }) => ({ x, y, weight: 1 / u ** 2 }));
  const sum = (of: (one: (typeof weighted)[number]) => number): number =>
    weighted.reduce((total, one) => total + of(one), 0);
  const total = sum(({ weight }) => weight);
  const mean = sum(({ y, weight }) => y * weight) / total;
  const meanX = sum(({ x, weight }) => x * weight) / total;
  const squaresX = sum(({ x, weight }) => (x - meanX) ** 2 * weight);
  const left = errors.length - 1;
  const scatter = left > 0 ? sum(({ y, weight }) => (y - mean) ** 2 * weight) / left : 0;
  const slopeU = gainU > 0 ? 1 / Math.sqrt(1 / gainU ** 2 + squaresX) : 0;
  return {
    intercept: { value: mean, u: quadrature(Math.sqrt(Math.max(1, scatter) / total), slopeU * meanX) },
    slope: { value: 0, u: slopeU },
    covariance: -(slopeU ** 2) * meanX,
    residual: Math.sqrt((scatter * errors.length) / total),
    rSquared: 1,
    degrees: left,
  };
}

const asLine = ({ offset, gain, covariance, residual, degrees }: Correction): Line => ({
  intercept: offset,
  slope: gain,
  covariance,
  residual,
  rSquared: 1,
  degrees,
});

/** A raw reading with its correction taken off, and the uncertainty of both. */
export function corrected(reading: Quantity, correction: Correction | null): Quantity {
  if (!correction) return reading;
  const error = onLine(asLine(correction), reading.value);
  return { value: reading.value - error.value, u: quadrature(reading.u, error.u) };
}

/**
 * Where the error of a further reading of that size lies, with 95 % confidence: the correction's uncertainty, the
 * reading's own digit and noise together with the scatter of the levels, with Student's factor for so few.
 *
 * @param readingU digit and noise of one reading, one standard uncertainty
 */
export function errorInterval(
  correction: Correction,
  reading: number,
  readingU: number,
): { value: number; low: number; high: number } {
  const { value, u } = onLine(asLine(correction), reading);
  const { residual, degrees } = correction;
  const seen = Number.isFinite(degrees) ? Math.max(0, degrees) : 0;
  // What is assumed of one reading counts as much as seeing it on some levels.
  const scatter = Math.sqrt((assumedDegrees * readingU ** 2 + seen * residual ** 2) / (assumedDegrees + seen));
  const half = quadrature(coverage95(assumedDegrees + seen) * scatter, coverage95(Infinity) * u);
  return { value, low: value - half, high: value + half };
}

/**
 * The voltage to which a charger channel with that error really fills a cell: it stops when it reads the full voltage,
 * so a channel that reads low overfills.
 */
export const fillsTo = (fullV: number, correction: Correction): Quantity =>
  corrected({ value: fullV, u: 0 }, correction);

/** The correction of a device that was itself set to show a reference: none, as uncertain as that and its digit. */
export const afterAdjusting = (referenceU: number, resolution: number): Correction => ({
  kind: 'adjusted',
  offset: { value: 0, u: quadrature(referenceU, rectangular(resolution)) },
  gain: { value: 0, u: 0 },
  covariance: 0,
  residual: 0,
  degrees: Infinity,
});
