/** Two full discharges in a row within this share of each other give a settled capacity. From memory. */
const settledWithin = 0.03;
/** Later ones belong to another storage, ms. */
const soonMs = 14 * 86_400_000;

/** Whether the capacity of a new or long stored nickel battery has settled, by its last two discharges. */
export type Settled = { code: 'settled' | 'rising' | 'falling'; lastAh: number; beforeAh: number };

/**
 * The sign that cycling is done: it gives no more than the time before. Null with fewer than two discharges soon after
 * each other. Source: common practice, two or three cycles settle it.
 *
 * @param discharges the oldest first
 */
export function settledBy(discharges: readonly { endedAt: Date; capacityAh: number }[]): Settled | null {
  const [before, last] = discharges.slice(-2);
  if (!before || !last || last.endedAt.getTime() - before.endedAt.getTime() > soonMs) return null;
  const change = last.capacityAh / before.capacityAh - 1;
  const figures = { lastAh: last.capacityAh, beforeAh: before.capacityAh };
  if (Math.abs(change) <= settledWithin + 1e-9) return { code: 'settled', ...figures };
  return { code: change > 0 ? 'rising' : 'falling', ...figures };
}
