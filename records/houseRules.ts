import type { HouseRules } from '@/core/chemistry/houseRules';
import type { Queryable } from './database';

/** As rules were named by earlier versions; rows stay as they were adopted. */
const formerNames: Record<string, keyof HouseRules> = { trickleHealth: 'lightHealth', trickleCRate: 'lightCRate' };

/** The rules that the house adopted last, as kept; null until it adopts some. */
export async function adoptedRules(db: Queryable): Promise<{ version: number; name: string; limits: object } | null> {
  const { rows } = await db.query<{ version: number; name: string; limits: Record<string, unknown> }>(
    'select version, name, limits from house_rules order by version desc limit 1',
  );
  const [newest] = rows;
  if (!newest) return null;
  const named = Object.entries(newest.limits).map(([key, limit]) => [formerNames[key] ?? key, limit]);
  return { ...newest, limits: Object.fromEntries(named) as object };
}

export async function adoptRules(db: Queryable, name: string, limits: HouseRules): Promise<void> {
  await db.query('insert into house_rules (name, limits) values ($1, $2)', [name, JSON.stringify(limits)]);
}
