import type { RuleKey } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import type { ReactNode } from 'react';
import { RuleLink } from './RuleLink';

/**
 * What something said rests on: its house rule by name (not so in a list, where it is `brief`), otherwise the pages of
 * the handbook that its code goes by.
 */
export const Grounds = ({ rule, code, brief }: { rule?: RuleKey | null | undefined; code: string; brief?: boolean }) =>
  rule && !brief ? (
    <RuleLink rule={rule} />
  ) : (
    <Link className="rule-key" href={rule ? `/handbook/${rule}` : `/handbook?said=${code}`}>
      why
    </Link>
  );

/** A page of the handbook, where one formula is behind what stands there. */
export const HandbookLink = ({ page, children }: { page: string; children: ReactNode }) => (
  <Link className="rule-key" href={`/handbook/${page}`}>
    {children}
  </Link>
);
