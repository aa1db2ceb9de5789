import { ImpossibleInput } from '../impossibleInput';
import { figureValue, parseFigure } from '../quantity/parse';
import { type LogMapping, mappedLayout } from './logMapping';
import { unitsOf } from './logUnits';
import { type GroupColumns, groupNumberIn, understandGroups, type VoltageColumn } from './groupColumns';
import { type TimeForm, timeFormOf } from './timeText';

/** What a column of a log holds; the voltage is that from terminal to terminal. */
export type LogField = 'time' | 'voltage' | 'group' | 'current' | 'temperature' | Counter;
/** What a device numbered as it went: its cycles, and the steps of its program. */
export const counters = ['cycle', 'step'] as const;
export type Counter = (typeof counters)[number];
const isCounter = (field: LogField): field is Counter => counters.some((one) => one === field);

export interface LogColumn {
  field: LogField;
  /** Place in the row, from 0. */
  index: number;
  /** Of a group, from the negative terminal. */
  position?: number;
  /** What was read of its heading; empty without one. */
  heading: string;
  /** How a time is written. */
  written: TimeForm;
  /** Place of the date, where that is a column of its own. */
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
  /** How the columns of groups were understood; null where there are none. */
  groups: GroupColumns | null;
}

/** What a log is of. */
export interface Logged {
  /** Cells or groups in series. */
  series: number;
  /** Its columns of groups begin at the positive terminal. */
  fromRed?: boolean | undefined;
  /** How it is to be read, where a person said so. */
  mapping?: LogMapping | undefined;
}

const headings: [LogField, RegExp][] = [
  ['time', /time|elapsed|zeit|seconds|timestamp|date|^t$|^t[ ([_]/i],
  ['voltage', /volt|spannung|^m?[uv]$|^[uv][ ([_]|_v$|_mv$|\(m?v\)/i],
  ['current', /curr|strom|^i$|^m?a$|^i[ ([_]|_a$|_ma$|amp|\(m?a\)/i],
  ['temperature', /temp|°c/i],
  ['cycle', /^(?!.*(time|zeit|volt|curr|cap|energ)).*(cycle|zyklus|\bcyc\b)/i],
  ['step', /^(?!.*(time|zeit|volt|curr|cap|energ)).*(\bstep|schritt)/i],
];

/** Of a step or cycle alone. */
const ofPart = /step|cycle|schritt|zyklus/i;

const unitIn = (text: string, field: LogField): string | null => {
  const words = text
    .toLowerCase()
    .split(/[\s()[\]/_,:;]+/)
    .filter(Boolean);
  return words.reverse().find((word) => unitsOf(field)[word] !== undefined) ?? null;
};

const isSampleRow = (row: readonly string[]): boolean =>
  row.filter((cell) => timeFormOf(cell.trim()) !== null).length >= 2;

/**
 * Understands the layout of a log from its first rows: where the samples begin, which column holds what, in which unit.
 * Units come from the heading or a row of units below it; without either, they are inferred from the size of the
 * figures and marked as assumed. Returns null when no two columns of numbers are found.
 *
 * Of a pack the voltages of its groups are looked for as well. A mapping given by a person is the layout.
 *
 * @param rows the first rows, tokenised; twenty are plenty
 * @throws ImpossibleInput where columns of groups are not as many as the pack has
 */
export function understandColumns(rows: readonly (readonly string[])[], logged: Logged): LogLayout | null {
  if (logged.mapping) return mappedLayout(rows, logged.mapping, logged);
  const headingRows = rows.findIndex(isSampleRow);
  if (headingRows < 0) return null;
  const samples = rows.slice(headingRows).filter(isSampleRow);
  const width = samples[0]?.length ?? 0;
  const titles = Array.from({ length: width }, (_, i) => rows.slice(0, headingRows).map((row) => row[i]?.trim() ?? ''));

  const forms = Array.from({ length: width }, (_, i) =>
    timeFormOf(samples.map((row) => row[i]?.trim() ?? '').find((cell) => cell !== '') ?? ''),
  );
  const day = forms.indexOf('day');
  const unitAt = (field: LogField, index: number): { unit: string; stated: boolean } => {
    const written = unitIn((titles[index] ?? []).join(' '), field);
    const cells = samples.map((row) => row[index]?.trim() ?? '');
    return { unit: written ?? inferredUnit(field, cells, logged.series), stated: written !== null };
  };
  const voltagesAt = (index: number, number: number): VoltageColumn => {
    const factor = unitsOf('group')[unitAt('group', index).unit] ?? 1;
    return { index, number, voltagesV: samples.map((row) => (figureValue(row[index] ?? '') ?? NaN) * factor) };
  };
  const numbered = logged.series > 1 ? numberedColumns(titles, forms).map((one) => voltagesAt(...one)) : [];
  const headed = numbered.length > 1 ? understandGroups(numbered, logged.series) : null;
  const named = fieldsByHeading(titles, forms, headed);
  const isNamed = named.has('time') && (named.has('voltage') || headed !== null);
  const groups = isNamed ? headed : groupsByPlace(samples, width, logged.series, voltagesAt);
  const fields = isNamed ? named : fieldsByPlace(samples, width, groups);
  if (!fields.has('time') || !(fields.has('voltage') || groups)) return null;

  const places = groups && logged.fromRed && !groups.taps ? groups.places.toReversed() : (groups?.places ?? []);
  const columns = [
    ...[...fields].map(([field, index]) => ({ field, index })),
    ...places.map((index, i) => ({ field: 'group' as const, index, position: i + 1 })),
  ].map(({ field, index, ...place }): LogColumn => {
    const written = field === 'time' ? (forms[index] ?? 'number') : 'number';
    const title = titles[index] ?? [];
    const { unit, stated } = unitAt(field, index);
    return {
      field,
      index,
      ...place,
      heading: title.filter(Boolean).join(' '),
      written,
      unit,
      factor: unitsOf(field)[unit] ?? 1,
      assumed: !stated && written === 'number' && !isCounter(field),
      ...(field === 'time' && written === 'clock' && day >= 0 ? { dayIndex: day } : {}),
    };
  });
  return { columns, headingRows, groups };
}

/** The columns whose headings number them, with their numbers, in the order of these. */
function numberedColumns(titles: string[][], forms: readonly (TimeForm | null)[]): [index: number, number: number][] {
  return titles
    .flatMap((title, index): [number, number][] => {
      const number = groupNumberIn(title.join(' '));
      return number === null || forms[index] !== 'number' ? [] : [[index, number]];
    })
    .sort(([, one], [, other]) => one - other);
}

function fieldsByHeading(
  titles: string[][],
  forms: readonly (TimeForm | null)[],
  groups: GroupColumns | null,
): Map<LogField, number> {
  const fields = new Map<LogField, number>();
  for (const [field, pattern] of headings) {
    const taken = new Set([...fields.values(), ...(groups?.places ?? [])]);
    if (field === 'voltage' && groups && groups.terminals !== null) {
      fields.set(field, groups.terminals);
      continue;
    }
    const places = titles.flatMap((title, i) =>
      !taken.has(i) && title.some((text) => pattern.test(text)) && (field !== 'time' || forms[i] !== 'day') ? [i] : [],
    );
    // Beside the time of the whole, that of a step restarts with each.
    const index = places.find((place) => field !== 'time' || !titles[place]?.some((text) => ofPart.test(text)));
    const chosen = index ?? places[0];
    if (chosen !== undefined) fields.set(field, chosen);
  }
  return fields;
}

/** Without a heading: a run of columns that relate to each other as the groups of a pack do. */
function groupsByPlace(
  samples: readonly (readonly string[])[],
  width: number,
  series: number,
  voltagesAt: (index: number, number: number) => VoltageColumn,
): GroupColumns | null {
  const time = fieldsByPlace(samples, width, null).get('time');
  if (series < 2 || time === undefined) return null;
  const all = Array.from({ length: width }, (_, i) => i).filter((i) => i !== time);
  for (const count of [series + 1, series])
    for (let from = 0; from + count <= all.length; from++) {
      const groups = groupsAmong(all.slice(from, from + count).map(voltagesAt), series);
      if (groups) return groups;
    }
  return null;
}

/** Groups of one pack differ by no more than this share. */
const alikeFraction = 0.5;

function groupsAmong(columns: readonly VoltageColumn[], series: number): GroupColumns | null {
  try {
    const groups = understandGroups(columns, series);
    if (!groups || groups.taps) return groups;
    const first = groups.places.map((place) => columns.find(({ index }) => index === place)?.voltagesV[0] ?? NaN);
    const isAlike = Math.min(...first) > (1 - alikeFraction) * Math.max(...first);
    return isAlike && (groups.terminals !== null || columns.length === series) ? groups : null;
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

/** Without a heading: the first column that only rises is the time, the next is the voltage, the next the current. */
function fieldsByPlace(
  samples: readonly (readonly string[])[],
  width: number,
  groups: GroupColumns | null,
): Map<LogField, number> {
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
    (i) =>
      i !== time &&
      i !== groups?.terminals &&
      !groups?.places.includes(i) &&
      Number.isFinite(numbersAt(i)[0]) &&
      timeFormOf(samples[0]?.[i]?.trim() ?? '') === 'number',
  );
  const fields = new Map<LogField, number>([['time', time]]);
  if (groups && groups.terminals !== null) fields.set('voltage', groups.terminals);
  // A whole number that stays is no voltage: a device numbers its steps so.
  const stays = (index: number) => new Set(numbersAt(index)).size === 1 && Number.isInteger(numbersAt(index)[0]);
  const first = Math.max(
    0,
    others.findIndex((index) => !stays(index)),
  );
  const unnamed = groups ? (['current'] as const) : (['voltage', 'current'] as const);
  unnamed.forEach((field, n) => {
    const index = others[groups ? n : first + n];
    if (index !== undefined) fields.set(field, index);
  });
  return fields;
}

function inferredUnit(field: LogField, cells: string[], series: number): string {
  const size = Math.max(...cells.map((cell) => Math.abs(parseFigure(cell)?.value ?? 0)));
  if (field === 'voltage') return size > 100 * series ? 'mv' : 'v';
  if (field === 'group') return size > 100 ? 'mv' : 'v';
  if (field === 'current') return size > 60 ? 'ma' : 'a';
  if (isCounter(field)) return '';
  return field === 'time' ? inferredTimeUnit(cells) : 'c';
}

/**
 * No logger samples a discharge more coarsely than this; and below it, only a counter of milliseconds has uneven whole
 * steps.
 */
const coarsestS = 200;
const unevenFrom = 20;

/** A spreadsheet counts days from 1900: of these years. Two samples are no tenth of a day apart. */
export const isDayCount = (value: number): boolean => value > 30_000 && value < 80_000;
/** A column of days steps by less than this. */
const mostStepDays = 0.1;

function inferredTimeUnit(cells: string[]): string {
  const values = cells.map((cell) => parseFigure(cell)?.value ?? NaN).filter(Number.isFinite);
  const steps = values
    .slice(1)
    .map((value, i) => value - (values[i] as number))
    .filter((step) => step > 0)
    .sort((a, b) => a - b);
  const mid = steps[steps.length >> 1] ?? 0;
  const isUneven =
    values.every(Number.isInteger) &&
    mid >= unevenFrom &&
    steps.some((step) => step !== mid) &&
    (steps.at(-1) ?? 0) < 1.2 * mid;
  if (values.every((value) => isDayCount(value)) && mid < mostStepDays) return 'd';
  return mid >= coarsestS || isUneven ? 'ms' : 's';
}
