import { type RuleKey, ruleBook, ruleShown } from '@/core/chemistry/houseRules';

/** Units of rules as people read them, where they differ. */
export const shownUnit: Record<string, string> = {
  share: '%',
  count: '',
  k: 'times the ±',
  '×MAD': '× spread',
  '×': 'times',
};

/** A limit of the house with its unit. */
export function ruleFigure(key: RuleKey, value: number): string {
  const { unit } = ruleBook[key];
  return `${ruleShown(key, value)} ${shownUnit[unit] ?? unit}`.trim();
}
