import { typedFindings } from '@/core/grading/intake';
import type { Body } from '@/core/judging/bodies';
import { bodyText } from '@/words/bodies';
import { counted } from '@/words/counted';
import { stateTexts } from '@/words/packs';
import type { JudgedPack } from '@/core/judging/judgePack';
import { looksTurned } from '@/core/packs/groupOrder';
import { questionText } from '@/words/questions';
import { askAboutDigitsOf, askAboutVoltage, type LastDigit } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { display, formatFigure, formatRead } from '@/core/quantity/format';
import { beyondLimit } from '@/core/quantity/limits';
import { type ParsedQuantity, parseQuantity } from '@/core/quantity/parse';
import type { Question } from '@/core/quantity/question';
import type { LineQuestion } from '@/ui/entryLine';
import type { PackState } from '@/core/packs/groupVoltages';
import { median } from 'simple-statistics';
import { packCodeOf, withDegrees, wordsOf } from '@/ui/tokens';
import { usageWords } from './usageWords';

export interface PackContext {
  code: string;
  chemistry: Chemistry;
  series: number;
  /** Its groups as they rested last, V; left out where their order is not asked about. */
  lastRestV?: readonly (number | null)[] | null;
}

/** What of a pack its reading bar needs. */
export const packContext = ({ code, chemistry, series, rested }: JudgedPack): PackContext => ({
  code,
  chemistry,
  series,
  lastRestV: rested?.groupVoltagesV ?? null,
});

/** A voltage as it was read, with its last digit, V. */
export type Figure = Pick<ParsedQuantity, 'value' | 'step'>;

/** What groups and terminals are read with; null where not given. */
export interface ReadWith {
  groups: LastDigit | null;
  terminals: LastDigit | null;
}

export type GroupsLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  | { kind: 'go'; code: string }
  /** `inFull` is the line as it means the same whatever pack is shown. */
  | { kind: 'noted'; code: string; bodies: Body[]; said: string; asks: null; inFull: string }
  | {
      kind: 'groups';
      code: string;
      /** From the negative terminal; null where one could not be read. */
      groups: (Figure | null)[];
      terminal: Figure | null;
      /** What the load drew, A; null where it was not given. */
      currentA: number | null;
      /** How warm it was, °C; null where it was not given. */
      temperatureC: number | null;
      /** What was entered about a use that is over: then its groups are read after use. */
      use: Body[];
      said: string;
      asks: LineQuestion | null;
      inFull: string;
    };

const volt = { dimension: 'voltage', factor: 1 } as const;
/** However long it is typed. */
const aDash = /(?<=^|\s)[–−](?=\s|$)/g;

/**
 * Understands a line about a pack: its code unless one is shown, then its group voltages from the negative terminal,
 * one a group or a dash where it cannot be read, after `=` the voltage at the terminals, and under a load its current
 * with its unit, and how warm it was; or what was found on it, its cycles so far, for how long it served, or that it
 * goes out or came back.
 */
export function understandGroups(
  text: string,
  shown: PackContext | null,
  packOf: (code: string) => PackContext | null,
  readWith: ReadWith = { groups: null, terminals: null },
): GroupsLine {
  const words = wordsOf(text.replace('=', ' = ').replace(aDash, '-'), ['V', 'mV', 'A', 'C', '°C', 'min', 'Ah', 'mAh']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = packCodeOf(words[0]);
  const readings = named ? words.slice(1) : words;
  const load = readings.find((word) => loadOf(word) !== null);
  const warmth = readings.find((word) => warmthOf(word) !== null);
  const typed = readings.filter((word) => word !== load && word !== warmth);
  if (named && typed.length === 0) return { kind: 'go', code: named };
  const current = named ? packOf(named) : shown;
  if (!current)
    return {
      kind: 'wrong',
      said: named
        ? `There is no pack ${named}.`
        : 'Start with the code of a pack, such as PF1; alone it opens the pack.',
    };

  const use = usageWords(typed, load === undefined ? null : loadOf(load));
  if (use?.code === 'wrong') return { kind: 'wrong', said: use.said };
  const isUseAlone = use !== null && (use.code === 'out' || use.groups.length === 0);
  const noted = isUseAlone ? use.bodies : notedOf(typed);
  if (noted)
    return {
      kind: 'noted',
      code: current.code,
      bodies: noted,
      said: `${current.code}: ${noted.map(bodyText).join(', ')}`,
      asks: null,
      inFull: `${current.code} ${readings.join(' ')}`,
    };
  const back = use?.code === 'back' ? use : null;
  const figures = back ? back.groups : typed;
  const parsed = figures.map((word) => (isSign(word) ? word : parseQuantity(word, volt)));
  const bad = parsed.findIndex((figure) => figure === null || (!isSign(figure) && figure.dimension !== 'voltage'));
  const wrongOne = parsed[bad];
  if (wrongOne && !isSign(wrongOne) && wrongOne.dimension === 'resistance')
    return {
      kind: 'wrong',
      said: 'Resistances are measured in a round over packs. See the link under Resistance on this page.',
    };
  if (bad >= 0) return { kind: 'wrong', said: `"${figures[bad]}" was not understood as a voltage.` };
  const equals = parsed.indexOf('=');
  const groups = (equals < 0 ? parsed : parsed.slice(0, equals)).map(figureOf);
  const terminals = equals < 0 ? [] : parsed.slice(equals + 1).flatMap((word) => figureOf(word) ?? []);
  if (groups.length !== current.series)
    return {
      kind: 'wrong',
      said:
        `${current.code} has ${current.series} groups; ${groups.length} ` +
        `${groups.length === 1 ? 'voltage was' : 'voltages were'} read.`,
    };
  if (groups.every((figure) => figure === null)) return { kind: 'wrong', said: 'Measure at least one group.' };
  if (equals >= 0 && (terminals.length !== 1 || parsed.length > equals + 2))
    return { kind: 'wrong', said: 'After = one voltage is expected, that of the terminals.' };

  const terminal = terminals[0] ?? null;
  const figuresAt: NamedFigure[] = [
    ...groups.flatMap((figure, i) => (figure ? { figure, name: `Group ${i + 1}`, place: i } : [])),
    ...(terminal ? [{ figure: terminal, name: 'Terminals', place: groups.length + 1 }] : []),
  ];
  const beside = [...(back?.told ?? []), load, warmth].filter((word) => word !== undefined);
  /** The line with another figure in that place. */
  const instead = (place: number, meant: string) =>
    [current.code, ...figures.slice(0, place), meant, ...figures.slice(place + 1), ...beside].join(' ');
  const beyond = firstQuestion(figuresAt, (one) => beyondOf(one, current.series), instead);
  if (beyond)
    return { kind: 'wrong', said: beyond.text, ...(beyond.suggests !== null && { suggests: beyond.suggests }) };
  const asks =
    firstQuestion(
      figuresAt.filter(({ place }) => place < groups.length),
      ({ figure, place }) =>
        askAboutGroup(
          figure,
          groups.flatMap((other, at) => (other === null || at === place ? [] : other)),
          current,
        ),
      instead,
    ) ??
    askAboutSum(groups, terminal, current) ??
    askAboutOrder(groups, current, [...figures, ...beside]) ??
    firstQuestion(
      figuresAt,
      ({ figure, place }) => askAboutDigitsOf(figure, place < groups.length ? readWith.groups : readWith.terminals),
      instead,
    );
  const values = groups.flatMap((figure) => figure?.value ?? []);
  const unread = groups.length - values.length;
  return {
    kind: 'groups',
    code: current.code,
    groups,
    terminal,
    currentA: load === undefined ? null : loadOf(load),
    temperatureC: warmth === undefined ? null : warmthOf(warmth),
    use: back?.bodies ?? [],
    asks,
    said:
      `${current.code}: ${counted(values.length, 'group')}${unread > 0 ? `, ${unread} not read` : ''}, ` +
      `spread ${formatFigure(Math.max(...values) - Math.min(...values), display.milliVolt)}` +
      (terminal ? `, terminals ${formatRead(terminal.value, terminal.step, display.voltage)}` : '') +
      (load === undefined ? '' : `, under ${formatFigure(loadOf(load) ?? 0, display.current)}`) +
      (warmth === undefined ? '' : `, at ${warmthOf(warmth)} °C`) +
      (back?.bodies ?? []).map((body) => `; ${bodyText(body)}`).join(''),
    inFull: `${current.code} ${readings.join(' ')}`,
  };
}

/** `5A` after the voltages: what the load drew. */
function loadOf(word: string): number | null {
  const figure = /a$/i.test(word) ? parseQuantity(word, volt) : null;
  return figure?.dimension === 'current' && figure.value > 0 ? figure.value : null;
}

/** `21.5C` among the voltages: how warm it was. */
function warmthOf(word: string): number | null {
  const figure = /c$/i.test(word) ? parseQuantity(withDegrees(word), volt) : null;
  return figure?.dimension === 'temperature' && beyondLimit(figure) === null ? figure.value : null;
}

/** Why a current does not belong to a round of that state; null where it does. */
export const noLoadText = (currentA: number | null, state: PackState): string | null =>
  currentA === null || state === 'load' || state === 'discharge-end'
    ? null
    : `${formatFigure(currentA, display.current)} is a load, and the next reading is ${stateTexts[state]}: ` +
      'choose under load beside the bar, or leave the current out.';

/** `ok` or the keys of findings, or `cycles 34`, or `served 7 min`; null for any other words. */
function notedOf(words: readonly string[]): Body[] | null {
  const findings = words.length === 1 ? typedFindings(words[0] ?? '', 'pack') : null;
  if (findings) return [{ kind: 'inspection', findings }];
  const served = /^served (\d{1,4}(?:[.,]\d{1,2})?) ?min$/i.exec(words.join(' '))?.[1];
  if (served && Number(served.replace(',', '.')) > 0)
    return [{ kind: 'run-time', durationS: 60 * Number(served.replace(',', '.')) }];
  const count = words.find((word) => /^\d{1,5}$/.test(word));
  const isCycles = words.length === 2 && words.some((word) => /^cycles?$/i.test(word));
  return isCycles && count !== undefined ? [{ kind: 'cycles', count: Number(count) }] : null;
}

/** A figure of the line with its name and the place of its word. */
interface NamedFigure {
  figure: ParsedQuantity;
  name: string;
  place: number;
}

/** Marks in the line that are no figure: `=` before the terminals, `-` for a group that cannot be read. */
type Sign = '=' | '-';
const isSign = (word: string | ParsedQuantity | null): word is Sign => word === '=' || word === '-';
const figureOf = (word: ParsedQuantity | Sign | null): ParsedQuantity | null => (isSign(word) ? null : word);

/** The first question about one of the figures, with the line as it was probably meant. */
function firstQuestion(
  figures: readonly NamedFigure[],
  ask: (placed: NamedFigure) => Question | null,
  instead: (place: number, meant: string) => string,
): LineQuestion | null {
  for (const placed of figures) {
    const question = ask(placed);
    if (question)
      return {
        text: `${placed.name}, ${questionText(question)}`,
        suggests: question.meant === undefined ? null : instead(placed.place, question.meant),
      };
  }
  return null;
}

/** Why a voltage cannot be kept; that of the terminals is that of all groups together. */
function beyondOf({ figure, name }: NamedFigure, series: number): Question | null {
  if (name !== 'Terminals') return beyondLimit(figure);
  if (!beyondLimit({ ...figure, value: figure.value / series })) return null;
  const question: Question = { code: 'voltage-beyond-pack', typed: figure, series };
  if (beyondLimit({ ...figure, value: figure.value / 1000 / series })) return question;
  return { ...question, meant: formatRead(figure.value / 1000, figure.step / 1000, display.voltage) };
}

const askAboutGroup = (
  figure: ParsedQuantity,
  others: readonly ParsedQuantity[],
  { chemistry }: PackContext,
): Question | null =>
  askAboutVoltage(figure, chemistry, others.length > 1 ? median(others.map(({ value }) => value)) : null);

/** Groups in the same ratios as last time, the other way round. */
function askAboutOrder(
  groups: readonly (ParsedQuantity | null)[],
  { code, lastRestV }: PackContext,
  words: readonly string[],
): LineQuestion | null {
  const volts = groups.map((figure) => figure?.value ?? null);
  if (!lastRestV || !looksTurned(volts, lastRestV)) return null;
  const turned = [...words.slice(0, groups.length).toReversed(), ...words.slice(groups.length)];
  return { text: questionText({ code: 'perhaps-from-red' }), suggests: [code, ...turned].join(' ') };
}

/** Terminals beyond any meter's error off the sum: more likely a slip of the pen than a finding. */
function askAboutSum(
  groups: readonly (ParsedQuantity | null)[],
  terminal: ParsedQuantity | null,
  { series }: PackContext,
): LineQuestion | null {
  const sum = groups.reduce((total, figure) => total + (figure?.value ?? 0), 0);
  if (terminal === null || groups.includes(null) || Math.abs(terminal.value - sum) <= 0.15 * sum + 0.1 * series)
    return null;
  return {
    text:
      `The groups add up to ${formatFigure(sum, display.voltage, 2)}, the terminals say ` +
      `${formatRead(terminal.value, terminal.step, display.voltage)}?`,
    suggests: null,
  };
}
