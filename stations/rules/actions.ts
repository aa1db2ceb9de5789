'use server';

import { type HouseRules, presetKeys, presetRules, ruleKeys } from '@/core/chemistry/houseRules';
import { database } from '@/records/database';
import { adoptRules } from '@/records/houseRules';
import { type Answer, answering, done, fieldsOf } from '@/stations/answer';
import { typedRule } from '@/stations/ruleFields';
import { beginJudgingRuns } from '@/workshop/judgeRun';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';

const typedRules = z.object(Object.fromEntries(ruleKeys.map((key) => [key, typedRule(key)])));

/** Adopts house rules as a new version; runs whose cut-off they change are judged again. */
export async function adoptRulesAction(_: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const limits = typedRules.parse(fieldsOf(form)) as HouseRules;
    const preset = presetKeys.find((key) => ruleKeys.every((rule) => presetRules(key)[rule] === limits[rule]));
    const name = preset ? `${preset.charAt(0).toUpperCase()}${preset.slice(1)}` : 'Our own';
    await adoptRules(database(), name, limits);
    await beginJudgingRuns();
    return done(undefined);
  });
  if (answer.ok) revalidatePath('/', 'layout');
  return answer;
}
