import { ImpossibleInput } from '../impossibleInput';

/** A curve through given points that rises wherever they rise and never overshoots. */
export interface MonotoneCurve {
  /** Value at x; held constant beyond the ends. */
  at(x: number): number;
  /** Slope at x. */
  slopeAt(x: number): number;
  /** The x with that value, for a rising curve; held at the ends. */
  inverseAt(y: number): number;
}

/**
 * Monotone piecewise cubic interpolation.
 * Source: F. N. Fritsch and R. E. Carlson, SIAM J. Numer. Anal. 17 (1980) 238.
 *
 * @param xs strictly rising
 * @param ys never falling
 * @throws ImpossibleInput when fewer than two points are given or they are not in order
 */
export function monotoneCurve(xs: readonly number[], ys: readonly number[]): MonotoneCurve {
  const points = xs.map((x, i) => ({ x, y: ys[i] ?? NaN }));
  const inOrder = points.every((p, i) => {
    const before = points[i - 1];
    return Number.isFinite(p.y) && (!before || (p.x > before.x && p.y >= before.y));
  });
  if (points.length < 2 || !inOrder) throw new ImpossibleInput('points', { code: 'points-not-rising' });

  const tangents = limitedTangents(xs, ys);
  const last = xs.length - 1;

  const pieceOf = (sorted: readonly number[], value: number): number => {
    let low = 0;
    let high = last;
    while (high - low > 1) {
      const mid = (low + high) >> 1;
      if ((sorted[mid] as number) <= value) low = mid;
      else high = mid;
    }
    return low;
  };

  const hermite = (x: number, derivative: boolean, i = pieceOf(xs, x)): number => {
    const [x0, x1, y0, y1] = [xs[i], xs[i + 1], ys[i], ys[i + 1]] as [number, number, number, number];
    const [m0, m1] = [tangents[i], tangents[i + 1]] as [number, number];
    const h = x1 - x0;
    const t = (x - x0) / h;
    if (derivative) {
      return ((6 * t * t - 6 * t) * (y0 - y1)) / h + (3 * t * t - 4 * t + 1) * m0 + (3 * t * t - 2 * t) * m1;
    }
    const t2 = t * t;
    const t3 = t2 * t;
    return (2 * t3 - 3 * t2 + 1) * y0 + (t3 - 2 * t2 + t) * h * m0 + (3 * t2 - 2 * t3) * y1 + (t3 - t2) * h * m1;
  };

  const [firstX, lastX] = [xs[0], xs[last]] as [number, number];
  const [firstY, lastY] = [ys[0], ys[last]] as [number, number];
  const at = (x: number): number => {
    if (x <= firstX) return firstY;
    return x >= lastX ? lastY : hermite(x, false);
  };

  return {
    at,
    slopeAt: (x) => hermite(Math.min(lastX, Math.max(firstX, x)), true),
    inverseAt: (y) => {
      if (y <= firstY) return firstX;
      if (y >= lastY) return lastX;
      const i = pieceOf(ys, y);
      let [low, high] = [xs[i], xs[i + 1]] as [number, number];
      // Newton's steps within a bracket, halved where a step would leave it.
      let x = (low + high) / 2;
      for (let step = 0; step < mostSteps; step++) {
        const off = hermite(x, false, i) - y;
        if (off < 0) low = x;
        else high = x;
        const next = x - off / hermite(x, true, i);
        const to = next > low && next < high ? next : (low + high) / 2;
        if (Math.abs(to - x) < closeEnough) return to;
        x = to;
      }
      return x;
    },
  };
}

const [mostSteps, closeEnough] = [80, 1e-14];

/** Tangents from the neighbouring secants, shortened where they would overshoot. */
function limitedTangents(xs: readonly number[], ys: readonly number[]): number[] {
  const secants = xs.slice(1).map((x, i) => ((ys[i + 1] as number) - (ys[i] as number)) / (x - (xs[i] as number)));
  const tangents = xs.map((_, i) => {
    const left = secants[i - 1];
    const right = secants[i];
    if (left === undefined) return right as number;
    return right === undefined ? left : (left + right) / 2;
  });
  secants.forEach((secant, i) => {
    if (secant === 0) {
      tangents[i] = 0;
      tangents[i + 1] = 0;
      return;
    }
    const a = (tangents[i] as number) / secant;
    const b = (tangents[i + 1] as number) / secant;
    const length = Math.hypot(a, b);
    if (length > 3) {
      tangents[i] = (3 * a * secant) / length;
      tangents[i + 1] = (3 * b * secant) / length;
    }
  });
  return tangents;
}
