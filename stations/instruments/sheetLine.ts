import { questionText } from '@/words/questions';
import type { JudgedSheet } from '@/core/judging/judgeSheet';
import { askAboutDigitsOf, askAgainstOthers, type LastDigit } from '@/core/grading/plausibility';
import { display, formatRead } from '@/core/quantity/format';
import { beyondLimit } from '@/core/quantity/limits';
import { parseQuantity } from '@/core/quantity/parse';
import type { Question, Typed } from '@/core/quantity/question';
import type { LineQuestion } from '@/ui/entryLine';
import { wordsOf } from '@/ui/tokens';

/** What reads voltages, with its last digit. */
export interface SheetInstrument extends LastDigit {
  channels: number;
}

/** Names a channel on a battery of the sheet. */
export const shownKey = (position: number, code: string, channel: number): string => `B${position} ${code}.${channel}`;

/** What each channel showed on each battery, in words, by `standingKey`, since its instrument was calibrated. */
export const shownBefore = ({ channels }: JudgedSheet): Record<string, string> =>
  Object.fromEntries(
    channels.flatMap(({ instrument, channel, readings }) =>
      readings
        .filter((one) => !one.isOfBefore)
        .map(({ position, raw, stepV }) => [
          shownKey(position, instrument.code, channel),
          formatRead(raw.value, stepV, display.voltage),
        ]),
    ),
  );

export interface SheetContext {
  /** What others read on this battery; null while there is none. */
  othersV(position: number): number | null;
  /** What a channel showed on this battery, in words; null where nothing. */
  standing(position: number, code: string, channel: number): string | null;
  /** The line replaces another one and voids it. */
  corrects: boolean;
  /** The batteries are the groups of a pack: channel n reads group n. */
  isPack: boolean;
}

export type SheetLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  /** Another battery of the sheet. */
  | { kind: 'battery'; position: number }
  /** `inFull` is the line as it means the same whatever battery is at hand. */
  | {
      kind: 'readings';
      code: string;
      position: number;
      readings: { position: number; channel: number; voltageV: number; step: number }[];
      said: string;
      asks: LineQuestion | null;
      inFull: string;
    };

const volt = { dimension: 'voltage', factor: 1 } as const;

/**
 * Understands a line of a cross-check sheet: `B2` goes to the second battery; an instrument's code and one voltage for
 * each of its channels files them; `CK.3 3.71` files channel 3 alone. On a pack the voltages of a line are those of its
 * groups in turn, each by its own channel; `B2 CK 3.71` files group 2 alone.
 */
export function understandSheetLine(
  text: string,
  position: number,
  instruments: readonly SheetInstrument[],
  batteries: number,
  { othersV, standing: earlier, corrects, isPack }: SheetContext,
): SheetLine {
  const words = wordsOf(text, ['V', 'mV']);
  const [first = ''] = words;
  if (first === '') return { kind: 'nothing' };
  const battery = /^b(\d{1,2})$/i.exec(first);
  const at = battery ? Number(battery[1]) : position;
  if (battery && (at < 1 || at > batteries))
    return {
      kind: 'wrong',
      said: `This sheet has ${batteries === 1 ? 'one battery' : `batteries B1 to B${batteries}`}.`,
    };
  const rest = battery ? words.slice(1) : words;
  if (battery && rest.length === 0) return { kind: 'battery', position: at };
  const [code = '', channelText] = (rest[0] ?? '').toUpperCase().split('.');
  const instrument = instruments.find((one) => one.code === code);
  if (!instrument)
    return {
      kind: 'wrong',
      said:
        `Start with an instrument (${instruments.map((one) => one.code).join(', ') || 'none on the bench yet'}) or ` +
        'a battery (B1), then its voltage.',
    };
  const figures = rest.slice(1);
  const from = channelText === undefined ? 1 : Number(channelText);
  if (!Number.isInteger(from) || from < 1 || from > instrument.channels)
    return {
      kind: 'wrong',
      said: `${code} has ${instrument.channels === 1 ? 'one channel' : `channels 1 to ${instrument.channels}`}.`,
    };
  const hasChannels = instrument.channels > 1;
  const isAllGroups = isPack && channelText === undefined && !battery;
  const groups = hasChannels ? Math.min(batteries, instrument.channels) : batteries;
  const channels = channelText === undefined && !isPack ? instrument.channels : 1;
  const wanted = isAllGroups ? groups : channels;
  /** Where the i-th figure belongs. */
  const placeOf = (i: number): { position: number; channel: number } => {
    if (!isPack) return { position: at, channel: from + i };
    const named = channelText === undefined ? at : from;
    const group = isAllGroups ? i + 1 : named;
    return { position: group, channel: hasChannels ? group : 1 };
  };
  const { position: lastGroup, channel: lastChannel } = placeOf(wanted - 1);
  if (lastGroup > batteries || lastChannel > instrument.channels)
    return { kind: 'wrong', said: `${code} has ${instrument.channels} channels, the pack ${batteries} groups.` };
  if (figures.length !== wanted) {
    const name = rest[0]?.toUpperCase();
    const example = Array.from({ length: wanted }, () => '3.71').join(' ');
    const each = isPack ? 'group' : 'channel';
    const alone = wanted > 1 && !isPack ? `; ${code}.2 3.71 is channel 2 alone` : '';
    const expected = wanted === 1 ? 'one voltage' : `${wanted} voltages, one a ${each}`;
    return { kind: 'wrong', said: `${name}: expected ${expected}: ${name} ${example}${alone}.` };
  }
  /** A line for all groups means the same whatever battery is at hand. */
  const named = isAllGroups ? [] : [`B${at}`];
  /** The line with another figure in that place. */
  const instead = ({ meant }: Question, place: number) =>
    meant === undefined
      ? null
      : [...named, rest[0], ...figures.slice(0, place), meant, ...figures.slice(place + 1)].join(' ');
  const readings = [];
  const questions: LineQuestion[] = [];
  for (const [i, word] of figures.entries()) {
    const parsed = parseQuantity(word, volt);
    if (!parsed || parsed.dimension !== 'voltage')
      return { kind: 'wrong', said: `"${word}" was not understood as a voltage.` };
    const beyond = beyondLimit(parsed);
    const beyondSuggests = beyond && instead(beyond, i);
    if (beyond)
      return { kind: 'wrong', said: questionText(beyond), ...(beyondSuggests && { suggests: beyondSuggests }) };
    const place = placeOf(i);
    const question = askAboutCheck(parsed, othersV(place.position)) ?? askAboutDigitsOf(parsed, instrument);
    if (question) questions.push({ text: questionText(question), suggests: instead(question, i) });
    readings.push({ ...place, voltageV: parsed.value, step: parsed.step });
  }
  const stands = corrects
    ? undefined
    : readings.map((one) => earlier(one.position, code, one.channel)).find((one) => one !== null);
  const asks =
    questions[0] ??
    (stands
      ? {
          text: `${rest[0]?.toUpperCase()} showed ${stands}${isAllGroups ? '' : ` on B${at}`} already. Replace it?`,
          suggests: null,
        }
      : null);
  return {
    kind: 'readings',
    code,
    position: readings[0]?.position ?? at,
    readings,
    said:
      `${isAllGroups ? '' : `B${readings[0]?.position ?? at}, `}${rest[0]?.toUpperCase()}: ` +
      `${readings.map((reading) => formatRead(reading.voltageV, reading.step, display.voltage)).join(', ')}`,
    asks,
    inFull: [...named, ...rest].join(' '),
  };
}

function askAboutCheck(typed: Typed, othersV: number | null): Question | null {
  if (othersV !== null) return askAgainstOthers(typed, othersV);
  return typed.value < 0 ? { code: 'probes-reversed', typed } : null;
}
