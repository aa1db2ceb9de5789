/** Something on the watch. */
export interface Slip {
  /** Null for a cell whose rest follows from its log. */
  restId: number | null;
  code: string;
  batch: string;
  reason: 'charge' | 'discharge';
  /** Milliseconds since 1970. */
  dueAt: number;
}

/**
 * What belongs together on the watch: cells of one batch that rest after the same, those that are due apart from those
 * that are not. In the order of time.
 */
export function groupsOf(slips: readonly Slip[], now: number): Slip[][] {
  const groups = new Map<string, Slip[]>();
  for (const slip of [...slips].sort((a, b) => a.dueAt - b.dueAt)) {
    const key = slip.restId === null ? `${slip.batch} ${slip.reason} ${slip.dueAt <= now}` : `rest ${slip.restId}`;
    groups.set(key, [...(groups.get(key) ?? []), slip]);
  }
  return [...groups.values()];
}
