import type { CourseAt } from './dischargeTally';
import type { Segment } from './segments';

/** Voltage at this much charge taken out, from full to the cut-off: of the whole, the first at no charge. */
export interface OpenCourse {
  /** Rested in between, or drawn so slowly that the voltage hardly lags. */
  by: 'rests' | 'slow';
  points: [chargeAh: number, voltageV: number][];
  /** Under load as it was drawn slowly, A; 0 at rest. */
  currentA: number;
}

/** After a rest of this length the voltage is the open-circuit voltage. */
const leastRestS = 1200;
/** This many rests make a curve. */
const leastRests = 6;
/** A discharge that lasts this long is at about 0.05C or below. */
const leastSlowS = 18 * 3600;
const mostPoints = 60;

/** What a discharge down to its cut-off shows of the open-circuit voltage; null where neither slow nor rested. */
export function openCourseOf(
  at: { toS: number; chargeAs: number; loadedS: number; course: readonly CourseAt[] },
  segments: readonly Segment[],
): OpenCourse | null {
  const rests = restedPoints(at.toS, segments);
  if (rests.length >= leastRests) return { by: 'rests', points: rests, currentA: 0 };
  if (at.loadedS < leastSlowS || at.course.length < mostPoints) return null;
  const every = Math.ceil(at.course.length / mostPoints);
  const points = at.course
    .filter((_, i) => i % every === 0 || i === at.course.length - 1)
    .map(({ chargeAs, voltageV }): [number, number] => [chargeAs / 3600, voltageV]);
  return { by: 'slow', points, currentA: at.chargeAs / at.loadedS };
}

/** The end of each rest up to the cut-off, and of that after it. */
function restedPoints(toS: number, segments: readonly Segment[]): [number, number][] {
  const points: [number, number][] = [];
  let chargeAh = 0;
  for (const { kind, fromS, toS: endS, chargeAh: flowed, endVoltageV } of segments) {
    // A charge in between begins another discharge.
    if (kind === 'charge') points.length = chargeAh = 0;
    if (kind === 'discharge') chargeAh += flowed;
    if (kind === 'rest' && endS - fromS >= leastRestS) points.push([chargeAh, endVoltageV]);
    if (kind === 'rest' && fromS >= toS) break;
  }
  return points;
}
