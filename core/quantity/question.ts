import type { Chemistry } from '../chemistry/chemistries';
import type { Display } from './format';
import type { ParsedQuantity } from './parse';

/** A figure as it was typed, with its last digit, both in the SI unit. */
export interface Typed {
  value: number;
  step: number;
}

/** A figure that may have been calculated, not typed: then it has no last digit. */
interface Estimated {
  value: number;
  step: number | null;
}

/** What a typed figure makes one ask, with the facts; its sentence is in words/questions.ts. */
type QuestionFacts =
  | { code: 'voltage-not-as-others'; typed: Typed; othersV: number }
  | { code: 'voltage-not-as-neighbours'; typed: Typed; neighboursV: number }
  | { code: 'voltage-below-zero'; typed: Typed }
  | { code: 'probes-reversed'; typed: Typed }
  | { code: 'voltage-beyond-cell'; typed: Typed; chemistry: Chemistry }
  | { code: 'voltage-beyond-pack'; typed: Typed; series: number }
  | { code: 'perhaps-a-pair'; typed: Typed; usualKg: number }
  | { code: 'weight-unusual'; typed: Typed; usualKg: number | null; together: number }
  | { code: 'resistance-not-above-zero'; computed: Estimated }
  | { code: 'resistance-not-as-batch'; computed: Estimated; batchMedianOhm: number }
  /** Figures that volts of the groups would look like. */
  | { code: 'perhaps-volts' }
  | { code: 'whole-not-sum'; typed: Typed; sumOhm: number }
  | { code: 'perhaps-from-red' }
  | { code: 'currents-swapped' }
  | { code: 'voltages-swapped'; at: 'two currents' | 'a load' }
  | { code: 'still-settling' }
  | { code: 'load-still-on' }
  | { code: 'digits-too-fine'; instrument: string }
  | { code: 'digits-missing'; instrument: string; decimals: number; typed: Typed; as: Display }
  | { code: 'beyond-records'; dimension: ParsedQuantity['dimension']; typed: Typed; limit: RecordsLimit };

/** Bounds of what the records keep of a dimension, in its SI unit. Nothing measured at a bench lies beyond. */
export interface RecordsLimit {
  least: number;
  most: number;
  /** The least is 0, which is no reading: nothing weighs 0. */
  aboveLeast: boolean;
  as: Display;
}

/**
 * A question about a figure that was typed, with the one that was probably meant: in figures and unit, as it would be
 * typed.
 */
export type Question = QuestionFacts & { meant?: string };
