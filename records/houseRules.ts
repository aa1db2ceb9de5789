import type { HouseRules } from '@/core/chemistry/houseRules';
import type { Queryable } from './database';

/** The rules that the house adopted last, as kept; null until it adopts some. */
export async function adoptedRules(db: Queryable): Promise<{ version: number; name: string; limits: object } | null> {
  const { rows } = await db.query<{ version: number; name: string; limits: object }>(
    'select version, name, limits from house_rules order by version desc limit 1',
  );
  return rows[0] ?? null;
}

export async function adoptRules(db: Queryable, name: string, limits: HouseRules): Promise<void> {
  await db.query('insert into house_rules (name, limits) values ($1, $2)', [name, JSON.stringify(limits)]);
}
