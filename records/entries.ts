import { isDeepStrictEqual } from 'node:util';
import type { Queryable } from './database';

/** Whether anything was filed under that entry's id: then it is sent again, since its answer was lost. */
export async function isFiled(db: Queryable, entry: string): Promise<boolean> {
  const tables = ['reading', 'weld', 'cross_check_reading', 'pack_round'];
  const { rows } = await db.query<{ filed: boolean }>(
    `select ${tables.map((table) => `exists (select from ${table} where entry = $1)`).join(' or ')} as filed`,
    [entry],
  );
  return rows[0]?.filed === true;
}

/** An entry's id came again with something else than was filed under it. */
export class EntryTaken extends Error {
  constructor() {
    super('This line was filed before, with another text.');
  }
}

/**
 * Holds what an entry should have filed against what is stored under it, row by row of their common keys. Returns false
 * where it was filed before.
 *
 * @param inserted how many of the given rows are stored only now
 * @throws EntryTaken where anything differs
 */
export function isNewEntry<Row extends object>(
  given: readonly Row[],
  stored: readonly Row[],
  keys: readonly (keyof Row)[],
  inserted: number,
): boolean {
  const same = given.every((row) => {
    const there = stored.find((one) => keys.every((key) => one[key] === row[key]));
    return (
      there !== undefined &&
      Object.entries(row).every(([name, value]) => isDeepStrictEqual(there[name as keyof Row] ?? null, value ?? null))
    );
  });
  if (!same || given.length !== stored.length || (inserted > 0 && inserted < given.length)) throw new EntryTaken();
  return inserted > 0;
}
