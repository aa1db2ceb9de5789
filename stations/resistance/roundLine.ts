import { bodyText } from '@/words/bodies';
import { questionText } from '@/words/questions';
import { askAboutDigitsOf, askAboutResistance, askAboutVoltage, type LastDigit } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { display, formatRead } from '@/core/quantity/format';
import { beyondLimit } from '@/core/quantity/limits';
import type { Question } from '@/core/quantity/question';
import { type MethodKey, methods } from '@/core/resistance/methods';
import type { ResistanceBody } from '@/core/judging/bodies';
import type { LineQuestion } from '@/ui/entryLine';
import { cellCodeOf, packCodeOf, weldCodesOf, weldText, wordsOf } from '@/ui/tokens';
import { bodyOf, type Figures, figuresOf, type PlacedFigure } from './figures';
import { understandPackReading } from './packReading';

export interface RoundCell {
  code: string;
  chemistry: Chemistry;
  /** Readings of it in this round so far. */
  times: number;
  /** The codes of those it is welded to: they are read with it. */
  weldedTo: readonly string[];
  /** This many groups, from the negative terminal; a cell is one. */
  series: number;
  /** The median of its groups when they were read last; null for a cell, and where not noted. */
  ownMedianOhm?: number | null;
}

export interface RoundContext {
  method: MethodKey;
  loadResistanceOhm: number | null;
  batchMedianOhm: number | null;
  /** What it is read with, and its last digit of what the method needs; null where none was named. */
  instrument?: LastDigit | null;
}

export interface RoundReading {
  /** One, or one a group. */
  bodies: ResistanceBody[];
  temperatureC: number | null;
  /** The day it was read, as 2026-03-02, where that was not today. */
  day?: string | null;
}

export type RoundLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  | { kind: 'go'; code: string }
  /** `inFull` is the line as it means the same whatever cell is shown. */
  | { kind: 'reading'; code: string; reading: RoundReading; said: string; asks: LineQuestion | null; inFull: string };

/**
 * Understands a line of a resistance round: an optional code, the figures of its method (of a pack for each group, or
 * of the whole), and anywhere a temperature with its unit. A figure with a unit of its own may come anywhere.
 */
export function understandReading(
  text: string,
  round: RoundContext,
  current: RoundCell | null,
  cellOf: (code: string) => RoundCell | null,
  whyNot: (code: string) => string | null,
): RoundLine {
  const words = wordsOf(text.replace('=', ' = '), ['V', 'mV', 'A', 'mA', 'mΩ', 'Ω', 'mohm', 'ohm', '°C', 'C']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = weldCodesOf(words[0])?.[0] ?? cellCodeOf(words[0]) ?? packCodeOf(words[0]);
  const cell = named ? cellOf(named) : current;
  if (!cell)
    return {
      kind: 'wrong',
      said: named
        ? (whyNot(named) ?? `${named} is not among the ${packCodeOf(named) ? 'packs' : 'cells'} of this round.`)
        : 'All were measured; start with the code of the one to measure again.',
    };
  const behind = named ? words.slice(1) : words;
  const day = behind.find((word) => dayPattern.test(word)) ?? null;
  if (day !== null && Number.isNaN(Date.parse(day))) return { kind: 'wrong', said: `There is no day ${day}.` };
  const figures = behind.filter((word) => word !== day);
  const line = understandFigures(figures, round, cell);
  if (day === null) return line;
  if (line.kind === 'wrong') return { ...line, ...(line.suggests && { suggests: `${line.suggests} ${day}` }) };
  if (line.kind !== 'reading') return line;
  const suggests = line.asks?.suggests;
  return {
    ...line,
    reading: { ...line.reading, day },
    said: `${line.said}, on ${day}`,
    asks: line.asks && { ...line.asks, suggests: suggests ? `${suggests} ${day}` : null },
    inFull: `${line.inFull} ${day}`,
  };
}

/** What a line says of one that is known. */
function understandFigures(figures: readonly string[], round: RoundContext, cell: RoundCell): RoundLine {
  if (figures.length === 0) return { kind: 'go', code: cell.code };
  if (round.method === 'pulse')
    return {
      kind: 'wrong',
      said: `A logged pulse is filed from the page of its run: open ${cell.code} and choose the step there.`,
    };

  if (cell.series > 1) return understandPackReading(figures, round, cell);

  const expected = `${methods[round.method].typed}: ${methods[round.method].example}`;
  const read = figuresOf(figures, round.method);
  if (typeof read === 'string') return { kind: 'wrong', said: `"${read}" was not understood. Expected ${expected}.` };
  if (!read) return { kind: 'wrong', said: `${cell.code}: expected ${expected}.` };
  /** The line with the figure that was meant in the place of that one. */
  const instead = ({ meant }: Question, place: number | undefined): string | null =>
    meant === undefined || place === undefined
      ? null
      : [cell.code, ...figures.slice(0, place), meant, ...figures.slice(place + 1)].join(' ');
  for (const figure of [...Object.values(read.by).flat(), ...(read.temperature ? [read.temperature] : [])]) {
    const beyond = beyondLimit(figure);
    const suggests = beyond && instead(beyond, figure.place);
    if (beyond) return { kind: 'wrong', said: questionText(beyond), ...(suggests && { suggests }) };
  }
  const body = bodyOf(round.method, read);
  const reading: RoundReading = { bodies: [body], temperatureC: read.temperature?.value ?? null };
  const code = weldText([cell.code, ...cell.weldedTo]);
  // Several in parallel show a share of what one has.
  const together = cell.weldedTo.length + 1;
  const asked = questionOf(
    body,
    read,
    { ...round, batchMedianOhm: round.batchMedianOhm && round.batchMedianOhm / together },
    cell,
  );
  const again = cell.times > 0 ? `, press ${cell.times + 1}` : '';
  return {
    kind: 'reading',
    code: cell.code,
    reading,
    said: `${code}${again}: ${sayReading(reading)}`,
    asks: asked && { text: questionText(asked.question), suggests: instead(asked.question, asked.place) },
    inFull: `${cell.code} ${figures.join(' ')}`,
  };
}

const dayPattern = /^\d{4}-\d{2}-\d{2}$/;

/** A raw reading in words. */
export const sayReading = ({ bodies, temperatureC }: RoundReading): string =>
  [...readText(bodies), ...(temperatureC === null ? [] : [`${temperatureC} °C`])].join(', ');

/** Of several groups the figures beside each other, and the reported value of the whole. */
function readText(bodies: readonly ResistanceBody[]): string[] {
  const figures = bodies.flatMap((body) => (body.kind === 'resistance' ? body : []));
  const groups = figures.filter(({ position }) => position !== 0).map(shownOhms);
  if (groups.length < 2) return bodies.map((body) => placeText(body) + bodyText(body));
  const whole = figures.filter(({ position }) => position === 0).map((body) => `${shownOhms(body)} mΩ together`);
  return [`resistance ${groups.join(' · ')} mΩ`, ...whole];
}

const shownOhms = ({ resistanceOhm, step }: { resistanceOhm: number; step: number }): string =>
  formatRead(resistanceOhm, step, { ...display.resistance, unit: '' }).trim();

const placeText = ({ position }: ResistanceBody & { position?: number }): string => {
  if (position === undefined) return '';
  return position === 0 ? 'from terminal to terminal: ' : `group ${position}: `;
};

/** The first question about a line, with the place of the figure it is about. */
export function questionOf(
  reading: ResistanceBody,
  { by }: Figures,
  round: RoundContext,
  cell: Pick<RoundCell, 'chemistry'>,
): { question: Question; place?: number } | null {
  const each = (figures: readonly PlacedFigure[] | undefined, ask: (figure: PlacedFigure) => Question | null) =>
    (figures ?? [])
      .map((figure) => ({ question: ask(figure), place: figure.place }))
      .find((one): one is { question: Question; place: number } => one.question !== null);
  const oddQuestion =
    each(by.voltage, (figure) => askAboutVoltage(figure, cell.chemistry)) ??
    each(by.resistance, (figure) => askAboutResistance(figure, round.batchMedianOhm));
  if (oddQuestion) return oddQuestion;
  const question = askAboutStep(reading, round);
  return question
    ? { question }
    : (each(by[methods[round.method].needs], (figure) => askAboutDigitsOf(figure, round.instrument ?? null)) ?? null);
}

/** A question about what a step of current comes to. */
function askAboutStep(reading: ResistanceBody, round: RoundContext): Question | null {
  const order = askAboutOrder(reading);
  if (order !== null) return order;
  const ohm = stepOhm(reading, round);
  return ohm === null ? null : askAboutResistance({ value: ohm, step: null }, round.batchMedianOhm);
}

/** A question about figures in the wrong order. */
function askAboutOrder(reading: ResistanceBody): Question | null {
  if (reading.kind === 'two-current') {
    if (reading.lowCurrentA >= reading.highCurrentA) return { code: 'currents-swapped' };
    return reading.atHighV >= reading.atLowV ? { code: 'voltages-swapped', at: 'two currents' } : null;
  }
  if (reading.kind !== 'load-step') return null;
  const { openV, loadedV, afterV } = reading;
  if (loadedV >= openV) return { code: 'voltages-swapped', at: 'a load' };
  const droopV = afterV === null ? 0 : openV - afterV;
  if (droopV < 0) return { code: 'still-settling' };
  return droopV >= openV - loadedV ? { code: 'load-still-on' } : null;
}

/** What the figures of a step give, for a first glance; null where they are no step. */
function stepOhm(reading: ResistanceBody, round: RoundContext): number | null {
  if (reading.kind === 'two-current')
    return (reading.atLowV - reading.atHighV) / (reading.highCurrentA - reading.lowCurrentA);
  if (reading.kind !== 'load-step') return null;
  const { openV, loadedV, afterV } = reading;
  return ((afterV ?? openV) - loadedV) / (reading.currentA ?? loadedV / (round.loadResistanceOhm ?? Infinity));
}
