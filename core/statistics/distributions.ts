import { jStat } from 'jstat';

/** The value that Student's t with these degrees of freedom stays below with probability p. */
export const tQuantile = (p: number, degrees: number): number => jStat.studentt.inv(p, degrees);

/** The value that chi-square with these degrees of freedom stays below with probability p. */
export const chiSquareQuantile = (p: number, degrees: number): number => jStat.chisquare.inv(p, degrees);

/** The value that a standard normal number stays below with probability p. */
export const normalQuantile = (p: number): number => jStat.normal.inv(p, 0, 1);

/** The share of standard normal numbers below this one. */
export const normalFraction = (z: number): number => jStat.normal.cdf(z, 0, 1);

/** Coverage factor of a two-sided 95 % interval; 1.96 for endless degrees of freedom. */
export const coverage95 = (degrees: number): number =>
  Number.isFinite(degrees) ? tQuantile(0.975, degrees) : 1.959964;
