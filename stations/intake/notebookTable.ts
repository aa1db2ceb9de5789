import { beyondLimit } from '@/core/quantity/limits';
import { type Dimension, parseQuantity } from '@/core/quantity/parse';
import { questionText } from '@/words/questions';
import { isValid, parse as parseDate } from 'date-fns';
import Papa from 'papaparse';
import { median } from 'simple-statistics';

/** What a column of a person's table may hold. */
export const notebookFields = ['code', 'voltage', 'mass', 'capacity', 'resistance', 'date', 'note', 'none'] as const;
export type NotebookField = (typeof notebookFields)[number];

/** What a column is taken for; figures without a unit are in that. */
export interface NotebookColumn {
  field: NotebookField;
  unit: string | null;
}

interface FieldUnits {
  dimension: Dimension;
  /** The first is usual; what one of each is in SI. */
  units: readonly (readonly [name: string, factor: number])[];
}

/** The fields that are figures. */
export const figureFields: Partial<Record<NotebookField, FieldUnits>> = {
  voltage: {
    dimension: 'voltage',
    units: [
      ['V', 1],
      ['mV', 1e-3],
    ],
  },
  mass: {
    dimension: 'mass',
    units: [
      ['g', 1e-3],
      ['kg', 1],
    ],
  },
  capacity: {
    dimension: 'charge',
    units: [
      ['Ah', 1],
      ['mAh', 1e-3],
    ],
  },
  resistance: {
    dimension: 'resistance',
    units: [
      ['mΩ', 1e-3],
      ['Ω', 1],
    ],
  },
};

export interface NotebookTable {
  heading: string[] | null;
  rows: string[][];
  /** Why the table cannot be read whole, in words; null where it can. */
  tooLarge: string | null;
  /** What each column is taken for, until a person says otherwise. */
  columns: NotebookColumn[];
}

/** No table that is pasted by hand is larger; a log is imported as a run. */
export const mostRows = 2000;
export const mostChars = 400_000;
export const mostColumns = 30;

const words: readonly (readonly [NotebookField, RegExp])[] = [
  ['code', /^(code|cell|no\.?|nr\.?|number|id|name|label|#|pack|zelle|nummer)\b/i],
  ['date', /date|day|when|datum/i],
  ['resistance', /resist|\b(ir|ri|esr)\b|m?(ω|Ω|ohm)/i],
  ['capacity', /capac|kapaz|m?ah\b/i],
  ['voltage', /volt|spannung|\bm?v\b|ocv/i],
  ['mass', /weigh|mass|gewicht|\bk?g\b|gram/i],
  ['note', /note|remark|comment|bemerk/i],
];

const unitWords: Record<string, RegExp> = {
  mV: /\bmv\b/i,
  V: /\bv\b|volt/i,
  kg: /\bkg\b/i,
  g: /\bg\b|gram/i,
  mAh: /mah/i,
  Ah: /\bah\b/i,
  mΩ: /m ?(ω|Ω|ohm)/i,
  Ω: /(ω|Ω|ohm)/i,
};

/** Figures of this size are in the smaller or the larger unit, where the unit is not given. */
const usualUnit: Record<string, (typical: number) => string> = {
  voltage: (typical) => (typical > 100 ? 'mV' : 'V'),
  mass: (typical) => (typical < 1 ? 'kg' : 'g'),
  capacity: (typical) => (typical >= 50 ? 'mAh' : 'Ah'),
  resistance: (typical) => (typical < 1 ? 'Ω' : 'mΩ'),
};

const figureIn = (cell: string): number | null =>
  parseQuantity(cell, { dimension: 'voltage', factor: 1 })?.value ?? null;

/** Reads a pasted or dropped table: its separator, its heading, what each column is taken for. */
export function readNotebook(text: string): NotebookTable {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: 'greedy' });
  const cells = data.map((row) => row.map((cell) => cell.trim()));
  const [first = [], ...more] = cells;
  const isHeading = more.length > 0 && first.every((cell) => figureIn(cell) === null && dayIn(cell) === null);
  const rows = isHeading ? more : cells;
  const heading = isHeading ? first : null;
  const count = Math.max(0, ...cells.map((row) => row.length));
  const columns = Array.from({ length: count }, (_, i) =>
    guess(
      heading?.[i] ?? '',
      rows.map((row) => row[i] ?? ''),
    ),
  );
  return { heading, rows, columns: eachOnce(columns), tooLarge: tooLargeText(rows.length, count) };
}

function tooLargeText(rows: number, columns: number): string | null {
  if (rows > mostRows) return `This table has ${rows} rows. Paste at most ${mostRows} at once; the rest comes next.`;
  return columns > mostColumns
    ? `This table has ${columns} columns. Paste at most ${mostColumns}: leave out those that hold no readings.`
    : null;
}

function guess(heading: string, cells: readonly string[]): NotebookColumn {
  const filled = cells.filter(Boolean);
  const field = words.find(([, pattern]) => pattern.test(heading))?.[0] ?? byContent(filled);
  return { field, unit: unitOf(field, heading, filled) };
}

function byContent(cells: readonly string[]): NotebookField {
  if (cells.length === 0) return 'none';
  if (cells.every((cell) => /^[a-z][a-z0-9]*[- ]?\d+$/i.test(cell))) return 'code';
  if (cells.every((cell) => dayIn(cell) !== null)) return 'date';
  const figures = cells.flatMap((cell) => figureIn(cell) ?? []);
  if (figures.length < cells.length) return cells.some((cell) => cell.length > 8) ? 'note' : 'none';
  const typical = median(figures);
  if (typical > 0.5 && typical < 5) return 'voltage';
  return typical > 400 && typical < 20_000 ? 'capacity' : 'none';
}

function unitOf(field: NotebookField, heading: string, cells: readonly string[]): string | null {
  const units = figureFields[field]?.units;
  if (!units) return null;
  const written = units
    .map(([name]) => name)
    .sort((one, other) => other.length - one.length)
    .find((name) => unitWords[name]?.test(heading));
  const figures = cells.flatMap((cell) => figureIn(cell) ?? []);
  return written ?? (figures.length > 0 ? (usualUnit[field]?.(median(figures)) ?? null) : (units[0]?.[0] ?? null));
}

/** The first column of a kind counts; notes may be several. */
const eachOnce = (columns: readonly NotebookColumn[]): NotebookColumn[] =>
  columns.map((column, i) =>
    column.field !== 'note' && columns.findIndex(({ field }) => field === column.field) < i
      ? { field: 'none', unit: null }
      : column,
  );

const dayForms = ['yyyy-MM-dd', 'd.M.yyyy', 'd/M/yyyy', 'd.M.yy', 'd MMM yyyy', 'yyyy/MM/dd'];

/** Two digits of a year are read about this one. */
const ofThisCentury = new Date(Date.UTC(2020, 0, 1));

/** A day as people write it, the day before the month; null for anything else, and for days to come. */
export function dayIn(text: string): Date | null {
  for (const form of dayForms) {
    const day = parseDate(`${text.trim()} 12:00Z`, `${form} HH:mmX`, ofThisCentury);
    if (isValid(day) && day.getUTCFullYear() > 1990) return day;
  }
  return null;
}

/** A note and a code hold no more characters. */
export const [mostNote, mostCode] = [500, 100];

/** A figure with the last digit it was noted with, SI. */
export interface Noted {
  value: number;
  step: number;
}

/** One row, understood. */
export interface NotebookRow {
  /** In the pasted table, from 1; the heading is one. */
  row: number;
  code: string;
  voltage?: Noted;
  mass?: Noted;
  capacity?: Noted;
  resistance?: Noted;
  day?: Date;
  note?: string;
}

/** What cannot be read, with its place. */
export interface NotebookFault {
  row: number;
  column: number;
  said: string;
}

/** Every row with the chosen meaning of its columns, and the cells that could not be read. */
export function understandNotebook(
  { heading, rows }: Pick<NotebookTable, 'heading' | 'rows'>,
  columns: readonly NotebookColumn[],
  now: Date,
): { rows: NotebookRow[]; faults: NotebookFault[] } {
  const faults: NotebookFault[] = [];
  const understood = rows.map((cells, i): NotebookRow => {
    const row = i + (heading ? 2 : 1);
    const read: NotebookRow = { row, code: '' };
    const notes: string[] = [];
    for (const [place, { field, unit }] of columns.entries()) {
      const cell = cells[place] ?? '';
      const fault = (said: string) => faults.push({ row, column: place + 1, said });
      if (cell === '' || field === 'none') continue;
      if (field === 'code' && cell.length > mostCode) fault('This is too long for a code.');
      else if (field === 'code') read.code = cell;
      else if (field === 'note') notes.push(cell);
      else if (field === 'date') {
        const day = dayIn(cell);
        if (day && day <= now) read.day = day;
        else fault(day ? `"${cell}" is still to come.` : `"${cell}" is no day that was understood.`);
      } else {
        const figure = figureOf(cell, field, unit);
        if ('said' in figure) fault(figure.said);
        else read[field] = figure;
      }
    }
    const note = notes.join(' · ');
    if (note.length > mostNote)
      faults.push({
        row,
        column: columns.findIndex(({ field }) => field === 'note') + 1,
        said: `This note has ${note.length} characters; a note holds ${mostNote}. Shorten it.`,
      });
    else if (note !== '') read.note = note;
    return read;
  });
  return { rows: understood, faults };
}

function figureOf(cell: string, field: NotebookField, unit: string | null): Noted | { said: string } {
  const of = figureFields[field];
  const factor = of?.units.find(([name]) => name === unit)?.[1] ?? of?.units[0]?.[1] ?? 1;
  const read = of && parseQuantity(cell, { dimension: of.dimension, factor });
  if (!read || read.dimension !== of.dimension) return { said: `"${cell}" was not understood as ${field}.` };
  if (!(read.value > 0)) return { said: `"${cell}": ${field} above zero is expected.` };
  const beyond = beyondLimit(read);
  return beyond ? { said: questionText(beyond) } : { value: read.value, step: read.step };
}
