import type { Slip } from '@/workshop/frame';

/**
 * What belongs together on the watch: cells of one batch that rest after the same, those that are due apart from those
 * that are not. In the order of time.
 */
export function groupsOf(slips: readonly Slip[], now: number): Slip[][] {
  const groups = new Map<string, Slip[]>();
  for (const slip of [...slips].sort((a, b) => a.dueAtMs - b.dueAtMs)) {
    const key = slip.entry ?? `${slip.batch} ${slip.reason} ${slip.dueAtMs <= now}`;
    groups.set(key, [...(groups.get(key) ?? []), slip]);
  }
  return [...groups.values()];
}
