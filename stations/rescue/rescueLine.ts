import { parseQuantity } from '@/core/quantity/parse';
import type { Body } from '@/core/judging/bodies';
import { bodyText } from '@/words/bodies';
import { counted } from '@/words/counted';

type ReadingBody = Extract<Body, { kind: 'rescue-reading' }>;

export type RescueLine =
  { kind: 'nothing' } | { kind: 'wrong'; said: string } | { kind: 'reading'; body: ReadingBody; said: string };

/** What no group of a rescue shows. */
const mostV = 6;
const temperature = /^([+-]?\d+(?:[.,]\d+)?)°?c$/i;

/**
 * Understands a reading of a rescue: a voltage for each group from the negative terminal, the temperature of its skin
 * with a C, and `warm` where the hand says so.
 */
export function understandRescue(text: string, code: string, series: number): RescueLine {
  const words = text.trim().split(/\s+/).filter(Boolean);
  if (words.length === 0) return { kind: 'nothing' };
  const isWarm = words.some((word) => word.toLowerCase() === 'warm');
  const readingWords = words.filter((word) => word.toLowerCase() !== 'warm');
  const skin = readingWords.flatMap((word) => temperature.exec(word)?.[1] ?? []);
  const figures = readingWords.filter((word) => !temperature.test(word));
  if (skin.length > 1) return { kind: 'wrong', said: 'Two temperatures: enter the warmest.' };
  const read = figures.map((word) => parseQuantity(word, { dimension: 'voltage', factor: 1 }));
  const unread = figures.find((_, i) => read[i]?.dimension !== 'voltage');
  if (unread !== undefined) return { kind: 'wrong', said: `"${unread}" was not understood as a voltage.` };
  if (read.length !== series)
    return { kind: 'wrong', said: `${code} has ${counted(series, 'group')}; ${read.length} voltages were read.` };
  const beyond = read.find((one) => one && (one.value < -mostV || one.value > mostV));
  if (beyond) return { kind: 'wrong', said: `${beyond.value} V is no voltage of one group.` };
  const skinC = skin[0] === undefined ? null : Number(skin[0].replace(',', '.'));
  if (skinC !== null && (skinC < -40 || skinC > 150))
    return { kind: 'wrong', said: `${skinC} °C is no such temperature.` };
  const body: ReadingBody = {
    kind: 'rescue-reading',
    voltagesV: read.flatMap((one) => (one ? [one.value] : [])),
    step: Math.max(...read.map((one) => one?.step ?? 1)),
    skinC,
    isWarm,
  };
  return { kind: 'reading', body, said: `${code}: ${bodyText(body)}` };
}
