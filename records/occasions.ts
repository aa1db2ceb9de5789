import type { Queryable } from './database';

/** Opens what the entries of a round, a cross-check or a self-discharge test belong to; returns its number. */
export async function openOccasion(db: Queryable, kind: 'round' | 'cross-check' | 'hold'): Promise<number> {
  const { rows } = await db.query<{ id: number }>('insert into occasion (kind) values ($1) returning id', [kind]);
  return rows[0]?.id as number;
}
