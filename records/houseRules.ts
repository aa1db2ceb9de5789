import { type HouseRules, presetRules, ruleBook, ruleKeys } from '@/core/chemistry/houseRules';
import { z } from 'zod';
import type { Queryable } from './database';

/** Limits as kept: every rule within its range. */
export const limitsSchema: z.ZodType<HouseRules> = z.object(
  Object.fromEntries(
    ruleKeys.map((key) => [key, z.number().min(ruleBook[key].least).max(ruleBook[key].most)]),
  ) as Record<(typeof ruleKeys)[number], z.ZodNumber>,
);

export interface RulesInForce {
  /** 0 until the house adopts rules of its own: then the preset Workshop holds. */
  version: number;
  name: string;
  limits: HouseRules;
}

export async function rulesInForce(db: Queryable): Promise<RulesInForce> {
  const { rows } = await db.query<{ version: number; name: string; limits: unknown }>(
    'select version, name, limits from house_rules order by version desc limit 1',
  );
  const row = rows[0];
  if (!row) return { version: 0, name: 'Workshop', limits: presetRules('workshop') };
  // A rule that came with a later version of the application is missing in older rows: its preset holds.
  return { ...row, limits: limitsSchema.parse({ ...presetRules('workshop'), ...(row.limits as object) }) };
}

export async function adoptRules(db: Queryable, name: string, limits: HouseRules): Promise<void> {
  await db.query('insert into house_rules (name, limits) values ($1, $2)', [name, JSON.stringify(limits)]);
}
