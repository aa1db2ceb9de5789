import { type RuleKey, ruleBook } from '@/core/chemistry/houseRules';
import Link from 'next/link';

/** The house rule that something rests on, by its name; its reason is there and in the hint. */
export const RuleLink = ({ rule }: { rule: RuleKey }) => (
  <Link className="rule-key" href={`/rules#${rule}`} title={ruleBook[rule].reason} prefetch={false}>
    house rule: {ruleBook[rule].title.toLowerCase()}
  </Link>
);
