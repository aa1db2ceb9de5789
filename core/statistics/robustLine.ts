import { median } from 'simple-statistics';
import { crowdOf, isOdd } from './crowd';
import { fitLine, type Line } from './line';

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

/** The factor of the crowd's rule for what is odd. */
const usualK = 3.5;

/**
 * A straight line that one odd point does not drag along: the median of the slopes of all pairs tells how the points
 * lie, those that lie off it as no crowd of that size does by chance are named, and the others are fitted by least
 * squares. Source: Theil 1950 and Sen 1968 for the slope.
 *
 * @throws ImpossibleInput as `fitLine` does
 */
export function robustLine(points: readonly Point[]): RobustLine {
  const slopes = points.flatMap((a, i) =>
    points.slice(i + 1).flatMap((b) => (a.x === b.x ? [] : [(b.y - a.y) / (b.x - a.x)])),
  );
  if (slopes.length === 0) return { line: fitLine(points), odd: [] };
  const slope = median(slopes);
  const rests = points.map(({ x, y }) => y - slope * x);
  // Points that lie on a line to the last digit have no spread; what is off by rounding is not odd.
  const rounding = 1e-9 * Math.max(...points.map(({ y }) => Math.abs(y)));
  const crowd = crowdOf(rests, usualK, rounding);
  const odd = rests.flatMap((rest, i) => (isOdd(rest, crowd) ? [i] : []));
  return { line: fitLine(points.filter((_, i) => !odd.includes(i))), odd };
}
