import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';

export interface LinePoint {
  x: number;
  y: number;
  /** Known standard uncertainty of y. With it on every point, the fit is weighted by it. */
  u?: number;
}

/** A straight line y = intercept + slope · x with what is known of it. */
export interface Line {
  intercept: Quantity;
  slope: Quantity;
  /** Of the two estimates. */
  covariance: number;
  /** Standard deviation of the points about the line, in the unit of y. Zero where two points leave none. */
  residual: number;
  rSquared: number;
  /** Points less two: what Student's t wants; endless where the points' own uncertainties carry the uncertainty. */
  degrees: number;
}

/**
 * Fits a straight line by least squares. Without uncertainties of the points the residuals give the uncertainty (three
 * points at least); with them they weigh the points, and residuals larger than they allow enlarge the uncertainty.
 * Source: JCGM 100:2008 (GUM), annex H.3; the enlarging after Birge 1932.
 *
 * @throws ImpossibleInput with fewer than two points, when all x are equal, or without any source of uncertainty
 */
export function fitLine(points: readonly LinePoint[]): Line {
  const known = points.every((point) => point.u !== undefined && point.u > 0);
  if (points.length < (known ? 2 : 3))
    throw new ImpossibleInput('points', { code: 'too-few-points', points: points.length, least: known ? 2 : 3 });
  const weights = points.map((point) => (known ? 1 / (point.u as number) ** 2 : 1));
  const total = sum(weights);
  const meanX = sum(points.map((point, i) => (weights[i] as number) * point.x)) / total;
  const meanY = sum(points.map((point, i) => (weights[i] as number) * point.y)) / total;
  const sxx = sum(points.map((point, i) => (weights[i] as number) * (point.x - meanX) ** 2));
  if (!(sxx > 1e-12 * total * Math.max(1e-12, meanX ** 2)))
    throw new ImpossibleInput('points', { code: 'points-at-one-place' });
  const slope = sum(points.map((point, i) => (weights[i] as number) * (point.x - meanX) * (point.y - meanY))) / sxx;
  const intercept = meanY - slope * meanX;

  const squares = sum(points.map((point, i) => (weights[i] as number) * (point.y - intercept - slope * point.x) ** 2));
  const squaresX = sum(points.map((point, i) => (weights[i] as number) * (point.y - meanY) ** 2));
  const left = points.length - 2;
  const scatter = left > 0 ? squares / left : 0;
  const variance = known ? Math.max(1, scatter) : scatter;
  return {
    intercept: { value: intercept, u: Math.sqrt(variance * (1 / total + meanX ** 2 / sxx)) },
    slope: { value: slope, u: Math.sqrt(variance / sxx) },
    covariance: (-variance * meanX) / sxx,
    residual: Math.sqrt((scatter * points.length) / total),
    rSquared: squaresX > 0 ? 1 - squares / squaresX : 1,
    degrees: known ? Infinity : left,
  };
}

/** The line's own value at x with the uncertainty of the line there. Source: GUM H.3.4. */
export function onLine({ intercept, slope, covariance }: Line, x: number): Quantity {
  return {
    value: intercept.value + slope.value * x,
    u: Math.sqrt(Math.max(0, intercept.u ** 2 + (x * slope.u) ** 2 + 2 * x * covariance)),
  };
}

/** What one more point at x may be: the line's uncertainty and the scatter about it. */
export function newPoint(line: Line, x: number): Quantity {
  const { value, u } = onLine(line, x);
  return { value, u: Math.hypot(u, line.residual) };
}

/** R² in words, as the trade uses them: 0.9 and up very strong, 0.7 to 0.9 strong. */
export function strengthOf(rSquared: number): string {
  if (rSquared >= 0.9) return 'very strong';
  if (rSquared >= 0.7) return 'strong';
  if (rSquared >= 0.4) return 'moderate';
  return rSquared >= 0.1 ? 'weak' : 'hardly any';
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
