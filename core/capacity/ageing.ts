import { quadrature, type Quantity } from '../quantity/quantity';
import { fixedDeviates } from '../statistics/random';
import { ageingShapes, type AgeingShape } from './ageingShapes';

/** One capacity measurement of a cell or pack. */
export interface AgedRun {
  /** Cycles done by then. */
  cycle?: number | undefined;
  atS?: number | undefined;
  capacityAh: number;
  u?: number | undefined;
  /** Discharge rate, C. */
  rateC?: number | undefined;
  temperatureC?: number | undefined;
  /** Voltage at which the discharge ended, V a group. */
  endV?: number | undefined;
}

/** Where the trend crosses a health, in the unit of its axis. */
export interface Crossing {
  health: number;
  at: number;
  from95: number;
  /** Null where it may never come. */
  to95: number | null;
}

/** The trend at one place, and the 95 % interval of one more run there. */
export interface CoursePoint {
  at: number;
  health: number;
  low95: number;
  high95: number;
}

/** How health falls over cycles or over time. */
export interface Trend {
  /** Over the runs seen, per cycle or per second. */
  slope: Quantity;
  healthNow: Quantity;
  crossings: Crossing[];
  /** Whether the fade speeds up, slows down, or is as good as straight. */
  bend: 'straight' | 'speeds-up' | 'slows-down';
  /** How far past the last run the furthest crossing lies, as a multiple of the span of the runs. */
  beyond: number;
  /** From the first run to the furthest crossing, at most one and a half spans past the last run. */
  course: CoursePoint[];
}

/** The healths that matter: leaving the demanding duty, and leaving service. */
export const turningPoints = [0.8, 0.7] as const;
/** Runs compare within this fraction of a rate, this difference in temperature, and this one of the end voltage. */
const sameRate = 0.2;
const sameTemperatureC = 8;
const sameEndV = 0.05;
/** The 95 % interval is read from this many weighted curves. */
const curves = 1500;
/** A crossing further past the last run than this many spans counts as never. */
const horizon = 20;
/** Scatter from day to day as a fraction of the capacity, and how well that is known (a factor). From memory. */
const usualScatter = 0.007;
const scatterFactor = 2;
const scatters = [0.0015, 0.0022, 0.0032, 0.0046, 0.0067, 0.0098, 0.0143, 0.021, 0.03, 0.045, 0.065];
/** A bend is named from this probability. */
const bendKnown = 0.9;
const coursePoints = 24;
const furthest = 1.5;
const leastBeyond = 0.5;

const isAlike = (one: AgedRun, other: AgedRun): boolean =>
  isNear(one.rateC, other.rateC, sameRate * (other.rateC ?? 0)) &&
  isNear(one.temperatureC, other.temperatureC, sameTemperatureC) &&
  isNear(one.endV, other.endV, sameEndV);

/** Unknown is not alike to known: the two are not one trend. */
const isNear = (one: number | undefined, other: number | undefined, within: number): boolean =>
  one === undefined || other === undefined ? one === other : Math.abs(one - other) <= within;

/** The largest set of runs at one rate, one temperature and one end voltage, in their order. */
export const underOneCondition = (runs: readonly AgedRun[]): AgedRun[] =>
  runs
    .map((run) => runs.filter((one) => isAlike(one, run)))
    // Runs at a known rate before as many at an unknown one.
    .reduce<AgedRun[]>((most, set) => (rank(set) > rank(most) ? set : most), []);

const rank = (set: readonly AgedRun[]): number => set.length + (set[0]?.rateC === undefined ? 0 : 0.5);

/** One curve that the runs allow: `start − fade · shape`. */
interface Curve {
  shape: AgeingShape;
  start: number;
  fade: number;
  /** The true health is this times what the tools show. */
  tools: number;
  /** What one more run would lie off by. */
  ofOneRun: number;
}

/**
 * Fits how health falls over cycles or time. The curve may be a power of the axis, or straight with a knee, seen
 * already or still to come; each shape is fitted by least squares, weighted by its likelihood, and the crossings of
 * 80 and 70 % are quantiles over all of them. Null with fewer than two runs, without an uncertainty fewer than three,
 * or where all runs are at one place.
 * Source: Bayesian model averaging, J. A. Hoeting et al., Statistical Science 14 (1999); the prior is from memory.
 *
 * @param over place of a run on the axis: cycles, or s
 * @param origin where the fade began; undefined: at the first run
 * @param asNewAh capacity when new, Ah, above 0
 * @param leastSpan a shorter span of runs shows no trend
 */
export function ageingTrend(
  runs: readonly AgedRun[],
  over: (run: AgedRun) => number | undefined,
  { asNewAh, origin, leastSpan = 0 }: { asNewAh: number; origin?: number | undefined; leastSpan?: number },
): Trend | null {
  const points = runs.flatMap((run) => {
    const x = over(run);
    return x === undefined ? [] : [{ x, y: run.capacityAh / asNewAh, u: run.u === undefined ? null : run.u / asNewAh }];
  });
  const xs = points.map(({ x }) => x);
  const [first, last] = [Math.min(...xs), Math.max(...xs)];
  const least = points.every(({ u }) => u !== null) ? 2 : 3;
  if (points.length < least || !(last > first) || last - first < leastSpan) return null;
  const toolsU = quadrature(...points.map(({ u }) => u ?? 0)) / Math.sqrt(points.length);
  const shapes = ageingShapes({ origin: Math.min(origin ?? first, first), first, last });
  const drawn = drawCurves(weigh(points, shapes, toolsU), toolsU);
  const span = last - first;
  const crossings = turningPoints.flatMap((health) => crossingOf(drawn, health, last + horizon * span) ?? []);
  const beyond = Math.max(0, ...crossings.map(({ at }) => (at - last) / span));
  const until = last + span * Math.min(furthest, Math.max(leastBeyond, beyond));
  const valueAt = ({ start, fade, shape }: Curve, x: number): number => start - fade * shape.at(x);
  return {
    slope: momentsOf(drawn.map(({ fade }) => -fade / span)),
    healthNow: momentsOf(drawn.map((curve) => curve.tools * valueAt(curve, last))),
    crossings,
    bend: bendOf(drawn),
    beyond,
    course: Array.from({ length: coursePoints }, (_, i) => {
      const at = first + ((until - first) * i) / (coursePoints - 1);
      const seen = sorted(drawn.map((curve) => valueAt(curve, at) + curve.ofOneRun));
      return { at, health: quantile(seen, 0.5), low95: quantile(seen, 0.025), high95: quantile(seen, 0.975) };
    }),
  };
}

type Point = { x: number; y: number };

/** A shape and a scatter with the fit under them and its weight. */
interface Fit {
  shape: AgeingShape;
  scatter: number;
  weight: number;
  start: number;
  fade: number;
  /** Cholesky factor of the covariance of start and fade. */
  factor: [startU: number, shared: number, fadeU: number];
}

function weigh(points: readonly Point[], shapes: readonly AgeingShape[], toolsU: number): Fit[] {
  // Tools may err from run to run as well as alike in all of them.
  const expected = Math.hypot(usualScatter, toolsU / 2);
  const fits = shapes.flatMap((shape) => {
    const { start, fade, sumOfSquares, inverse, determinant } = leastSquares(points, shape);
    return scatters.map((scatter) => {
      const off = Math.log(scatter / expected) / Math.log(scatterFactor);
      const log =
        Math.log(shape.prior) -
        0.5 * off * off -
        (points.length - 2) * Math.log(scatter) -
        sumOfSquares / (2 * scatter * scatter) -
        0.5 * Math.log(determinant);
      const [aa, ab, bb] = inverse;
      const startU = scatter * Math.sqrt(aa);
      const shared = (scatter * ab) / Math.sqrt(aa);
      const fadeU = scatter * Math.sqrt(Math.max(0, bb - (ab * ab) / aa));
      return { shape, scatter, log, start, fade, factor: [startU, shared, fadeU] as Fit['factor'] };
    });
  });
  const best = Math.max(...fits.map(({ log }) => log));
  return fits.map(({ log, ...fit }) => ({ ...fit, weight: Math.exp(log - best) }));
}

/** Of `y = start − fade · shape(x)`; the inverse is of the normal equations. */
function leastSquares(points: readonly Point[], shape: AgeingShape) {
  let [sg, sgg, sy, sgy] = [0, 0, 0, 0];
  for (const { x, y } of points) {
    const g = -shape.at(x);
    sg += g;
    sgg += g * g;
    sy += y;
    sgy += g * y;
  }
  const n = points.length;
  const determinant = n * sgg - sg * sg;
  const start = (sgg * sy - sg * sgy) / determinant;
  const fade = (n * sgy - sg * sy) / determinant;
  const sumOfSquares = points.reduce((sum, { x, y }) => sum + (y - start + fade * shape.at(x)) ** 2, 0);
  const inverse = [sgg / determinant, -sg / determinant, n / determinant] as const;
  return { start, fade, sumOfSquares, inverse, determinant };
}

/** Of each curve: start, fade, tools, one more run. */
const deviatesEach = 4;

/** Curves from the fits in proportion to their weights. */
function drawCurves(fits: readonly Fit[], toolsU: number): Curve[] {
  const total = fits.reduce((sum, { weight }) => sum + weight, 0);
  const deviates = fixedDeviates();
  let passed = 0;
  let drawn = 0;
  return fits.flatMap(({ shape, scatter, weight, start, fade, factor: [startU, shared, fadeU] }) => {
    passed += weight / total;
    const own = Array.from({ length: Math.round(passed * curves) - drawn }, (_, i): Curve => {
      const deviate = (k: number): number => deviates[deviatesEach * (drawn + i) + k] as number;
      return {
        shape,
        start: start + startU * deviate(0),
        fade: fade + shared * deviate(0) + fadeU * deviate(1),
        tools: 1 + toolsU * deviate(2),
        ofOneRun: scatter * deviate(3),
      };
    });
    drawn += own.length;
    return own;
  });
}

/** Null where fewer than half of the curves get there. */
function crossingOf(drawn: readonly Curve[], health: number, latest: number): Crossing | null {
  const places = sorted(
    drawn.map(({ shape, start, fade, tools }) => {
      if (!(fade > 0)) return Infinity;
      const at = shape.where((start - health / tools) / fade);
      return at <= latest ? at : Infinity;
    }),
  );
  const [from95, at, to95] = [0.025, 0.5, 0.975].map((p) => quantile(places, p)) as [number, number, number];
  return Number.isFinite(at) ? { health, at, from95, to95: Number.isFinite(to95) ? to95 : null } : null;
}

function bendOf(drawn: readonly Curve[]): Trend['bend'] {
  const fractionThat = (is: (shape: AgeingShape) => boolean): number =>
    drawn.filter(({ shape }) => is(shape)).length / drawn.length;
  if (fractionThat(({ bend }) => bend > 0) >= bendKnown) return 'speeds-up';
  return fractionThat(({ bend }) => bend < 0) >= bendKnown ? 'slows-down' : 'straight';
}

const sorted = (values: readonly number[]): Float64Array => Float64Array.from(values).sort();
const quantile = (ascending: Float64Array, p: number): number =>
  ascending[Math.min(ascending.length - 1, Math.floor(p * ascending.length))] as number;

function momentsOf(values: readonly number[]): Quantity {
  const value = values.reduce((sum, one) => sum + one, 0) / values.length;
  return { value, u: Math.sqrt(values.reduce((sum, one) => sum + (one - value) ** 2, 0) / (values.length - 1)) };
}
