import { numberIn } from '@/core/quantity/strict';
import { wordsOf } from '@/ui/tokens';

/** What a meter showed, of the whole or of each group, as it was typed before a start; or what is wrong with it. */
export function typedVolts(
  text: string,
  series: number,
): { measuredV: number | null; groupsV: number[] | null } | { error: string } {
  const words = wordsOf(text.replaceAll(';', ' '), ['V']);
  if (words.length === 0) return { error: 'What does a meter show, V?' };
  const volts = words.map((word) => numberIn(word.replace(/v$/i, '')) ?? NaN);
  if (!volts.every((v) => Number.isFinite(v) && v > -100 && v < 1000)) return { error: 'Volts, such as 15.2.' };
  const [first = NaN] = volts;
  if (volts.length === 1 && (series > 1 || first > 0)) return { measuredV: first, groupsV: null };
  // Another number of groups is refused by the sheet, which says what that may mean.
  return { measuredV: null, groupsV: volts };
}
