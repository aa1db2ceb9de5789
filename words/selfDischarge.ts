import type { SelfDischargeResult, SelfDischargeWhy } from '@/core/selfDischarge/drift';
import { display, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { counted } from './counted';
import { millivolts, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const aWeek = (voltsPerDay: number): string => `${millivolts(7 * Math.abs(voltsPerDay))} a week`;

const sentences: Sentences<SelfDischargeWhy> = {
  'too-short': ({ days }) =>
    days === 0
      ? 'It takes two readings, a day apart at least.'
      : 'Its readings are less than a day apart. Measure it again in a week.',
  rose: ({ voltsPerDay }) =>
    `It rose by ${aWeek(voltsPerDay)}: it had not settled at the first reading, or it is warmer now. ` +
    'Start again from this reading.',
  'out-of-crowd': ({ lowestVPerDay }) =>
    `It falls faster than the others: of these none should fall by more than ${aWeek(lowestVPerDay)}. ` +
    'It has an inner leak: never put it in parallel, never leave it in a pack.',
  'falls-fast': ({ limitVPerDay }) =>
    `It falls by more than ${aWeek(limitVPerDay)}: it has an inner leak. ` +
    'Never put it in parallel, never leave it in a pack.',
  'within-limit': ({ limitVPerDay }) => `It falls by less than ${aWeek(limitVPerDay)}.`,
  'with-crowd': ({ lowestVPerDay }) =>
    `It falls as the others do; one that leaks would fall by more than ${aWeek(lowestVPerDay)}.`,
  'not-yet': ({ limitVPerDay, days }) =>
    `Whether it falls by more than ${aWeek(limitVPerDay)} cannot be judged yet: measure it again ` +
    `${counted(Math.ceil(days), 'day')} after the first reading.`,
  settling: ({ limitVPerDay }) =>
    `Most of the batch fall by more than ${aWeek(limitVPerDay)}: they have not settled, or the meter drifts. ` +
    'Measure them again in a week; count from this reading.',
  flat: ({ voltageV }) =>
    `At ${volts(voltageV)} the voltage hardly changes with charge, so a leak does not show. ` +
    'Charge it full, and test it again a day after the charge.',
  'no-crowd': ({ least }) =>
    `The voltage of this chemistry falls by itself; a leak shows only against ${least} of its kind or more.`,
};

/** Why a self-discharge test says what it says. */
export const selfDischargeWhyText = (why: SelfDischargeWhy): string => sentenceOf(sentences, why);

/** What a self-discharge test is called by who is in it: the batch where all are of one, else the first of them. */
export function selfDischargeName(codes: readonly string[]): string {
  const [first = '', ...more] = codes;
  const batches = new Set(codes.map((code) => (code.includes('-') ? code.slice(0, code.lastIndexOf('-')) : code)));
  const [batch = ''] = batches;
  if (more.length === 0) return first;
  return batches.size === 1 ? `${counted(codes.length, 'cell')} of ${batch}` : `${first} and ${more.length} more`;
}

/** How fast it drifts, in words. */
export const driftText = ({ value, u }: Quantity): string =>
  `${formatQuantity({ value: 7 * value, u: 7 * u }, display.milliVolt)} a week`;

export const verdictNames: Record<SelfDischargeResult['verdict'], string> = {
  holds: 'holds',
  leaks: 'leaks',
  'cannot-tell': 'not known yet',
};
