import type { HouseRules } from '../chemistry/houseRules';
import { type GroupResistances, medianOf } from './groupResistances';

/** The first reading of a group beside what a match promised of it. */
export interface HeldGroup {
  position: number;
  /** How many times what its promise and the others let expect. */
  beyond: number;
  /** By more than groups that are joined well do. */
  isOdd: boolean;
}

/**
 * The first time that each group was measured since the cells of a pack were last changed: earlier readings are of
 * other cells. Null where none is.
 *
 * @param times the newest first
 */
export const firstOfTheseCells = <T extends { takenAt: Date; groups: readonly unknown[] }>(
  times: readonly T[],
  series: number,
  mends: readonly { at: Date }[],
): T | null =>
  times.findLast(({ groups, takenAt }) => groups.length === series && mends.every(({ at }) => takenAt > at)) ?? null;

/**
 * The first resistances of a welded pack against those of its cells. The ratio of each group to its promise is compared
 * with the usual ratio in the pack, so that it does not matter by which method that is read: a joint that adds its own
 * is an outlier. Null where the cells' figures or a group's are not all known, and for one group, which has nothing to
 * be compared with. Source: common practice.
 *
 * @param promisedOhm of each group, from the negative terminal: of its cells in parallel, ten-second figures
 */
export function heldAgainstPromise(
  promisedOhm: readonly (number | null)[],
  { groups }: Pick<GroupResistances, 'groups'>,
  rules: HouseRules,
): HeldGroup[] | null {
  const promised = promisedOhm.flatMap((ohm) => ohm ?? []);
  if (promised.length < promisedOhm.length || groups.length !== promised.length || groups.length < 2) return null;
  const times = groups.map(({ position, resistance }) => resistance.value / (promised[position - 1] ?? NaN));
  const usual = medianOf(times);
  return groups.map(({ position }, i): HeldGroup => {
    const beyond = (times[i] ?? NaN) / usual;
    return { position, beyond, isOdd: beyond >= rules.groupResistanceWatch };
  });
}
