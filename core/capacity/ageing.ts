import { quadrature, type Quantity } from '../quantity/quantity';
import { coverage95 } from '../statistics/distributions';
import { fitLine, type Line, newPoint, onLine } from '../statistics/line';

/** What a cell or pack held once. */
export interface AgedRun {
  /** How often it had been used by then. */
  cycle?: number | undefined;
  atS?: number | undefined;
  capacityAh: number;
  u?: number | undefined;
  /** Its rate, C. */
  rateC?: number | undefined;
}

/** Where a trend crosses a health, in what it was fitted over. */
export interface Crossing {
  health: number;
  at: number;
  from95: number;
  /** Null where it may never come. */
  to95: number | null;
}

/** Where a trend runs at one place, and between what one more run there will lie, 95 times of 100. */
export interface CoursePoint {
  at: number;
  health: number;
  low95: number;
  high95: number;
}

/** How health falls over cycles or over time. */
export interface Trend {
  /** Per cycle, or per second. */
  slope: Quantity;
  healthNow: Quantity;
  crossings: Crossing[];
  /** How far beyond what was seen the furthest crossing lies, as a share of what was seen. */
  beyond: number;
  /** From the first run to the furthest crossing, or half as far again as was seen. */
  course: CoursePoint[];
}

/** The healths that matter: leaving the demanding duty, and leaving service. */
export const turningPoints = [0.8, 0.7] as const;
/** Runs are compared at one rate: those within this share of the usual one. */
const sameRate = 0.2;
/** From so many runs on their own scatter tells the doubt. */
const ownScatter = 4;
/** No cell fades along a straight line: it may lie off by these shares of the fade seen, and of that beyond it. */
const bendSeen = 0.012;
const bendBeyond = 0.06;
/** A course is told at so many places, and no further beyond the last run than so many times what was seen. */
const coursePoints = 24;
const furthest = 1.5;
const leastBeyond = 0.5;

/** The runs that were taken at the rate most of them share; where no rate is known all. */
export function atOneRate(runs: readonly AgedRun[]): AgedRun[] {
  const alike = (rateC: number): AgedRun[] =>
    runs.filter((one) => one.rateC !== undefined && Math.abs(one.rateC / rateC - 1) <= sameRate);
  const crowds = runs.flatMap(({ rateC }) => (rateC === undefined ? [] : [alike(rateC)]));
  if (crowds.length === 0) return [...runs];
  return crowds.reduce((most, crowd) => (crowd.length > most.length ? crowd : most), []);
}

/**
 * Fits how health falls and where it crosses 80 and 70 %: a straight line by least squares over cycles or time, the
 * crossing with its interval after Fieller. A doubt is added, since fading bends, and what the tools of all runs are
 * off by. Null where the runs are too few, or all at one place.
 * Source: JCGM 100:2008, annex H.3, for the line; E. C. Fieller 1954 for the interval; the bend from simulation.
 *
 * @param over of each run where on the axis it is: cycles, or s
 * @param asNewAh what it held when new, Ah, above 0
 * @param leastSpan runs that lie closer together show no trend yet
 */
export function ageingTrend(
  runs: readonly AgedRun[],
  over: (run: AgedRun) => number | undefined,
  asNewAh: number,
  leastSpan = 0,
): Trend | null {
  // Seconds since 1970 would drown the days between runs: the newest is the origin.
  const origin = Math.max(...runs.map((run) => over(run) ?? -Infinity));
  const trend = Number.isFinite(origin) ? trendFrom(runs, (run) => minus(over(run), origin), asNewAh, leastSpan) : null;
  return (
    trend && {
      ...trend,
      crossings: trend.crossings.map((one) => ({
        ...one,
        at: one.at + origin,
        from95: one.from95 + origin,
        to95: one.to95 === null ? null : one.to95 + origin,
      })),
      course: trend.course.map((one) => ({ ...one, at: one.at + origin })),
    }
  );
}

const minus = (value: number | undefined, origin: number): number | undefined =>
  value === undefined ? undefined : value - origin;

function trendFrom(
  runs: readonly AgedRun[],
  over: (run: AgedRun) => number | undefined,
  asNewAh: number,
  leastSpan: number,
): Trend | null {
  const points = runs.flatMap((run) => {
    const x = over(run);
    const u = runs.length < ownScatter && run.u !== undefined ? run.u / asNewAh : undefined;
    return x === undefined ? [] : [{ x, y: run.capacityAh / asNewAh, ...(u !== undefined && { u }) }];
  });
  const isWeighed = points.every((point) => 'u' in point);
  const xs = points.map(({ x }) => x);
  const span = Math.max(...xs) - Math.min(...xs);
  if (points.length < (isWeighed ? 2 : 3) || !(span > 0) || span < leastSpan) return null;
  const line = fitLine(points);
  const [first, last] = [Math.min(...xs), Math.max(...xs)];
  const factor = coverage95(line.degrees);
  // So that twice of it means the same as of a figure that many readings stand behind.
  const widened = ({ value, u }: Quantity): Quantity => ({ value, u: (u * factor) / coverage95(Infinity) });
  /** What the tools of all runs may be off by: scatter does not show it. */
  const common = isWeighed ? 0 : quadrature(...runs.map(({ u = 0 }) => u / asNewAh)) / Math.sqrt(runs.length);
  const bentAt = (x: number): number =>
    Math.abs(line.slope.value) * (bendSeen * (last - first) + bendBeyond * Math.max(0, x - last));
  const offAt = (x: number): number => quadrature(bentAt(x), common);
  /** Of one run about the line; where too few tell it, what is known of each. */
  const known = quadrature(...points.map(({ u = 0 }) => u)) / Math.sqrt(points.length);
  const scattered = { ...line, residual: Math.max(line.residual, known) };
  const crossings = turningPoints.flatMap((health) => crossingOf(line, factor, health, offAt) ?? []);
  const beyond = Math.max(0, ...crossings.map(({ at }) => (at - last) / (last - first)));
  const until = last + (last - first) * Math.min(furthest, Math.max(leastBeyond, beyond));
  return {
    slope: widened(line.slope),
    healthNow: bent(widened(onLine(line, last)), offAt(last)),
    crossings,
    beyond,
    course: Array.from({ length: coursePoints }, (_, i) => {
      const at = first + ((until - first) * i) / (coursePoints - 1);
      const { value, u } = bent(widened(newPoint(scattered, at)), bentAt(at));
      const reach = coverage95(Infinity) * u;
      return { at, health: value, low95: value - reach, high95: value + reach };
    }),
  };
}

const bent = ({ value, u }: Quantity, by: number): Quantity => ({ value, u: Math.hypot(u, by) });

/** Null where the line does not fall there, as far as is known. */
function crossingOf(line: Line, factor: number, health: number, offAt: (x: number) => number): Crossing | null {
  const { slope, intercept } = line;
  if (slope.value + factor * slope.u >= 0) return null;
  const at = (health - intercept.value) / slope.value;
  /** By how much the line may lie off at a place. */
  const doubtAt = (x: number): number => Math.hypot(factor * onLine(line, x).u, coverage95(Infinity) * offAt(x));
  const mayBe = (x: number): boolean => Math.abs(onLine(line, x).value - health) <= doubtAt(x);
  return { health, at, from95: boundOf(at, -1, mayBe, slope) ?? at, to95: boundOf(at, 1, mayBe, slope) };
}

/** How far to one side of the crossing the line may still cross there; null where that has no end. */
function boundOf(at: number, way: 1 | -1, mayBe: (x: number) => boolean, { value }: Quantity): number | null {
  /** A tenth of a per cent of health, and ten times all of it. */
  const least = Math.abs(0.001 / value);
  let out = least;
  while (mayBe(at + way * out)) {
    out *= 2;
    if (out > Math.abs(10 / value)) return null;
  }
  let [inside, outside] = [0, out];
  for (let i = 0; i < 40; i++) {
    const middle = (inside + outside) / 2;
    if (mayBe(at + way * middle)) inside = middle;
    else outside = middle;
  }
  return at + way * outside;
}
