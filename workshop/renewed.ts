import type { Snapshot } from '@/records/database';
import { isDeepStrictEqual } from 'node:util';

/** A value made from the records, perhaps still being made, and what was visible before. */
export interface Kept<T> {
  snapshot: Snapshot;
  value: Promise<T>;
}

/**
 * What is kept, if nothing changed since; otherwise `make` makes it from the one before, which is null where the
 * database is another. Two that ask at once wait for the same making. What fails is not kept.
 *
 * @param snapshot taken before anything is read: a value is then never older than the snapshot it is kept under
 */
export function renewed<T>(
  kept: Kept<T> | undefined,
  snapshot: Snapshot,
  keep: (now: Kept<T> | undefined) => void,
  make: (before: { snapshot: Snapshot; value: T } | null) => Promise<T>,
): Promise<T> {
  if (kept && isDeepStrictEqual(kept.snapshot, snapshot)) return kept.value;
  const before = async () =>
    kept && kept.snapshot.databaseOid === snapshot.databaseOid
      ? { snapshot: kept.snapshot, value: await kept.value }
      : null;
  const value = before()
    .catch(() => null)
    .then(make);
  keep({ snapshot, value });
  value.catch(() => keep(undefined));
  return value;
}
