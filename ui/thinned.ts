/** More points than this in one chart only cover each other. */
const mostPoints = 900;
const [across, down] = [90, 60];

/**
 * Points for a chart, where there are too many one of each small patch and kind, the first: an outlier has a
 * patch of its own and stays. `count` says how many it is drawn for.
 *
 * @param kind points of different kinds are never merged
 */
export function thinned<T extends { x: number; y: number }>(
  points: readonly T[],
  kind: (point: T) => string = () => '',
): (T & { count: number })[] {
  if (points.length <= mostPoints) return points.map((point) => ({ ...point, count: 1 }));
  const spanOf = (axis: 'x' | 'y'): [number, number] =>
    points.reduce<[number, number]>(
      ([low, high], point) => [Math.min(low, point[axis]), Math.max(high, point[axis])],
      [Infinity, -Infinity],
    );
  const [[left, right], [bottom, top]] = [spanOf('x'), spanOf('y')];
  const patches = new Map<string, T & { count: number }>();
  for (const point of points) {
    const patch =
      `${Math.round(((point.x - left) / (right - left || 1)) * across)} ` +
      `${Math.round(((point.y - bottom) / (top - bottom || 1)) * down)} ${kind(point)}`;
    const first = patches.get(patch);
    if (first) first.count += 1;
    else patches.set(patch, { ...point, count: 1 });
  }
  return [...patches.values()];
}
