import { median } from 'simple-statistics';
import { populationOf, isOutlier } from './population';
import { tQuantile } from './distributions';
import { fitLine, type Line, newPoint } from './line';

interface Point {
  x: number;
  y: number;
}

export interface RobustLine {
  /** Through all points but the odd ones. */
  line: Line;
  /** Which points lie off the line that the others make, by their place. */
  odd: number[];
}

/** More points than these have too many pairs to look at each. */
const mostPaired = 120;
/** The factor of the population's rule for what may be odd. */
const usualK = 3.5;
/** Of this many sets without an odd point one loses a point all the same. */
const falseAlarm = 0.005;

/**
 * A straight line that one odd point does not drag along. The median of the slopes of all pairs shows how the points
 * lie, and which may lie off it; odd are those of them that the line through all others does not predict, so seldom
 * that hardly any set without an odd point loses one. The others are fitted by least squares. Source: Theil 1950 and
 * Sen 1968 for the slope, for many points by Theil's incomplete method; Cook and Weisberg 1982 for the test of a point
 * against the line without it.
 *
 * @throws ImpossibleInput as `fitLine` does
 */
export function robustLine(points: readonly Point[]): RobustLine {
  const suspects = farOff(points);
  if (suspects.length === 0 || points.length - suspects.length < 3) return { line: fitLine(points), odd: [] };
  const others = fitLine(points.filter((_, i) => !suspects.includes(i)));
  const k = tQuantile(1 - falseAlarm / (2 * points.length), others.degrees);
  const outliers = suspects.filter((i) => {
    const { x, y } = points[i] as Point;
    const { value, u } = newPoint(others, x);
    return Math.abs(y - value) > k * u;
  });
  return { line: fitLine(points.filter((_, i) => !outliers.includes(i))), odd: outliers };
}

/** Every pair of a few points; of many each with the one half of them further on, which does as well. */
function pairsOf(points: readonly Point[]): [Point, Point][] {
  if (points.length <= mostPaired)
    return points.flatMap((a, i) => points.slice(i + 1).map((b): [Point, Point] => [a, b]));
  const inOrder = [...points].sort((a, b) => a.x - b.x);
  const half = Math.ceil(points.length / 2);
  return inOrder.slice(half).map((b, i) => [inOrder[i] as Point, b]);
}

/** Which points lie off the line of the median slope as no population of that size does. */
function farOff(points: readonly Point[]): number[] {
  const slopes = pairsOf(points).flatMap(([a, b]) => (a.x === b.x ? [] : [(b.y - a.y) / (b.x - a.x)]));
  if (slopes.length === 0) return [];
  const slope = median(slopes);
  const rests = points.map(({ x, y }) => y - slope * x);
  // Points that lie on a line to the last digit have no scatter; what is off by rounding is not odd.
  const rounding = 1e-9 * Math.max(...points.map(({ y }) => Math.abs(y)));
  const population = populationOf(rests, usualK, rounding);
  return rests.flatMap((rest, i) => (isOutlier(rest, population) ? [i] : []));
}
