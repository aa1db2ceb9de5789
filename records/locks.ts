import type { Queryable } from './database';

/**
 * Holds cells and packs until the transaction ends: another act that holds one of them waits. What was read of them
 * before the call is asked for again after it. Readings are filed meanwhile.
 */
export async function holdSubjects(db: Queryable, ids: readonly number[]): Promise<void> {
  await db.query('select from subject where id = any($1) order by id for no key update', [ids]);
}

/** Holds an instrument or a batch until the transaction ends: corrections of it follow each other. */
export async function holdRow(db: Queryable, table: 'instrument' | 'batch', id: number): Promise<void> {
  await db.query(`select from ${table} where id = $1 for no key update`, [id]);
}

/** Any number, the same in every process of this application. */
const benchLock = 7_140_233;

/** Holds the jobs of the bench until the transaction ends: one act at a time adds or starts jobs. */
export async function holdBench(db: Queryable): Promise<void> {
  await db.query('select pg_advisory_xact_lock($1)', [benchLock]);
}
