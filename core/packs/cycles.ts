/** Readings at the end of a charge that are nearer than this belong to one charge. */
const oneChargeMs = 4 * 3_600_000;

/**
 * Cycles of a pack: those noted last, and every charge noted since. Source: common practice, a cycle is a charge.
 *
 * @param noted the count that was noted last and when; null where not noted
 * @param chargeEnds when it was read at the end of a charge, in any order
 * @returns null where nothing is known of any
 */
export function cyclesNow(noted: { count: number; at: Date } | null, chargeEnds: readonly Date[]): number | null {
  if (noted === null && chargeEnds.length === 0) return null;
  const since = chargeEnds
    .map((end) => end.getTime())
    .filter((end) => end > (noted?.at.getTime() ?? -Infinity))
    .sort((a, b) => a - b);
  const charges = since.filter((end, i) => end - (since[i - 1] ?? -Infinity) >= oneChargeMs);
  return (noted?.count ?? 0) + charges.length;
}

/**
 * Cycles at a moment: between two counts by the time between them, after the last as in `cyclesNow`.
 *
 * @param counts what was noted, the oldest first; the day it was new is a count of 0
 * @returns null before the first count, or where nothing is known
 */
export function cyclesAt(
  counts: readonly { count: number; at: Date }[],
  chargeEnds: readonly Date[],
  moment: Date,
): number | null {
  const before = counts.findLast(({ at }) => at <= moment);
  const after = counts.find(({ at }) => at > moment);
  if (before && after) {
    const fraction = (moment.getTime() - before.at.getTime()) / (after.at.getTime() - before.at.getTime());
    return before.count + fraction * (after.count - before.count);
  }
  if (!before && counts.length > 0) return null;
  const until = chargeEnds.filter((end) => end <= moment);
  return cyclesNow(before ?? null, until);
}
