import { type RuleKey, ruleBook } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';

/** The house rule that something rests on, by its name; its page gives the reason and other practice. */
export const RuleLink = ({ rule }: { rule: RuleKey }) => (
  <Link className="rule-key" href={`/handbook/${rule}`} title={ruleBook[rule].reason}>
    house rule: {ruleBook[rule].title.toLowerCase()}
  </Link>
);
