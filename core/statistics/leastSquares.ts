import { ImpossibleInput } from '../impossibleInput';
import type { Quantity } from '../quantity/quantity';

export interface CurvePoint {
  x: number;
  y: number;
  /** How many equal points it replaces; one where not given. */
  weight?: number;
}

export interface CurveFit {
  /** Estimates with their standard errors from the residuals. */
  parameters: Quantity[];
  covariance: number[][];
  /** Standard deviation of the points about the curve, in the unit of y. */
  residual: number;
  /** Sum of squared residuals. */
  squares: number;
}

/** A fit that has not arrived after this many rounds does not arrive. */
const mostRounds = 100;
/** Relative fall of the squares, or relative step of every parameter, below which a round has arrived. */
const arrived = 1e-12;
/** A step damped more than this leads nowhere. */
const mostDamping = 1e8;

/**
 * Fits a curve by least squares with damped steps (Levenberg 1944, Marquardt 1963, scaled by the diagonal); derivatives
 * by central differences.
 *
 * @param curve y at x for these parameters
 * @param start where to begin; as many parameters as the curve has
 * @throws ImpossibleInput when there are not more points than parameters, or the points do not determine the parameters
 * apart
 */
export function fitCurve(
  curve: (x: number, parameters: readonly number[]) => number,
  points: readonly CurvePoint[],
  start: readonly number[],
): CurveFit {
  if (points.length <= start.length)
    throw new ImpossibleInput('points', { code: 'too-few-points', points: points.length, least: start.length + 1 });
  const squaresAt = (parameters: readonly number[]): number =>
    points.reduce((sum, { x, y, weight = 1 }) => sum + weight * (y - curve(x, parameters)) ** 2, 0);
  let at = [...start];
  let squares = squaresAt(at);
  let damping = 1e-3;
  let equations = normalEquations(curve, points, at);
  for (let round = 0; round < mostRounds && damping < mostDamping; round++) {
    const { matrix, right } = equations;
    const step = solveLinear(
      matrix.map((row, i) => row.map((value, j) => (i === j ? value * (1 + damping) : value))),
      right,
    );
    const next = step && at.map((value, i) => value + (step[i] as number));
    const nextSquares = next ? squaresAt(next) : NaN;
    if (!step || !next || !(nextSquares <= squares)) {
      damping *= 8;
      continue;
    }
    const done =
      squares - nextSquares <= arrived * squares ||
      step.every((one, i) => Math.abs(one) <= arrived * Math.abs(at[i] as number));
    [at, squares] = [next, nextSquares];
    equations = normalEquations(curve, points, at);
    if (done) break;
    damping = Math.max(1e-12, damping / 8);
  }

  const variance = squares / (points.length - start.length);
  const inverse = invert(equations.matrix);
  if (!inverse || !Number.isFinite(squares)) throw new ImpossibleInput('points', { code: 'parameters-not-told' });
  const covariance = inverse.map((row) => row.map((value) => value * variance));
  return {
    parameters: at.map((value, i) => ({ value, u: Math.sqrt(Math.max(0, covariance[i]?.[i] ?? 0)) })),
    covariance,
    residual: Math.sqrt(variance),
    squares,
  };
}

/** JᵀWJ and JᵀWr at these parameters. */
function normalEquations(
  curve: (x: number, parameters: readonly number[]) => number,
  points: readonly CurvePoint[],
  at: readonly number[],
) {
  const matrix = at.map(() => at.map(() => 0));
  const right = at.map(() => 0);
  const moved = [...at];
  for (const { x, y, weight = 1 } of points) {
    const rest = y - curve(x, at);
    const slopes = at.map((value, i) => {
      const h = 1e-6 * (Math.abs(value) || 1e-3);
      moved[i] = value + h;
      const above = curve(x, moved);
      moved[i] = value - h;
      const below = curve(x, moved);
      moved[i] = value;
      return (above - below) / (2 * h);
    });
    slopes.forEach((a, i) => {
      right[i] = (right[i] as number) + weight * a * rest;
      const row = matrix[i] as number[];
      slopes.forEach((b, j) => (row[j] = (row[j] as number) + weight * a * b));
    });
  }
  return { matrix, right };
}

/**
 * Solves a small symmetric system by elimination with pivots on rows scaled to ones on the diagonal; null where it is
 * singular.
 */
export function solveLinear(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const scale = matrix.map((row, i) => Math.sqrt(Math.abs(row[i] as number)) || 1);
  const rows = matrix.map((row, i) => [
    ...row.map((value, j) => value / (scale[i] as number) / (scale[j] as number)),
    (right[i] as number) / (scale[i] as number),
  ]);
  for (let column = 0; column < rows.length; column++) {
    const pivot = rows
      .slice(column)
      .reduce(
        (best, row, i) => (Math.abs(row[column] as number) > Math.abs(rows[best]?.[column] ?? 0) ? column + i : best),
        column,
      );
    [rows[column], rows[pivot]] = [rows[pivot] as number[], rows[column] as number[]];
    const head = rows[column] as number[];
    if (!(Math.abs(head[column] as number) > 1e-14)) return null;
    for (let i = 0; i < rows.length; i++) {
      if (i === column) continue;
      const row = rows[i] as number[];
      const fraction = (row[column] as number) / (head[column] as number);
      for (let j = column; j < row.length; j++) row[j] = (row[j] as number) - fraction * (head[j] as number);
    }
  }
  return rows.map((row, i) => (row.at(-1) as number) / (row[i] as number) / (scale[i] as number));
}

/** The inverse of a small symmetric matrix; null where it is singular. */
export function invert(matrix: readonly (readonly number[])[]): number[][] | null {
  const columns = matrix.map((_, i) =>
    solveLinear(
      matrix,
      matrix.map((__, j) => (i === j ? 1 : 0)),
    ),
  );
  return columns.every((column) => column !== null) ? columns : null;
}
