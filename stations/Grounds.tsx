import type { RuleKey } from '@/core/chemistry/houseRules';
import { Link } from '@/ui/Link';
import { type ExplainedCode, pageExplaining } from '@/words/explained';
import type { ReactNode } from 'react';
import { RuleLink } from './RuleLink';

/** Why something is said: its house rule by name (in a list, where `brief`, only a link), else the page on its code. */
export const Grounds = ({
  rule,
  code,
  brief,
}: {
  rule?: RuleKey | null | undefined;
  code: ExplainedCode;
  brief?: boolean;
}) =>
  rule && !brief ? <RuleLink rule={rule} /> : <HandbookLink page={rule ?? pageExplaining[code]}>why</HandbookLink>;

/** A page of the handbook, where one formula is behind the text. */
export const HandbookLink = ({ page, children }: { page: string; children: ReactNode }) => (
  <Link className="rule-key" href={`/handbook/${page}`}>
    {children}
  </Link>
);
