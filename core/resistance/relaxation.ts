import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';
import { type CurveFit, type CurvePoint, fitCurve } from '../statistics/leastSquares';

export interface RelaxationBranchFit {
  resistanceOhm: Quantity;
  timeConstantS: Quantity;
}

/** A cell's answer to a step of current: r(t) = ohmic + Σ branch · (1 − exp(−t/τ)). */
export interface Relaxation {
  ohmicOhm: Quantity;
  /** One or two, the quicker first. */
  branches: RelaxationBranchFit[];
  /** Scatter about the curve, Ω. */
  residualOhm: number;
}

/** A second branch must pay for its two parameters by this much of Akaike's measure. */
const worthASecond = 6;
const leastPoints = 8;

/** Parameters are ohmic, then for each branch its resistance and the logarithm of its time constant. */
const answer = (t: number, parameters: readonly number[]): number => {
  let ohm = parameters[0] as number;
  for (let i = 1; i < parameters.length; i += 2) ohm += (parameters[i] as number) * (1 - Math.exp(-t / Math.exp(parameters[i + 1] as number)));
  return ohm;
};

/**
 * Fits one relaxing branch, or two where the second is worth it, to the resistance seen after a step of current.
 * Null where the points do not show a relaxation: too few, or none that settles within twice their span.
 * Source: first-order linear circuit; the choice by Akaike 1974.
 *
 * @param points x seconds after the step, y ohms
 */
export function fitRelaxation(points: readonly CurvePoint[]): Relaxation | null {
  if (points.length < leastPoints) return null;
  const [first, last] = [points[0] as CurvePoint, points.at(-1) as CurvePoint];
  const rise = last.y - first.y;
  const settled = points.find((point) => point.y - first.y > 0.63 * rise)?.x ?? last.x / 3;
  const tau = Math.max(settled, last.x / 50, 1e-4);
  const tryFit = (start: number[]): CurveFit | null => {
    try {
      const fit = fitCurve(answer, points, start);
      return isRelaxation(fit, points) ? fit : null;
    } catch (error) {
      if (error instanceof ImpossibleInput) return null;
      throw error;
    }
  };
  const one = tryFit([first.y, rise, Math.log(tau)]);
  const two = points.length < leastPoints + 4 ? null : tryFit([first.y, rise / 2, Math.log(tau / 4), rise / 2, Math.log(2 * tau)]);
  const akaike = (fit: CurveFit) => points.length * Math.log(fit.squares / points.length + 1e-30) + 2 * fit.parameters.length;
  const best = two && (!one || akaike(two) < akaike(one) - worthASecond) ? two : one;
  return best && relaxationOf(best);
}

/** Two branches closer than this are one. */
const leastApart = 2.5;

/** Branches that only lift the curve, apart from each other, neither quicker than the first points nor slower than the log can tell. */
function isRelaxation({ parameters }: CurveFit, points: readonly CurvePoint[]): boolean {
  const [earliest, latest] = [points.find((point) => point.x > 0)?.x ?? 0, points.at(-1)?.x ?? 0];
  for (let i = 1; i < parameters.length; i += 2) {
    const [ohm, logTau] = [parameters[i] as Quantity, parameters[i + 1] as Quantity];
    const tauS = Math.exp(logTau.value);
    if (!(ohm.value > 2 * ohm.u) || !(tauS > earliest / 5) || !(tauS < 2 * latest) || !Number.isFinite(ohm.u + logTau.u)) return false;
  }
  const [quick, slow] = [parameters[2]?.value ?? 0, parameters[4]?.value];
  return (parameters[0]?.value ?? -1) >= 0 && (slow === undefined || Math.abs(slow - quick) > Math.log(leastApart));
}

function relaxationOf({ parameters, residual }: CurveFit): Relaxation {
  const branches: RelaxationBranchFit[] = [];
  for (let i = 1; i < parameters.length; i += 2) {
    const [resistanceOhm, logTau] = [parameters[i] as Quantity, parameters[i + 1] as Quantity];
    const value = Math.exp(logTau.value);
    branches.push({ resistanceOhm, timeConstantS: { value, u: value * logTau.u } });
  }
  branches.sort((a, b) => a.timeConstantS.value - b.timeConstantS.value);
  return { ohmicOhm: parameters[0] as Quantity, branches, residualOhm: residual };
}

/** What the fitted cell shows that long after a step, Ω. */
export const relaxedOhm = ({ ohmicOhm, branches }: Relaxation, afterS: number): number =>
  branches.reduce((sum, { resistanceOhm, timeConstantS }) => sum + resistanceOhm.value * (1 - Math.exp(-afterS / timeConstantS.value)), ohmicOhm.value);
