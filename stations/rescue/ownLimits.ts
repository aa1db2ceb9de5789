import { type HouseRules, ruleShown } from '@/core/chemistry/houseRules';
import { type OwnLimits, rescueRules } from '@/core/judging/rescue';
import { type Answer, done, refuse, typedText } from '../answer';
import { typedRule } from '../ruleFields';

const typedReason = typedText('Reason', 300, 'Say why this rescue has limits of its own.');

/**
 * Limits typed for one rescue alone, as far as they differ from the house's; null where none does.
 *
 * @param typed by the key of the rule, and the reason
 */
export function ownLimitsOf(typed: Record<string, unknown>, house: HouseRules): Answer<OwnLimits | null> {
  const limits: OwnLimits['limits'] = {};
  for (const key of rescueRules) {
    if (typed[key] === undefined) continue;
    const read = typedRule(key).safeParse(typed[key]);
    if (!read.success) return refuse(read.error.issues[0]?.message ?? 'A limit cannot be read.');
    if (read.data !== house[key]) limits[key] = read.data;
  }
  if (Object.keys(limits).length === 0) return done(null);
  const reason = typedReason.safeParse(typed.reason);
  if (!reason.success) return refuse(reason.error.issues[0]?.message ?? 'The reason cannot be read.');
  return done({ limits, reason: reason.data });
}

/** The same as fields of a form. */
export const ownLimitFields = (own: OwnLimits | null): [name: string, value: string][] =>
  own === null
    ? []
    : [
        ...rescueRules.flatMap((key): [string, string][] => {
          const value = own.limits[key];
          return value === undefined ? [] : [[key, String(ruleShown(key, value))]];
        }),
        ['reason', own.reason],
      ];
