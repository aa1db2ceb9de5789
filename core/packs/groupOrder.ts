import { median } from 'simple-statistics';

/** The voltages of all groups of a pack, V. */
type Groups = readonly number[];

/** Groups that differ by less show no order, V. */
const leastImbalanceV = 0.015;
/** The other way round they must fit this many times better. */
const timesBetter = 2;

const awayFromMedian = (groups: Groups): number[] => groups.map((v) => v - median([...groups]));

const misfitV = (one: Groups, other: Groups): number =>
  one.reduce((sum, v, i) => sum + Math.abs(v - (other[i] ?? NaN)), 0);

const areAll = (groups: readonly (number | null)[]): groups is Groups => !groups.includes(null);

/**
 * Whether groups that begin at the positive terminal would explain what a log shows: its voltages relate to each other
 * as those read last, the other way round. Source: own rule.
 *
 * @param logged what a pack is read at, or a log begins with, V; null where a group was not read
 */
export function looksTurned(logged: readonly (number | null)[], readLast: readonly (number | null)[]): boolean {
  if (logged.length !== readLast.length || logged.length < 2 || !areAll(logged) || !areAll(readLast)) return false;
  const [now, last] = [awayFromMedian(logged), awayFromMedian(readLast)];
  if (Math.max(...last) - Math.min(...last) < leastImbalanceV) return false;
  return timesBetter * misfitV(now.toReversed(), last) < misfitV(now, last) && misfitV(now, last) > leastImbalanceV;
}
