/** Readings at the end of a charge that are nearer than this belong to one charge. */
const oneChargeMs = 4 * 3_600_000;

/**
 * Cycles of a pack: those noted last, and every charge noted since. Source: common practice, a cycle is a charge.
 *
 * @param noted the count that was noted last and when; null where nobody did
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
