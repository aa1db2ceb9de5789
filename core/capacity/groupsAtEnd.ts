import { quadrature, type Quantity } from '../quantity/quantity';
import type { CourseAt } from './dischargeTally';

/** One group of a pack as its discharge ended. */
export interface GroupAtEnd {
  /** From the negative terminal. */
  position: number;
  endVoltageV: number;
  reachedCutoff: boolean | null;
  /** What it could have given on, down to its own cut-off; null where the log does not show it. */
  leftAh: Quantity | null;
}

interface Ended {
  chargeAs: number;
  groupsV: readonly number[] | null;
  course: readonly CourseAt[];
  groupJumpsV: readonly number[] | null;
  /** Whether the discharge met its cut-off. */
  end: unknown;
}

/** Where no rest was logged, groups are taken to drop alike under load, within this much, V (a limit). */
const assumedDropV = 0.04;
/** Groups of one pack have curves alike within this much, V (standard uncertainty). */
const alikeU = 0.006;

/**
 * The groups as a discharge ended, and what each but the weakest had left: the weakest stood where another ended when
 * it had as much left as that one, were they alike. Were they charged alike and hold differently, that is more by the
 * ratio; were they charged differently, it is not: both lie within the uncertainty. How much each drops under load is
 * known from the rest before or after it. Source: own method, by the equal charge through groups in series.
 *
 * @param voltageU standard uncertainty of one reading of a group, V
 */
export function groupsAtEnd(at: Ended, cutoffPerGroupV: number | null, voltageU: number): GroupAtEnd[] | null {
  const { groupsV } = at;
  if (!groupsV) return null;
  const weakest = groupsV.indexOf(Math.min(...groupsV));
  const met = cutoffPerGroupV !== null && at.end !== null;
  return groupsV.map((endVoltageV, i) => {
    const isWeakest = i === weakest;
    const known = met && isWeakest ? { value: 0, u: 0 } : null;
    return {
      position: i + 1,
      endVoltageV,
      reachedCutoff: cutoffPerGroupV === null ? null : met && isWeakest,
      leftAh: met && !isWeakest ? leftOf(i, weakest, at, groupsV, voltageU) : known,
    };
  });
}

function leftOf(
  i: number,
  weakest: number,
  { chargeAs, course, groupJumpsV }: Ended,
  endV: readonly number[],
  voltageU: number,
): Quantity | null {
  // At rest both voltages would be higher, each by its own drop.
  const moreDropV = groupJumpsV ? (groupJumpsV[i] ?? 0) - (groupJumpsV[weakest] ?? 0) : 0;
  const dropU = groupJumpsV ? Math.SQRT2 * voltageU : assumedDropV / Math.sqrt(3);
  const soughtV = (endV[i] ?? NaN) + moreDropV;
  const u = quadrature(Math.SQRT2 * voltageU, dropU, alikeU);
  const [at, earlier, later] = [soughtV, soughtV + u, soughtV - u].map((v) => chargeAt(course, weakest, v));
  if (at === undefined || earlier === undefined || later === undefined || at <= 0) return null;
  const same = chargeAs - at;
  const ratio = chargeAs / at;
  const [least, most] = [same, same * ratio];
  const slopeAs = Math.abs(later - earlier) / 2;
  return {
    value: Math.max(0, (least + most) / 2) / 3600,
    u: quadrature((most - least) / 2 / Math.sqrt(3), slopeAs * ratio) / 3600,
  };
}

/** The charge by which the weakest group had fallen to that voltage; that of the ends beyond them. */
function chargeAt(course: readonly CourseAt[], weakest: number, voltageV: number): number | undefined {
  const next = course.findIndex(({ groupsV }) => (groupsV?.[weakest] ?? NaN) <= voltageV);
  if (next < 0) return course.at(-1)?.chargeAs;
  const [before, after] = [course[next - 1], course[next]];
  if (!before || !after) return after?.chargeAs;
  const [highV, lowV] = [before.groupsV?.[weakest] ?? NaN, after.groupsV?.[weakest] ?? NaN];
  return before.chargeAs + ((highV - voltageV) / Math.max(1e-9, highV - lowV)) * (after.chargeAs - before.chargeAs);
}
