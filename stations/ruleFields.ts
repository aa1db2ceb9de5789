import { type RuleKey, ruleBook, ruleShown } from '@/core/chemistry/houseRules';
import { typedNumber } from './answer';

/** A limit as people type it, fractions in per cent, within what the rule allows. */
export function typedRule(key: RuleKey) {
  const { title, least, most, unit } = ruleBook[key];
  const [from, to] = [ruleShown(key, least), ruleShown(key, most)];
  const typed = typedNumber(title).refine(
    (value) => value >= from && value <= to,
    `${title}: expected ${from} to ${to}${unit === 'share' ? ' %' : ''}.`,
  );
  return unit === 'share' ? typed.transform((percent) => Number((percent / 100).toPrecision(12))) : typed;
}
