import { bodyText } from '@/words/bodies';
import { questionText } from '@/words/questions';
import { askAboutDigitsOf, askAboutMass, askAboutVoltage, type LastDigit } from '@/core/grading/plausibility';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { typedFindings } from '@/core/grading/intake';
import { beyondLimit } from '@/core/quantity/limits';
import { type BareUnit, type Dimension, type ParsedQuantity, parseQuantity } from '@/core/quantity/parse';
import type { Question } from '@/core/quantity/question';
import type { Body, BodyKind } from '@/core/judging/bodies';
import type { LineQuestion } from '@/ui/entryLine';
import { cellCodeOf, weldCodesOf, weldText, withDegrees, wordsOf } from '@/ui/tokens';
import { median } from 'simple-statistics';

export const intakeFields = ['voltage', 'weight', 'inspection'] as const;
export type IntakeField = (typeof intakeFields)[number];

/** What is known of the cell a line is for. */
export interface LineCell {
  code: string;
  chemistry: Chemistry;
  modelMassKg: number | null;
  missing: readonly IntakeField[];
  /** What it was read to be, in words, as far as it was. */
  has: Partial<Record<IntakeField, string>>;
  /** The codes of those it is welded to: they are read with it. */
  weldedTo: readonly string[];
}

export type IntakeReading =
  ReturnType<(typeof readingOf)[keyof typeof readingOf]> | Extract<Body, { kind: 'inspection' }>;

export type IntakeLine =
  | { kind: 'nothing' }
  | { kind: 'wrong'; said: string; suggests?: string }
  | { kind: 'go'; code: string }
  /**
   * `code` names the cell, or those welded together; `cells` are its codes; `isWeld`: that they are welded is new.
   * `inFull` is the line as it means the same whatever cell is shown and whatever it lacks.
   */
  | {
      kind: 'readings';
      code: string;
      cells: string[];
      isWeld: boolean;
      readings: IntakeReading[];
      said: string;
      asks: LineQuestion | null;
      inFull: string;
    };

/** What a figure means here, by its dimension. */
const readingOf = {
  voltage: ({ value, step }: ParsedQuantity) => ({ kind: 'voltage' as const, voltageV: value, step }),
  mass: ({ value, step }: ParsedQuantity) => ({ kind: 'mass' as const, massKg: value, step }),
  temperature: ({ value, step }: ParsedQuantity) => ({ kind: 'skin-temperature' as const, skinC: value, step }),
} satisfies Partial<Record<Dimension, (figure: ParsedQuantity) => Body>>;
const isReadHere = (dimension: Dimension): dimension is keyof typeof readingOf => dimension in readingOf;

const bareVolt: BareUnit = { dimension: 'voltage', factor: 1 };
const bareGram: BareUnit = { dimension: 'mass', factor: 1e-3 };

/**
 * Understands a line of the intake: an optional cell code, then figures and inspection letters in any number. A figure
 * without a unit is the first of voltage and weight that is missing. Pure: the screen shows by it what would be filed,
 * the server files by it.
 *
 * @param current the cell that is shown
 * @param cellOf another cell of the batch by its code
 * @param batch the median of the batch; null while too few were read
 * @param context what else there is to ask by: the meter chosen, and whether this line replaces one that is void by
 * it
 */
export function parseIntakeLine(
  text: string,
  current: LineCell | null,
  cellOf: (code: string) => LineCell | null,
  batch: BatchMedian = { voltageV: null, massKg: null },
  { meter = null, corrects = false }: IntakeContext = {},
): IntakeLine {
  const words = wordsOf(text, ['V', 'mV', 'g', 'kg', 'C', '°C']);
  if (words.length === 0) return { kind: 'nothing' };
  const subject = subjectOf(words[0], current, cellOf);
  if ('wrong' in subject) return { kind: 'wrong', said: subject.wrong };
  const { cell, cells, isNamed, isWeld } = subject;
  const code = weldText(cells);
  const rest = isNamed ? words.slice(1) : words;
  if (rest.length === 0 && !isWeld) return { kind: 'go', code: cell.code };

  const readings: IntakeReading[] = [];
  const inFull = [code];
  /** Two figures without a unit are voltage and weight, whatever is missing. */
  const bare = rest.filter((word) => /^[+-]?[\d.,]+$/.test(word)).length;
  const questions: (Question | null)[] = [];
  /** The line with another word in that place. */
  const instead = (place: number, meant: string) =>
    [code, ...rest.slice(0, place), meant, ...rest.slice(place + 1)].join(' ');
  const has = (kind: IntakeReading['kind']) => readings.some((reading) => reading.kind === kind);
  for (const [place, word] of rest.entries()) {
    const findings = typedFindings(word, 'cell');
    if (findings) {
      readings.push({ kind: 'inspection', findings });
      inFull.push(word);
      questions.push(null);
      continue;
    }
    const wantsMass =
      has('voltage') || (bare < 2 && !cell.missing.includes('voltage') && cell.missing.includes('weight'));
    const parsed = parseQuantity(withDegrees(word), wantsMass ? bareGram : bareVolt);
    if (!parsed)
      return {
        kind: 'wrong',
        said: `"${word}" was not understood. Expected a voltage, a weight in g, or letters of the inspection.`,
      };
    const beyond = beyondLimit(parsed);
    if (beyond)
      return {
        kind: 'wrong',
        said: questionText(beyond),
        ...(beyond.meant && { suggests: instead(place, beyond.meant) }),
      };
    if (!isReadHere(parsed.dimension)) return { kind: 'wrong', said: `"${word}" cannot be entered here.` };
    questions.push(askAboutFigure(parsed, cell, cells.length, batch, meter));
    readings.push(readingOf[parsed.dimension](parsed));
    inFull.push(/[\d.,]$/.test(word) ? `${word} ${parsed.dimension === 'mass' ? 'g' : 'V'}` : word);
  }
  const kinds = readings.map((reading) => reading.kind);
  if (new Set(kinds).size < kinds.length) return { kind: 'wrong', said: 'The same value is twice in this line.' };
  const said = [...(isWeld ? ['welded together'] : []), ...readings.map(bodyText)].join(', ');
  return {
    kind: 'readings',
    code,
    cells,
    isWeld,
    readings,
    said: `${code}: ${said}`,
    asks: askedOf(questions, instead) ?? askAboutCell(code, readings, cell, corrects),
    inFull: inFull.join(' '),
  };
}

/** Whether a figure can be meant as it was typed. */
function askAboutFigure(
  figure: ParsedQuantity,
  cell: LineCell,
  together: number,
  batch: BatchMedian,
  meter: LastDigit | null,
): Question | null {
  if (figure.dimension === 'voltage')
    return askAboutVoltage(figure, cell.chemistry, batch.voltageV) ?? askAboutDigitsOf(figure, meter);
  if (figure.dimension === 'mass') return askAboutMass(figure, cell.modelMassKg ?? batch.massKg, together);
  return null;
}

interface Subject {
  cell: LineCell;
  /** Its code and those of the cells welded to it. */
  cells: string[];
  /** The line begins with its code. */
  isNamed: boolean;
  /** That they are welded together is new. */
  isWeld: boolean;
}

/**
 * What a line is for: a cell or several welded together, by its first word, else the cell that is shown; or why there
 * is none.
 */
function subjectOf(
  word: string | undefined,
  current: LineCell | null,
  cellOf: (code: string) => LineCell | null,
): Subject | { wrong: string } {
  const welded = weldCodesOf(word);
  const named = welded ?? [cellCodeOf(word)].filter((code) => code !== null);
  const unknown = named.find((code) => cellOf(code) === null);
  if (unknown) return { wrong: `There is no cell ${unknown} in this batch.` };
  const cell = named[0] === undefined ? current : cellOf(named[0]);
  if (!cell) return { wrong: 'Every cell here has its readings. Start with the code of a cell.' };
  const weldOf = (one: LineCell): string[] => [one.code, ...one.weldedTo].sort();
  if (!welded) return { cell, cells: weldOf(cell), isNamed: named.length > 0, isWeld: false };
  const others = welded.map((code) => weldOf(cellOf(code) as LineCell)).filter((weld) => weld.join() !== welded.join());
  const otherwise = others.find((weld) => weld.length > 1);
  if (otherwise)
    return {
      wrong: `${weldText(otherwise)} are noted as welded together: void that on the page of one of them first.`,
    };
  return { cell, cells: welded, isNamed: true, isWeld: others.length > 0 };
}

/** The first question of a line, with the line as it was probably meant. */
function askedOf(
  questions: readonly (Question | null)[],
  instead: (place: number, meant: string) => string,
): LineQuestion | null {
  const place = questions.findIndex((question) => question !== null);
  const question = questions[place];
  return question
    ? { text: questionText(question), suggests: question.meant === undefined ? null : instead(place, question.meant) }
    : null;
}

/** Whether it is this cell that was meant: one that was read already, or that is looked at before it was measured. */
function askAboutCell(
  code: string,
  readings: readonly IntakeReading[],
  { has, missing }: LineCell,
  corrects: boolean,
): LineQuestion | null {
  const fields = readings.flatMap(({ kind }) => fieldOf[kind] ?? []);
  const there = corrects ? undefined : fields.find((field) => has[field] !== undefined);
  if (there === 'inspection')
    return { text: `${code} was looked at already: ${has.inspection}. Add this?`, suggests: null };
  if (there)
    return {
      text: `${code} has a ${there} already, ${has[there]}: replace it with this one?`,
      suggests: null,
    };
  if (!fields.includes('inspection')) return null;
  const lacks = missing.filter((field) => !fields.includes(field));
  return lacks.length === 0
    ? null
    : { text: `${code} has no ${lacks.join(' and no ')} yet: is it the cell in your hand?`, suggests: null };
}

/** Which step of the intake a reading is; none for what is read beside them. */
export const fieldOf: Partial<Record<BodyKind, IntakeField>> = {
  voltage: 'voltage',
  mass: 'weight',
  inspection: 'inspection',
};

export interface IntakeContext {
  /** What voltages are read with. */
  meter?: LastDigit | null;
  /** The line replaces another one and voids it. */
  corrects?: boolean;
}

/** From this many readings on a batch has a median that shows up a slip of the pen. */
const leastForMedian = 5;

/** The median readings of a batch. */
export interface BatchMedian {
  voltageV: number | null;
  massKg: number | null;
}

export function batchMedian(cells: readonly BatchMedian[]): BatchMedian {
  const medianIfEnough = (values: number[]) => (values.length < leastForMedian ? null : median(values));
  return {
    voltageV: medianIfEnough(cells.flatMap((cell) => cell.voltageV ?? [])),
    massKg: medianIfEnough(cells.flatMap((cell) => cell.massKg ?? [])),
  };
}
