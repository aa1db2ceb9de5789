/** Something on the watch. */
export interface Slip {
  /** Null for a cell whose rest follows from its log. */
  entry: string | null;
  code: string;
  batch: string;
  reason: 'charge' | 'discharge';
  /** Milliseconds since 1970. */
  dueAt: number;
  /** Somebody saw that it is due. */
  seen: boolean;
}

/**
 * What belongs together on the watch: cells of one batch that rest after the same, those that are due apart from those
 * that are not. In the order of time.
 */
export function groupsOf(slips: readonly Slip[], now: number): Slip[][] {
  const groups = new Map<string, Slip[]>();
  for (const slip of [...slips].sort((a, b) => a.dueAt - b.dueAt)) {
    const key = slip.entry ?? `${slip.batch} ${slip.reason} ${slip.dueAt <= now}`;
    groups.set(key, [...(groups.get(key) ?? []), slip]);
  }
  return [...groups.values()];
}
