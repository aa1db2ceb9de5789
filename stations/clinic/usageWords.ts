import type { Body } from '@/core/judging/bodies';
import { parseQuantity } from '@/core/quantity/parse';

/** A line about a use: a pack goes out, or comes back with what it did. */
export type UsageWords =
  | { code: 'out'; bodies: Body[] }
  /** `groups` are the words that are left: its groups after use. `told` are the other words, as typed. */
  | { code: 'back'; bodies: Body[]; groups: string[]; told: string[] }
  | { code: 'wrong'; said: string };

const longestForWhat = 80;
const voltOf = (word: string | undefined): number | null => {
  const figure = word === undefined ? null : parseQuantity(word, { dimension: 'voltage', factor: 1 });
  return figure?.dimension === 'voltage' && figure.value > 0 ? figure.value : null;
};
const ampHoursOf = (word: string): number | null => {
  const figure = /^(\d+(?:[.,]\d+)?)(m?)ah$/i.exec(word);
  return figure ? Number((figure[1] ?? '').replace(',', '.')) / (figure[2] ? 1000 : 1) : null;
};
const minutesOf = (word: string): number | null => {
  const figure = /^(\d{1,4}(?:[.,]\d{1,2})?)min$/i.exec(word)?.[1];
  return figure === undefined ? null : Number(figure.replace(',', '.'));
};

/**
 * `out`, `out 12A lantern walk`: it is taken out. `back`, with its groups, how long and how much, and the lowest
 * group that was given, by its number where that is known: `back 3.71 3.70 8min 1.9Ah lowest 2 3.31`. Null for any
 * other words.
 *
 * @param currentA as typed in the line
 */
export function usageWords(words: readonly string[], currentA: number | null): UsageWords | null {
  if (/^out$/i.test(words[0] ?? '')) {
    const forWhat = words.slice(1).join(' ');
    if (forWhat.length > longestForWhat) return { code: 'wrong', said: 'For what? In a few words.' };
    return { code: 'out', bodies: [{ kind: 'taken-out', forWhat: forWhat || null, currentA, timerS: null }] };
  }
  if (!words.some((word) => /^back$/i.test(word))) return null;
  let usedAh: number | null = null;
  let minutes: number | null = null;
  let lowestV: number | null = null;
  let lowestPosition: number | null = null;
  const groups: string[] = [];
  const usage: string[] = [];
  for (let i = 0; i < words.length; i += 1) {
    const word = words[i] ?? '';
    if (/^back$/i.test(word)) usage.push(word);
    else if (/^lowest$/i.test(word)) {
      const isNumbered = /^\d{1,2}$/.test(words[i + 1] ?? '') && voltOf(words[i + 2]) !== null;
      lowestPosition = isNumbered ? Number(words[i + 1]) : null;
      lowestV = voltOf(words[i + (isNumbered ? 2 : 1)]);
      if (lowestV === null) return { code: 'wrong', said: 'The lowest group in volts: lowest 3.31, or lowest 2 3.31.' };
      usage.push(...words.slice(i, i + (isNumbered ? 3 : 2)));
      i += isNumbered ? 2 : 1;
    } else {
      const [ah, min] = [ampHoursOf(word), minutesOf(word)];
      usedAh = ah ?? usedAh;
      minutes = min ?? minutes;
      (ah === null && min === null ? groups : usage).push(word);
    }
  }
  if (usedAh === 0 || minutes === 0) return { code: 'wrong', said: 'Nothing used in no time is not a use.' };
  return {
    code: 'back',
    groups,
    told: usage,
    bodies: [
      { kind: 'brought-back', usedAh, lowestV, lowestPosition },
      ...(minutes === null ? [] : [{ kind: 'run-time' as const, durationS: 60 * minutes }]),
    ],
  };
}
