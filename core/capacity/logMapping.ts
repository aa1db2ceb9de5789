import { ImpossibleInput } from '../impossibleInput';
import type { LogColumn, LogField, LogLayout, Logged } from './logColumns';
import { unitsOf } from './logUnits';
import { timeFormOf } from './timeText';

/** A column may hold the date beside a clock as well, or the voltage of a tap against the negative terminal. */
export type MappedField = LogField | 'day' | 'tap';

/** The meaning of one column of a log, given by a person. */
export interface MappedColumn {
  index: number;
  field: MappedField;
  /** Of a group or tap, from the negative terminal. */
  position?: number | undefined;
  unit: string;
}

/** The layout of a log, given by a person. */
export interface LogMapping {
  /** Of a text table. */
  separator?: string | undefined;
  /** Of a workbook. */
  sheet?: string | undefined;
  /** Rows before the first sample. */
  headingRows: number;
  columns: MappedColumn[];
  /** From sample to sample, where there is no time column, s. */
  intervalS?: number | undefined;
}

/** What a log looked like at its beginning. */
export interface LogHead {
  rows: (readonly string[])[];
  /** Rows before the first sample; null where none was found. */
  headingRows: number | null;
  /** Null where it is no text table. */
  separator: string | null;
}

const isOfGroup = ({ field }: MappedColumn): boolean => field === 'group' || field === 'tap';

/**
 * The layout from a mapping given by a person.
 *
 * @param rows the first rows, tokenised
 * @throws ImpossibleInput where it names no time, no voltage or the groups of another pack, or the same twice
 */
export function mappedLayout(
  rows: readonly (readonly string[])[],
  { headingRows, columns, intervalS }: LogMapping,
  { series }: Pick<Logged, 'series'>,
): LogLayout {
  const ofGroups = columns.filter(isOfGroup).sort((a, b) => (a.position ?? 0) - (b.position ?? 0));
  const single = columns.filter((column) => !isOfGroup(column)).map(({ field }) => field);
  const twice = single.find((field, i) => single.indexOf(field) < i);
  if (twice !== undefined) throw new ImpossibleInput('mapping', { code: 'mapped-twice', what: twice });
  if (!single.includes('time') && intervalS === undefined)
    throw new ImpossibleInput('mapping', { code: 'not-mapped', what: 'time' });
  if (!single.includes('voltage') && ofGroups.length === 0)
    throw new ImpossibleInput('mapping', { code: 'not-mapped', what: 'voltage' });
  if (ofGroups.length > 0 && (ofGroups.length !== series || ofGroups.some(({ position }, i) => position !== i + 1)))
    throw new ImpossibleInput('mapping', { code: 'group-columns', columns: ofGroups.length, series });

  const samples = rows.slice(headingRows);
  const formAt = (index: number) =>
    timeFormOf(samples.map((row) => row[index]?.trim() ?? '').find((cell) => cell !== '') ?? '') ?? 'number';
  const day = columns.find(({ field }) => field === 'day');
  const taps = ofGroups.some(({ field }) => field === 'tap');
  return {
    headingRows,
    columns: columns.flatMap(({ index, field, position, unit }): LogColumn[] => {
      if (field === 'day') return [];
      const kind = field === 'tap' ? 'group' : field;
      const written = field === 'time' ? formAt(index) : 'number';
      return [
        {
          field: kind,
          index,
          ...(position === undefined ? {} : { position }),
          heading: headingAt(rows, headingRows, index),
          written,
          unit,
          factor: unitsOf(kind)[unit] ?? 1,
          assumed: false,
          ...(day && field === 'time' && written === 'clock' ? { dayIndex: day.index } : {}),
        },
      ];
    }),
    groups:
      ofGroups.length === 0
        ? null
        : { places: ofGroups.map(({ index }) => index), taps, terminals: null, turned: false },
  };
}

/** The heading of a column. */
const headingAt = (rows: readonly (readonly string[])[], headingRows: number, index: number): string =>
  rows
    .slice(0, headingRows)
    .map((row) => row[index]?.trim() ?? '')
    .filter(Boolean)
    .join(' ');

/** The mapping that says what was understood anyway: where a person begins to change it. */
export function mappingOf(head: LogHead, columns: readonly LogColumn[], areTaps: boolean): LogMapping {
  const mapped = columns
    // The last tap is the terminals as well.
    .filter(({ field, index }) => !(areTaps && field === 'voltage' && isGroupAt(columns, index)))
    .flatMap(({ index, field, position, unit, dayIndex }): MappedColumn[] => [
      { index, field: areTaps && field === 'group' ? 'tap' : field, position, unit },
      ...(dayIndex === undefined ? [] : [{ index: dayIndex, field: 'day' as const, unit: '' }]),
    ]);
  return {
    ...(head.separator === null ? {} : { separator: head.separator }),
    headingRows: head.headingRows ?? 0,
    columns: mapped,
  };
}

const isGroupAt = (columns: readonly LogColumn[], place: number): boolean =>
  columns.some(({ field, index }) => field === 'group' && index === place);

/** What files of one kind have in common: how many columns they have, and their headings. */
export function shapeOf({ rows, headingRows }: LogHead): string {
  const width = rows[headingRows ?? 0]?.length ?? 0;
  const titles = rows.slice(0, headingRows ?? 0).filter((row) => row.length === width);
  return [String(width), ...titles.flat().map((title) => title.trim().toLowerCase())].join('|');
}
