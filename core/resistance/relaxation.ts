import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';
import { type CurveFit, type CurvePoint, fitCurve, invert } from '../statistics/leastSquares';

export interface RelaxationBranchFit {
  resistanceOhm: Quantity;
  timeConstantS: Quantity;
}

/** What of the resistance comes on between two moments after the step. */
export interface RelaxationStage {
  fromS: number;
  toS: number;
  resistanceOhm: Quantity;
}

/** A cell's answer to a step of current, what the charge of the step itself costs taken off. */
export interface Relaxation {
  /** What answers at once; null where the log is too coarse to separate it from what follows. */
  ohmicOhm: Quantity | null;
  /** In order; those that the pulse is too short or too noisy to show are left out. */
  stages: RelaxationStage[];
  /** Time constants, the quicker first, where the log shows one or two of them and no more. */
  branches: RelaxationBranchFit[];
  /** Scatter about the curve, Ω. */
  residualOhm: number;
}

/** What is known of the points. */
export interface SeenStep {
  /** x seconds after the step, y ohms, and how many samples each is the mean of. */
  points: readonly CurvePoint[];
  /**
   * Between the last sample before the step and the first after it: the step lies anywhere there, x counts from the
   * middle.
   */
  stepS: number;
  /** Standard uncertainty of one sample, and of the level that all are counted from, Ω. */
  sampleU: number;
  levelU: number;
  /** Of the drift that was taken off, Ω/s. */
  driftUOhmPerS: number;
  /** Of the current and the meter's gain, a share of all. */
  relativeU: number;
}

/** Fewer points show no relaxation. */
const leastPoints = 8;
/** Stages end here. */
const stageEndsS = [1, 10, 30, 60];
/** A less certain value is left out. */
const leastSure = 0.25;
/**
 * Between samples further apart than this, the immediate part cannot be separated from the quick part, nor time
 * constants from each other.
 */
const coarsestS = 0.25;
/**
 * A cell has more time constants than a log can show. One that is given includes its neighbours, and is no better
 * than this share.
 */
const neighboursU = 0.14;
/** Time constants that any answer is made of, a decade. */
const perDecade = 3;
/** No log is cleaner than this share of the answer. */
const leastNoise = 1e-4;
/**
 * What is thought of each of them and of the charge's own cost per second before the log is looked at, as shares of the
 * whole answer: mean and deviation.
 */
const priorPart = { mean: 0.05, deviation: 0.09 };
const priorDroop = { mean: 0.002, deviation: 0.003 };

/**
 * A cell's answer to a step of current, from the resistance seen after it: how much of it comes at once, how much in
 * stages, and time constants where they are determined.
 *
 * At once and in stages: the answer is a sum of exponentials of many time constants (more than any cell needs) with
 * what the step's own charge costs as a straight line; of all of them only a size is thought beforehand, and what the
 * points say is worked out by linear least squares with that prior. So the uncertainty holds whatever number of
 * branches the cell has. Null where there are too few points. Source: Tikhonov 1963 for the regularisation, as a
 * Gaussian prior; distribution of relaxation times, common practice.
 */
export function fitRelaxation(seen: SeenStep): Relaxation | null {
  const { points, stepS, relativeU } = seen;
  const last = points.at(-1);
  if (points.length < leastPoints || !last || !(last.y > 0)) return null;
  const fit = fitDistribution(seen);
  if (!fit) return null;
  const resistanceOf = (weights: readonly number[]): Quantity | null => {
    const value = dot(weights, fit.mean);
    const u = Math.hypot(Math.sqrt(Math.max(0, dot(weights, times(fit.covariance, weights)))), value * relativeU);
    return value > 0 && u <= leastSure * value ? { value, u } : null;
  };
  const stages: RelaxationStage[] = [];
  stageEndsS.forEach((toS, i) => {
    const fromS = i === 0 ? 0 : (stageEndsS[i - 1] as number);
    if (toS > last.x + 2 * stepS || toS - fromS < 4 * stepS) return;
    const resistanceOhm = resistanceOf([
      0,
      ...fit.taus.map((tau) => Math.exp(-fromS / tau) - Math.exp(-toS / tau)),
      0,
      0,
    ]);
    if (resistanceOhm) stages.push({ fromS, toS, resistanceOhm });
  });
  const ohmicOhm = stepS > coarsestS ? null : resistanceOf([1, ...fit.taus.map(() => 0), 0, 0]);
  return { ohmicOhm, stages, branches: stepS > coarsestS ? [] : fitBranches(seen), residualOhm: fit.residual };
}

const zeros = (length: number): number[] => new Array<number>(length).fill(0);
const dot = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, value, i) => sum + value * (b[i] as number), 0);
const times = (matrix: readonly (readonly number[])[], vector: readonly number[]): number[] =>
  matrix.map((row) => dot(row, vector));

/**
 * Parameters: at once, a part for each time constant, the charge's cost a second, and the moment of the step where a
 * first fit gave the slope.
 */
function fitDistribution({ points, stepS, sampleU, levelU, driftUOhmPerS }: SeenStep) {
  const last = points.at(-1) as CurvePoint;
  const whole = last.y;
  const longestS = 20 * last.x;
  const taus: number[] = [];
  for (let tau = stepS / 2; tau < longestS; tau *= 10 ** (1 / perDecade)) taus.push(tau);
  const priors = [
    { mean: 0, deviation: 10 * whole },
    ...taus.map(() => ({ mean: priorPart.mean * whole, deviation: priorPart.deviation * whole })),
    { mean: priorDroop.mean * whole, deviation: Math.hypot(priorDroop.deviation * whole, driftUOhmPerS) },
  ];
  const rowOf = (x: number): number[] => [1, ...taus.map((tau) => -Math.expm1(-x / tau)), x];
  const after = points.filter(({ x }) => x > 0);
  const first = solveWithPriors(after, rowOf, priors, sampleU);
  if (!first) return null;
  const slopeAt = (x: number): number =>
    taus.reduce(
      (sum, tau, j) => sum + ((first.mean[j + 1] as number) * Math.exp(-x / tau)) / tau,
      first.mean.at(-1) as number,
    );
  const whole2 = solveWithPriors(
    after,
    (x) => [...rowOf(x), slopeAt(x)],
    [...priors, { mean: 0, deviation: stepS / Math.sqrt(12) }],
    sampleU,
  );
  if (!whole2) return null;
  // The level that all are counted from lifts what comes at once.
  const covariance = whole2.covariance.map((row, i) =>
    row.map((value, j) => (i === 0 && j === 0 ? value + levelU ** 2 : value)),
  );
  return { taus, mean: whole2.mean, covariance, residual: whole2.residual };
}

interface Prior {
  mean: number;
  deviation: number;
}

/**
 * Linear least squares with a normal prior on every parameter; residuals larger than the samples allow widen the
 * uncertainty.
 */
function solveWithPriors(
  points: readonly CurvePoint[],
  rowOf: (x: number) => number[],
  priors: readonly Prior[],
  sampleU: number,
) {
  const noise = Math.max(sampleU, leastNoise * Math.abs(points.at(-1)?.y ?? 1));
  // Scaled by the priors, so that all parameters are of one size.
  const matrix = priors.map((_, i) => priors.map((__, j) => (i === j ? 1 : 0)));
  const right = zeros(priors.length);
  const rows = points.map(({ x, y, weight = 1 }) => {
    const row = rowOf(x);
    const given = dot(
      row,
      priors.map((prior) => prior.mean),
    );
    return {
      scaled: row.map((value, i) => value * (priors[i] as Prior).deviation),
      rest: y - given,
      weight: weight / noise ** 2,
    };
  });
  for (const { scaled, rest, weight } of rows) {
    scaled.forEach((a, i) => {
      right[i] = (right[i] as number) + weight * a * rest;
      const line = matrix[i] as number[];
      for (let j = 0; j < scaled.length; j++) line[j] = (line[j] as number) + weight * a * (scaled[j] as number);
    });
  }
  const inverse = invert(matrix);
  if (!inverse) return null;
  const moved = times(inverse, right);
  const chiSquare =
    rows.reduce((sum, { scaled, rest, weight }) => sum + weight * (rest - dot(scaled, moved)) ** 2, 0) /
    Math.max(1, points.length);
  const widening = Math.max(1, chiSquare);
  return {
    mean: moved.map((value, i) => (priors[i] as Prior).mean + value * (priors[i] as Prior).deviation),
    covariance: inverse.map((row, i) =>
      row.map((value, j) => widening * value * (priors[i] as Prior).deviation * (priors[j] as Prior).deviation),
    ),
    residual: Math.sqrt(chiSquare) * noise,
  };
}

/** Another branch must pay for its two parameters by this much of Akaike's measure. */
const worthAnother = 6;
/** A shorter pulse does not show one branch from the next. */
const shortestS = 20;
/** Two branches closer than this are one. */
const leastApart = 3;
/** A curve that leaves more than this many times the samples' own scatter has more branches than it was given. */
const mostResidual = 1.2;

/**
 * Parameters are ohmic, the charge's cost a second, then for each branch its resistance and the logarithm of its time
 * constant.
 */
const answer = (t: number, parameters: readonly number[]): number => {
  let ohm = (parameters[0] as number) + (parameters[1] as number) * t;
  for (let i = 2; i < parameters.length; i += 2)
    ohm += (parameters[i] as number) * -Math.expm1(-t / Math.exp(parameters[i + 1] as number));
  return ohm;
};

/**
 * One relaxing branch, or two where the second is worth it, with a straight line for what the charge costs. Empty where
 * neither describes the points down to their scatter, where a branch is quicker or slower than the log can show, or
 * less sure than a quarter. Source: first-order linear circuit; the choice by Akaike 1974.
 */
function fitBranches({ points, stepS, sampleU, relativeU }: SeenStep): RelaxationBranchFit[] {
  const after = points.filter(({ x }) => x > 0);
  const [first, last] = [after[0], after.at(-1)];
  if (!first || !last || after.length < leastPoints + 2 || last.x < shortestS) return [];
  const rise = last.y - first.y;
  const settled = after.find((point) => point.y - first.y > 0.63 * rise)?.x ?? last.x / 3;
  const tau = Math.max(settled, last.x / 50, 1e-4);
  const tryFit = (start: number[]): CurveFit | null => {
    if (after.length <= start.length + 2) return null;
    try {
      return fitCurve(answer, after, start);
    } catch (error) {
      if (error instanceof ImpossibleInput) return null;
      throw error;
    }
  };
  const one = tryFit([first.y, 0, rise, Math.log(tau)]);
  const two = tryFit([first.y, 0, rise / 2, Math.log(tau / 4), rise / 2, Math.log(2 * tau)]);
  const akaike = (fit: CurveFit) =>
    after.length * Math.log(fit.squares / after.length + 1e-30) + 2 * fit.parameters.length;
  const best = two && (!one || akaike(two) < akaike(one) - worthAnother) ? two : one;
  if (!best || best.residual > mostResidual * Math.max(sampleU, 1e-9)) return [];
  const branches: RelaxationBranchFit[] = [];
  for (let i = 2; i < best.parameters.length; i += 2) {
    const [ohm, logTau] = [best.parameters[i] as Quantity, best.parameters[i + 1] as Quantity];
    const tauS = Math.exp(logTau.value);
    const whenU = stepS / Math.sqrt(12) / tauS;
    const resistanceOhm = {
      value: ohm.value,
      u: Math.hypot(ohm.u, ohm.value * Math.hypot(relativeU, whenU, neighboursU)),
    };
    const timeConstantS = { value: tauS, u: tauS * Math.hypot(logTau.u, neighboursU) };
    const isSure = ({ value, u }: Quantity): boolean => value > 0 && u <= leastSure * value;
    if (!isSure(resistanceOhm) || !isSure(timeConstantS) || tauS < 2 * stepS || tauS > last.x / 3) return [];
    branches.push({ resistanceOhm, timeConstantS });
  }
  branches.sort((a, b) => a.timeConstantS.value - b.timeConstantS.value);
  const [quick, slow] = branches;
  return quick && slow && slow.timeConstantS.value < leastApart * quick.timeConstantS.value ? [] : branches;
}
