import { bodyText } from '@/words/bodies';
import { questionText } from '@/words/questions';
import { askAboutDigitsOf, askAboutResistance, askAboutVoltage, type LastDigit } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { beyondLimit } from '@/core/quantity/limits';
import { type BareUnit, type Dimension, type ParsedQuantity, parseQuantity } from '@/core/quantity/parse';
import type { Question } from '@/core/quantity/question';
import { type MethodKey, methods } from '@/core/resistance/methods';
import type { ResistanceBody } from '@/core/judging/bodies';
import type { Asked } from '@/ui/entryLine';
import { cellCodeOf, weldCodesOf, weldText, withDegrees, wordsOf } from '@/ui/tokens';

export interface RoundCell {
  code: string;
  chemistry: Chemistry;
  /** Readings of it in this round so far. */
  times: number;
  /** The codes of those it is welded to: they are read with it. */
  weldedTo: readonly string[];
}

export interface RoundContext {
  method: MethodKey;
  loadResistanceOhm: number | null;
  batchMedianOhm: number | null;
  /** What it is read with, and its last digit of what the method needs; null where none was named. */
  instrument?: LastDigit | null;
}

export interface RoundReading {
  body: ResistanceBody;
  temperatureC: number | null;
}

export type RoundLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  | { kind: 'go'; code: string }
  /** `inFull` is the line as it means the same whatever cell is shown. */
  | { kind: 'reading'; code: string; reading: RoundReading; said: string; asks: Asked | null; inFull: string };

/** What a figure without unit is, one after the other; the last one of `after` may be left out. */
const shapes: Record<Exclude<MethodKey, 'pulse'>, { first: BareUnit[]; optional: BareUnit[] }> = {
  'ac-meter': { first: [{ dimension: 'resistance', factor: 1e-3 }], optional: [{ dimension: 'voltage', factor: 1 }] },
  told: { first: [{ dimension: 'resistance', factor: 1e-3 }], optional: [{ dimension: 'voltage', factor: 1 }] },
  resistor: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
    ],
    optional: [{ dimension: 'voltage', factor: 1 }],
  },
  ammeter: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
    ],
    optional: [{ dimension: 'voltage', factor: 1 }],
  },
  preload: {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
      { dimension: 'voltage', factor: 1 },
    ],
    optional: [],
  },
  'two-current': {
    first: [
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
      { dimension: 'voltage', factor: 1 },
      { dimension: 'current', factor: 1 },
    ],
    optional: [],
  },
};

/** A bare figure below this in a round of milliohms was typed in ohms: no cell has half a milliohm. */
const leastMilliohm = 0.5;

/**
 * Understands a line of a resistance round: an optional cell code, the figures of its method, and anywhere a
 * temperature with its unit. A figure with a unit of its own may stand anywhere.
 */
export function understandReading(
  text: string,
  round: RoundContext,
  current: RoundCell | null,
  cellOf: (code: string) => RoundCell | null,
  whyNot: (code: string) => string | null,
): RoundLine {
  const words = wordsOf(text, ['V', 'mV', 'A', 'mA', 'mΩ', 'Ω', 'mohm', 'ohm', '°C', 'C']);
  if (words.length === 0) return { kind: 'nothing' };
  const named = weldCodesOf(words[0])?.[0] ?? cellCodeOf(words[0]);
  const cell = named ? cellOf(named) : current;
  if (!cell)
    return {
      kind: 'wrong',
      said: named
        ? (whyNot(named) ?? `${named} is not among the cells of this round.`)
        : 'Every cell was measured; begin with the code of the one to measure again.',
    };
  const figures = named ? words.slice(1) : words;
  if (figures.length === 0) return { kind: 'go', code: cell.code };
  if (round.method === 'pulse')
    return {
      kind: 'wrong',
      said: `A logged pulse is filed from the page of its run: open ${cell.code} and choose the step there.`,
    };

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
  const reading = { body: bodyOf(round.method, read), temperatureC: read.temperature?.value ?? null };
  const code = weldText([cell.code, ...cell.weldedTo]);
  // Several in parallel show a share of what one has.
  const together = cell.weldedTo.length + 1;
  const asked = questionOf(
    reading.body,
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

/** A figure with the place of its word in the line. */
type Placed = ParsedQuantity & { place: number };

interface Figures {
  by: Partial<Record<Dimension, Placed[]>>;
  temperature: Placed | null;
}

/**
 * The figures by dimension in their order; the word that makes no sense; or null where there are too few or too many.
 */
function figuresOf(words: readonly string[], method: Exclude<MethodKey, 'pulse'>): Figures | string | null {
  const { first, optional } = shapes[method];
  const open = [...first, ...optional];
  const by: Figures['by'] = {};
  let temperature: Placed | null = null;
  for (const [place, word] of words.entries()) {
    const parsed = parseQuantity(withDegrees(word), open[0] ?? { dimension: 'voltage', factor: 1 });
    if (parsed?.dimension === 'temperature' && temperature === null) {
      temperature = { ...parsed, place };
      continue;
    }
    const taken = parsed ? open.findIndex((unit) => unit.dimension === parsed.dimension) : -1;
    if (!parsed || taken < 0) return word;
    open.splice(taken, 1);
    by[parsed.dimension] = [...(by[parsed.dimension] ?? []), { ...inOhms(parsed, word), place }];
  }
  return words.length > 0 && open.length <= optional.length ? { by, temperature } : null;
}

/** `0.0435` in a round of milliohms is ohms. */
function inOhms(parsed: ParsedQuantity, word: string): ParsedQuantity {
  const bare = /^[+-]?[\d.,]+$/.test(word);
  const small = parsed.dimension === 'resistance' && parsed.value > 0 && parsed.value < leastMilliohm / 1000;
  return (bare && small && parseQuantity(word, { dimension: 'resistance', factor: 1 })) || parsed;
}

function bodyOf(method: Exclude<MethodKey, 'pulse'>, { by }: Figures): ResistanceBody {
  const volts = by.voltage ?? [];
  const amps = by.current ?? [];
  const coarsest = (figures: readonly ParsedQuantity[]) => Math.max(...figures.map((figure) => figure.step));
  const at = (figures: readonly ParsedQuantity[], i: number) => figures[i]?.value ?? NaN;
  const stepAt = (figures: readonly ParsedQuantity[], i: number) => figures[i]?.step ?? NaN;
  switch (method) {
    case 'ac-meter':
    case 'told':
      return {
        kind: 'resistance',
        resistanceOhm: by.resistance?.[0]?.value ?? NaN,
        step: by.resistance?.[0]?.step ?? 1e-4,
        openV: volts[0]?.value ?? null,
        openStep: volts[0]?.step ?? null,
      };
    case 'two-current':
      return {
        kind: 'two-current',
        atLowV: at(volts, 0),
        lowCurrentA: at(amps, 0),
        atHighV: at(volts, 1),
        highCurrentA: at(amps, 1),
        step: stepAt(volts, 0),
        highStep: stepAt(volts, 1),
        currentStep: coarsest(amps),
      };
    default:
      return {
        kind: 'load-step',
        openV: at(volts, 0),
        loadedV: at(volts, 1),
        afterV: volts[2]?.value ?? null,
        currentA: amps[0]?.value ?? null,
        step: stepAt(volts, 0),
        loadedStep: stepAt(volts, 1),
        afterStep: volts[2]?.step ?? null,
        currentStep: amps[0]?.step ?? null,
      };
  }
}

/** A raw reading in words. */
export const sayReading = ({ body, temperatureC }: RoundReading): string =>
  temperatureC === null ? bodyText(body) : `${bodyText(body)}, ${temperatureC} °C`;

/** The first question about a line, with the place of the figure it is about. */
function questionOf(
  reading: ResistanceBody,
  { by }: Figures,
  round: RoundContext,
  cell: RoundCell,
): { question: Question; place?: number } | null {
  const each = (figures: readonly Placed[] | undefined, ask: (figure: Placed) => Question | null) =>
    (figures ?? [])
      .map((figure) => ({ question: ask(figure), place: figure.place }))
      .find((one): one is { question: Question; place: number } => one.question !== null);
  const odd =
    each(by.voltage, (figure) => askAboutVoltage(figure, cell.chemistry)) ??
    each(by.resistance, (figure) => askAboutResistance(figure, round.batchMedianOhm));
  if (odd) return odd;
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

/** A question about figures that should stand the other way round. */
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
