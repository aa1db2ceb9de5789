import { parseFigure } from '../quantity/parse';
import { type TimeForm, timeFormOf } from './timeText';

/** What a column of a log holds. */
export type LogField = 'time' | 'voltage' | 'current' | 'temperature';

export interface LogColumn {
  field: LogField;
  /** Place in the row, from 0. */
  index: number;
  /** What was read of its heading; empty without one. */
  heading: string;
  /** How a time is written. */
  written: TimeForm;
  /** Place of the date, where that stands in a column of its own. */
  dayIndex?: number;
  unit: string;
  /** One of its unit in SI. */
  factor: number;
  /** True where no unit was written and this one was inferred. */
  assumed: boolean;
}

export interface LogLayout {
  columns: LogColumn[];
  /** Rows before the first sample: heading, units. */
  headingRows: number;
}

const unitFactors: Record<LogField, Record<string, number>> = {
  time: {
    s: 1,
    sec: 1,
    second: 1,
    seconds: 1,
    secs: 1,
    ms: 1e-3,
    millis: 1e-3,
    min: 60,
    mins: 60,
    minute: 60,
    minutes: 60,
    h: 3600,
    hr: 3600,
    hour: 3600,
    hours: 3600,
  },
  voltage: { v: 1, volt: 1, volts: 1, mv: 1e-3, millivolt: 1e-3 },
  current: { a: 1, amp: 1, amps: 1, ampere: 1, ma: 1e-3, milliamp: 1e-3 },
  temperature: { c: 1, '°c': 1, degc: 1, celsius: 1 },
};

const headings: [LogField, RegExp][] = [
  ['time', /time|elapsed|zeit|seconds|timestamp|date|^t$|^t[ ([_]/i],
  ['voltage', /volt|spannung|^m?[uv]$|^[uv][ ([_]|_v$|_mv$|\(m?v\)/i],
  ['current', /curr|strom|^i$|^m?a$|^i[ ([_]|_a$|_ma$|amp|\(m?a\)/i],
  ['temperature', /temp|°c/i],
];

const unitIn = (text: string, field: LogField): string | null => {
  const words = text
    .toLowerCase()
    .split(/[\s()[\]/_,:;]+/)
    .filter(Boolean);
  return words.reverse().find((word) => unitFactors[field][word] !== undefined) ?? null;
};

const isSampleRow = (row: readonly string[]): boolean =>
  row.filter((cell) => timeFormOf(cell.trim()) !== null).length >= 2;

/**
 * Understands the layout of a log from its first rows: where the samples begin, which column holds what, in which unit.
 * Units come from the heading or a row of units below it; where neither tells, they are inferred from the size of the
 * figures and marked as assumed. Returns null when no two columns of numbers are found.
 *
 * @param rows the first rows, tokenised; twenty are plenty
 * @param seriesCells cells in series, to tell volts from millivolts
 */
export function understandColumns(rows: readonly (readonly string[])[], seriesCells: number): LogLayout | null {
  const headingRows = rows.findIndex(isSampleRow);
  if (headingRows < 0) return null;
  const samples = rows.slice(headingRows).filter(isSampleRow);
  const width = samples[0]?.length ?? 0;
  const titles = Array.from({ length: width }, (_, i) => rows.slice(0, headingRows).map((row) => row[i]?.trim() ?? ''));

  const forms = Array.from({ length: width }, (_, i) =>
    timeFormOf(samples.map((row) => row[i]?.trim() ?? '').find((cell) => cell !== '') ?? ''),
  );
  const day = forms.indexOf('day');
  const named = fieldsByHeading(titles, forms);
  const fields = named.has('time') && named.has('voltage') ? named : fieldsByPlace(samples, width);
  if (!fields.has('time') || !fields.has('voltage')) return null;

  const columns = [...fields].map(([field, index]): LogColumn => {
    const cells = samples.map((row) => row[index]?.trim() ?? '');
    const written = field === 'time' ? (forms[index] ?? 'number') : 'number';
    const title = titles[index] ?? [];
    const told = unitIn(title.join(' '), field);
    const unit = told ?? inferredUnit(field, cells, seriesCells);
    return {
      field,
      index,
      heading: title.filter(Boolean).join(' '),
      written,
      unit,
      factor: unitFactors[field][unit] ?? 1,
      assumed: told === null && written === 'number',
      ...(field === 'time' && written === 'clock' && day >= 0 ? { dayIndex: day } : {}),
    };
  });
  return { columns, headingRows };
}

function fieldsByHeading(titles: string[][], forms: readonly (TimeForm | null)[]): Map<LogField, number> {
  const fields = new Map<LogField, number>();
  for (const [field, pattern] of headings) {
    const taken = new Set(fields.values());
    const index = titles.findIndex(
      (title, i) =>
        !taken.has(i) && title.some((text) => pattern.test(text)) && (field !== 'time' || forms[i] !== 'day'),
    );
    if (index >= 0) fields.set(field, index);
  }
  return fields;
}

/** Without a heading: the first column that only rises is the time, the next is the voltage, the next the current. */
function fieldsByPlace(samples: readonly (readonly string[])[], width: number): Map<LogField, number> {
  const numbersAt = (index: number) => samples.map((row) => parseFigure(row[index]?.trim() ?? '')?.value ?? NaN);
  const rises = (index: number) => {
    const written = timeFormOf(samples[0]?.[index]?.trim() ?? '');
    if (written === 'day') return false;
    if (written === 'clock' || written === 'date') return true;
    const values = numbersAt(index);
    const ups = values.slice(1).filter((value, i) => value > (values[i] as number)).length;
    return values.length > 1 && ups >= 0.8 * (values.length - 1);
  };
  const columns = Array.from({ length: width }, (_, i) => i);
  const time = columns.find(rises);
  if (time === undefined) return new Map();
  const others = columns.filter(
    (i) => i !== time && Number.isFinite(numbersAt(i)[0]) && timeFormOf(samples[0]?.[i]?.trim() ?? '') === 'number',
  );
  const fields = new Map<LogField, number>([['time', time]]);
  (['voltage', 'current'] as const).forEach((field, n) => {
    const index = others[n];
    if (index !== undefined) fields.set(field, index);
  });
  return fields;
}

function inferredUnit(field: LogField, cells: string[], seriesCells: number): string {
  const size = Math.max(...cells.map((cell) => Math.abs(parseFigure(cell)?.value ?? 0)));
  if (field === 'voltage') return size > 100 * seriesCells ? 'mv' : 'v';
  if (field === 'current') return size > 60 ? 'ma' : 'a';
  return field === 'time' ? inferredTimeUnit(cells) : 'c';
}

/**
 * Nobody samples a discharge more coarsely than this; and below it, only a counter of milliseconds has uneven whole
 * steps.
 */
const coarsestS = 200;
const unevenFrom = 20;

function inferredTimeUnit(cells: string[]): string {
  const values = cells.map((cell) => parseFigure(cell)?.value ?? NaN).filter(Number.isFinite);
  const steps = values
    .slice(1)
    .map((value, i) => value - (values[i] as number))
    .filter((step) => step > 0)
    .sort((a, b) => a - b);
  const middle = steps[steps.length >> 1] ?? 0;
  const isUneven =
    values.every(Number.isInteger) &&
    middle >= unevenFrom &&
    steps.some((step) => step !== middle) &&
    (steps.at(-1) ?? 0) < 1.2 * middle;
  return middle >= coarsestS || isUneven ? 'ms' : 's';
}
