import type { RuleKey } from '@/core/chemistry/houseRules';
import Link from 'next/link';
import { RuleLink } from './RuleLink';

/** What something said rests on: its house rule by name, otherwise the pages of the handbook that its code goes by. */
export const Grounds = ({ rule, code }: { rule?: RuleKey | null | undefined; code: string }) =>
  rule ? (
    <RuleLink rule={rule} />
  ) : (
    <Link className="rule-key" href={`/handbook?said=${code}`} prefetch={false}>
      why
    </Link>
  );
