import { type HouseRules, presetRules, ruleBook, ruleKeys } from '@/core/chemistry/houseRules';
import type { Queryable } from '@/records/database';
import { adoptedRules } from '@/records/houseRules';
import { z } from 'zod';

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
  const adopted = await adoptedRules(db);
  if (!adopted) return { version: 0, name: 'Workshop', limits: presetRules('workshop') };
  // A rule that came with a later version of the application is missing in older rows: its preset holds.
  return { ...adopted, limits: limitsSchema.parse({ ...presetRules('workshop'), ...adopted.limits }) };
}
