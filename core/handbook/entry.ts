import type { RuleKey } from '../chemistry/houseRules';
import { formatQuantity } from '../quantity/format';
import type { Quantity } from '../quantity/quantity';

/** Where a statement comes from; `of` names the part it covers, where a page has several sources. */
export type Source =
  | { kind: 'published'; reference: string; of?: string }
  | { kind: 'common practice' | 'own rule' | 'from memory'; of?: string };

export const published = (reference: string, of?: string): Source => ({
  kind: 'published',
  reference,
  ...(of && { of }),
});
const unpublished =
  (kind: Exclude<Source['kind'], 'published'>) =>
  (of?: string): Source => ({
    kind,
    ...(of && { of }),
  });
export const commonPractice = unpublished('common practice');
export const ownRule = unpublished('own rule');
export const fromMemory = unpublished('from memory');

export const topics = [
  'Readings and uncertainty',
  'Intake and rescue',
  'Resistance',
  'Capacity',
  'Self-discharge',
  'Grading and building',
  'Packs',
  'Bench, use and storage',
] as const;
export type Topic = (typeof topics)[number];

/** Drawings that a page may show. */
export type Drawing =
  'guard-band' | 'four-wire' | 'load-step' | 'open-circuit' | 'self-discharge' | 'parallel' | 'imbalance';

/** A formula in TeX, and its symbols: TeX, meaning, unit. */
export interface Formula {
  tex: string;
  where: readonly (readonly [symbol: string, meaning: string, unit?: string])[];
}

/** A page of the handbook that is written by hand; its figures come from the code that it explains. */
export interface HandbookEntry {
  /** Its address under /handbook. */
  key: string;
  topic: Topic;
  title: string;
  /** One string a paragraph. */
  text: readonly string[];
  formulas?: readonly Formula[];
  /** Worked examples and the values in force, computed by the code. */
  figures?: readonly (readonly [name: string, figure: () => string])[];
  drawing?: Drawing;
  sources: readonly Source[];
  /** House rules that change the result. */
  rules?: readonly RuleKey[];
  /** Keys of related pages. */
  see?: readonly string[];
}

/** A number in three digits, or in four from 1000 on, with its unit. */
export const shown = (value: number, unit = ''): string =>
  `${Number(value.toPrecision(Math.abs(value) >= 1000 ? 4 : 3))} ${unit}`.trim();

/** A value with its standard uncertainty. */
export const shownWithU = (quantity: Quantity, unit: string): string =>
  formatQuantity(quantity, { unit, factor: 1, decimals: 3 }).trim();
