import { ImpossibleInput } from '../impossibleInput';
import { lastDigitOf, valuesLookedAt } from '../quantity/lastDigit';
import { figureValue, parseFigure } from '../quantity/parse';
import type { Warning } from '../warning';
import { counters, isDayCount, type LogColumn, type LogField, type Logged, understandColumns } from './logColumns';
import type { LoggedMoment } from './loggedMoment';
import { groupNumberIn, sumFraction } from './groupColumns';
import type { LogHead } from './logMapping';
import { createPlainRow, type PlainRow } from './plainRow';
import { type DateOrder, dayPartOf, daySeconds, isZoned, provenOrder, secondsOf } from './timeText';

/** One line of a log, from its own start. */
export interface Sample {
  timeS: number;
  /** From terminal to terminal; the sum of the groups where only these were logged. */
  voltageV: number;
  /** As logged; the sign is the logger's own. */
  currentA: number | null;
  temperatureC: number | null;
  /** Of each group of a pack, from the negative terminal, where they were logged. */
  groupsV?: readonly number[] | null;
  /** As the device numbered them, where it did. */
  cycle?: number | null;
  step?: number | null;
}

/** Reads a log row by row in constant memory. */
export interface LogReader {
  /** Takes one tokenised row. */
  push(row: readonly string[]): void;
  /**
   * Takes the line of a text from one place up to another without tokenising it; false where it is not that plain, or
   * not understood yet: then nothing was taken.
   */
  pushPlain(text: string, from: number, to: number, separator: string): boolean;
  /** Ends the log: what was understood and passed over. */
  finish(): LogEnd;
  /** Its first rows, also where they are no log. */
  head(): Omit<LogHead, 'separator'>;
}

export interface LogEnd {
  columns: LogColumn[];
  warnings: Warning[];
  /**
   * Last digit of the logged voltage and, where there is one, of the current: of the steps it moves in, where those are
   * coarser than its decimals.
   */
  voltageStepV: number;
  currentStepA: number | null;
  /** Of the voltages of groups; null where there are none. */
  groupStepV: number | null;
  /** Of its last row; null where the log has no dates. */
  endedAt: LoggedMoment | null;
}

/** Rows looked at before the layout is decided. */
const rowsToUnderstand = 20;
/** More unreadable rows than this share of all, and the file is not a log. */
const mostUnreadable = 0.2;
const dayS = 86_400;
/** More rows than this share of all whose clock went back, and it runs backwards. */
const mostResets = 0.3;
/** This many of them are marked. */
const mostResetsKept = 200;
/**
 * Voltage and current changed places where each is within a fraction of the other's former value, and far from itself.
 */
const swappedBeyond = 0.2;
const swappedWithin = 0.05;
/** A silence longer than this, and than the rest of its log, joins two logs that are not one, s. */
const longestGapS = 12 * 3600;
/** The day count of 1 January 1970 in a spreadsheet, s. */
const serialFrom = 25_569 * dayS;
/** Longer than any discharge: then its seconds are something else. */
const longestS = 40 * dayS;

/**
 * A reader for logs as loggers, chargers and scripts write them: any order of columns, a heading or none, a row of
 * units, decimal points or commas, seconds, h:mm:ss or dates, clocks that start again. Only tokenising is left to the
 * caller.
 *
 * @param emit called with each sample as soon as it is readable
 * @throws ImpossibleInput from push or finish when the rows are not a log of time and voltage, or of another pack
 */
export function createLogReader(emit: (sample: Sample) => void, logged: Logged = { series: 1 }): LogReader {
  const first: (readonly string[])[] = [];
  let layout: ReturnType<typeof understandColumns> = null;
  let [time, voltage, current, temperature]: (LogColumn | undefined)[] = [];
  let [cycle, step]: (LogColumn | undefined)[] = [];
  let groups: LogColumn[] = [];
  /** Its times are days, perhaps those of a spreadsheet. */
  let isSerial = false;
  let rowNumber = 0;
  let read = 0;
  let unreadable: number[] = [];
  let unreadableCount = 0;
  const headingsAgain: number[] = [];
  // Imported, it would be asked for by a call, sample after sample.
  const mostLookedAt = valuesLookedAt;
  const digits = { voltage: createDigits(), current: createDigits(), group: createDigits() };
  let apartV = 0;
  let totalV = 0;
  let endedAt: LoggedMoment | null = null;
  const clock = createClock();
  const dates = createDateOrder();

  const understand = (): void => {
    layout = understandColumns(first, logged);
    if (!layout) throw notALog(first);
    const column = (field: LogField) => layout?.columns.find((one) => one.field === field);
    [time, voltage, current, temperature] = [
      column('time'),
      column('voltage'),
      column('current'),
      column('temperature'),
    ];
    [cycle, step] = counters.map(column);
    groups = layout.columns.filter(({ field }) => field === 'group');
    isSerial = time?.written === 'number' && time.factor === dayS;
    rowNumber = layout.headingRows;
    first.slice(layout.headingRows).forEach(readRow);
  };

  const readRow = (row: readonly string[]): void => {
    rowNumber += 1;
    const rawS = time ? timeOf(row, time) : clockedS();
    const groupsV = groupsOf(groups.map((column) => figureOf(row, column)));
    const voltageV = voltage ? figureOf(row, voltage) : sumOf(groupsV);
    if (rawS === null || voltageV === null || (groups.length > 0 && groupsV === null)) {
      if (row.every((cell) => cell.trim() === '')) return;
      lookForHeading(row);
      unreadableCount += 1;
      if (unreadable.length < 5) unreadable.push(rowNumber);
      return;
    }
    const currentA = figureOf(row, current);
    if (read < mostLookedAt) {
      if (voltage) digits.voltage.note(row[voltage.index] ?? '', voltage.factor, voltageV);
      const [one] = groups;
      if (one && groupsV) digits.group.note(row[one.index] ?? '', one.factor, groupsV[0] as number);
      if (current && currentA !== null) digits.current.note(row[current.index] ?? '', current.factor, currentA);
    }
    if (time && (time.written === 'date' || time.dayIndex !== undefined))
      endedAt = { atS: rawS, isZoned: isZoned((row[time.index] ?? '').trim()) };
    take(rawS, voltageV, currentA, figureOf(row, temperature), groupsV, figureOf(row, cycle), figureOf(row, step));
  };
  const timeOf = (row: readonly string[], { index, written, factor, dayIndex }: LogColumn): number | null => {
    const text = (row[index] ?? '').trim();
    const dayText = dayIndex === undefined ? null : (row[dayIndex] ?? '').trim();
    if (dates.isUndecided() && (written === 'date' || dayText !== null))
      clock.shift(dates.note(dayText ?? dayPartOf(text), text));
    return secondsOf(text, written, factor, dayText, dates.order());
  };
  /** A heading once more begins another log: with the same columns it goes on; with others it is refused. */
  const lookForHeading = (row: readonly string[]): void => {
    const filled = row.filter((cell) => cell.trim() !== '');
    if (filled.length < 2 || filled.length !== first[0]?.length || filled.some((cell) => figureValue(cell) !== null))
      return;
    if (!first.slice(0, layout?.headingRows ?? 0).some((heading) => heading.join() === row.join()))
      throw new ImpossibleInput('csv', { code: 'another-heading', row: rowNumber });
    if (headingsAgain.length < 5) headingsAgain.push(rowNumber);
  };
  /** Voltage and current of the row before: an array of numbers alone, since this is done a million times. */
  const prior = new Float64Array([NaN, NaN]);
  const take = (
    rawS: number,
    voltageV: number,
    currentA: number | null,
    temperatureC: number | null,
    groupsV: number[] | null,
    cycleNumber: number | null,
    stepNumber: number | null,
  ): void => {
    if (currentA !== null) {
      const priorV = prior[0] as number;
      if (Math.abs(voltageV - priorV) > swappedBeyond * priorV && isSwapped(voltageV, currentA, priorV, prior[1]))
        throw new ImpossibleInput('csv', {
          code: 'columns-swapped',
          row: rowNumber,
          columns: [(voltage?.index ?? 0) + 1, (current?.index ?? 0) + 1],
        });
      prior[0] = voltageV;
      prior[1] = currentA;
    }
    read += 1;
    if (isSerial && isDayCount(rawS / dayS)) endedAt = { atS: rawS - serialFrom, isZoned: false };
    const timeS = clock.next(rawS, rowNumber, time?.written === 'clock' && time.dayIndex === undefined);
    const sample: Sample = { timeS, voltageV, currentA, temperatureC };
    if (cycle) sample.cycle = cycleNumber;
    if (step) sample.step = stepNumber;
    if (groupsV === null) return emit(sample);
    apartV += voltageV - (sumOf(groupsV) ?? 0);
    totalV += voltageV;
    sample.groupsV = groupsV;
    emit(sample);
  };
  /** Without a time column: the given time between rows. */
  const clockedS = (): number | null => {
    const intervalS = logged.mapping?.intervalS;
    return intervalS === undefined ? null : (rowNumber - (layout?.headingRows ?? 0) - 1) * intervalS;
  };
  /** From what their columns hold; null where not every group was logged. */
  const groupsOf = (columns: readonly (number | null)[]): number[] | null => {
    const read = columns.filter((v) => v !== null);
    if (columns.length === 0 || read.length < columns.length) return null;
    return layout?.groups?.taps ? read.map((v, i) => v - (read[i - 1] ?? 0)) : read;
  };

  /** Undefined: not looked at yet; null: a column is none of plain figures. */
  let plain: PlainRow | null | undefined;
  const plainOf = (separator: string): PlainRow | null => {
    const columns = [time, voltage, current, temperature, cycle, step, ...groups].filter(
      (column) => column !== undefined,
    );
    return columns.every(({ written, dayIndex }) => written === 'number' && dayIndex === undefined)
      ? createPlainRow(
          separator,
          columns.map(({ index }) => index),
        )
      : null;
  };

  const figureAt = (column: LogColumn | undefined): number | null =>
    column && plain ? (plain.figures[column.index] as number) * column.factor : null;

  return {
    head: () => ({ rows: first, headingRows: layout?.headingRows ?? null }),
    push(row) {
      if (layout) return readRow(row);
      first.push(row);
      if (first.length >= rowsToUnderstand) understand();
    },
    pushPlain(text, from, to, separator) {
      // The first rows show the last digits as well.
      if (read < mostLookedAt) return false;
      if (plain === undefined) plain = plainOf(separator);
      if (!plain?.read(text, from, to)) return false;
      rowNumber += 1;
      const groupsV = groups.length === 0 ? null : groupsOf(groups.map(figureAt));
      const voltageV = figureAt(voltage) ?? sumOf(groupsV);
      const rawS = time ? figureAt(time) : clockedS();
      if (rawS !== null && voltageV !== null)
        take(rawS, voltageV, figureAt(current), figureAt(temperature), groupsV, figureAt(cycle), figureAt(step));
      return true;
    },
    finish() {
      if (!layout) understand();
      if (read < 2) throw new ImpossibleInput('csv', { code: 'too-few-samples', count: read });
      if (unreadableCount > mostUnreadable * (read + unreadableCount)) {
        throw new ImpossibleInput('csv', {
          code: 'unreadable-rows',
          count: unreadableCount,
          rows: read + unreadableCount,
          first: unreadable[0] ?? 1,
        });
      }
      if (clock.resetCount() > mostResets * read)
        throw new ImpossibleInput('csv', { code: 'times-backwards', count: clock.resetCount(), rows: read });
      if (clock.lastS() > longestS) throw tooLong(clock.lastS(), time);
      const gapS = clock.longestStepS();
      if (read > rowsToUnderstand && gapS > longestGapS && gapS > clock.lastS() - gapS)
        throw new ImpossibleInput('csv', { code: 'gap-too-long', hours: Math.round(gapS / 3600) });
      const columns = layout?.columns ?? [];
      const warnings: Warning[] = [...clock.warnings(), ...dates.warnings()];
      if (layout?.headingRows === 0) warnings.push({ code: 'no-header', columns: columns.map(named) });
      const assumed = columns.filter((column) => column.assumed);
      if (assumed.length > 0)
        warnings.push({ code: 'unit-assumed', columns: assumed.map((one) => ({ ...named(one), unit: one.unit })) });
      if (layout?.groups?.taps) warnings.push({ code: 'groups-as-taps', turned: layout.groups.turned });
      else if (voltage && groups.length > 0 && groupNumberIn(voltage.heading) !== null)
        warnings.push({ code: 'terminals-among-groups', index: voltage.index });
      if (Math.abs(apartV) > sumFraction * totalV)
        warnings.push({ code: 'groups-not-sum', apartV: apartV / read, voltageV: totalV / read });
      if (headingsAgain.length > 0) warnings.push({ code: 'heading-again', rows: headingsAgain });
      if (unreadableCount > 0) warnings.push({ code: 'row-unreadable', count: unreadableCount, rows: unreadable });
      unreadable = [];
      const groupStepV = digits.group.last();
      return {
        columns,
        warnings,
        // That of a sum is as doubtful as those of its parts together.
        voltageStepV: digits.voltage.last() ?? (groupStepV ?? 1) * Math.sqrt(Math.max(1, groups.length)),
        currentStepA: digits.current.last(),
        groupStepV,
        endedAt,
      };
    },
  };
}

const isNear = (value: number, other: number): boolean => Math.abs(value - other) <= swappedWithin * Math.abs(other);

const isSwapped = (voltageV: number, currentA: number, priorV: number, priorA = NaN): boolean =>
  isNear(voltageV, Math.abs(priorA)) && isNear(Math.abs(currentA), priorV);

const sumOf = (values: readonly number[] | null): number | null => values && values.reduce((a, b) => a + b, 0);

const named = ({ index, field, position }: LogColumn) => ({
  index,
  field,
  ...(position === undefined ? {} : { position }),
});

function figureOf(row: readonly string[], column: LogColumn | undefined): number | null {
  const text = column && row[column.index];
  const value = text === undefined ? null : figureValue(text);
  return column && value !== null ? value * column.factor : null;
}

/** The last digit of a column, from the first values as they are written. */
function createDigits() {
  const values: number[] = [];
  let decimals = 0;
  return {
    note(text: string, factor: number, value: number): void {
      const step = parseFigure(text.trim())?.step;
      if (step === undefined) return;
      values.push(value);
      decimals = Math.max(decimals, Math.round(-Math.log10(step * factor)));
    },
    last: (): number | null => (values.length === 0 ? null : lastDigitOf(values, 10 ** -decimals)),
  };
}

function tooLong(lastS: number, time: LogColumn | undefined): ImpossibleInput {
  const days = Math.round(lastS / dayS);
  return new ImpossibleInput('csv', { code: 'log-too-long', days, assumedUnit: time?.assumed ? time.unit : null });
}

function notALog(rows: (readonly string[])[]): ImpossibleInput {
  if (rows.length === 0 || rows.every((row) => row.every((cell) => cell.trim() === '')))
    return new ImpossibleInput('csv', { code: 'empty-file' });
  const seen = rows[0]?.join(' ').slice(0, 60) ?? '';
  return new ImpossibleInput('csv', { code: 'no-columns', seen });
}

/** Turns the logger's clock into seconds that never go back. */
function createClock() {
  let isBegun = false;
  /** In one object: a number in a variable of a closure is boxed again at every change. */
  const at = { start: 0, offset: 0, last: 0, step: 1, longest: 0 };
  const resets: { row: number; atS: number }[] = [];
  let resetCount = 0;
  return {
    next(raw: number, rowNumber: number, isClock: boolean): number {
      if (!isBegun) at.start = raw;
      isBegun = true;
      let time = raw - at.start + at.offset;
      if (time < at.last) {
        const midnight = isClock && at.last - time > dayS / 2 && time + dayS >= at.last;
        const resumed = midnight ? time + dayS : at.last + at.step;
        if (!midnight && (resetCount += 1) <= mostResetsKept) resets.push({ row: rowNumber, atS: resumed });
        at.offset += resumed - time;
        time = resumed;
      } else if (time > at.last) {
        at.step = time - at.last;
        if (at.step > at.longest) at.longest = at.step;
      }
      at.last = time;
      return time;
    },
    warnings: (): Warning[] =>
      resetCount === 0
        ? []
        : [
            {
              code: 'clock-reset',
              count: resetCount,
              rows: resets.slice(0, 5).map(({ row }) => row),
              atS: resets.map(({ atS }) => atS),
            },
          ],
    /** What was taken so far was counted from this much earlier, s. */
    shift(byS: number): void {
      at.start += byS;
    },
    resetCount: () => resetCount,
    lastS: () => at.last,
    longestStepS: () => at.longest,
  };
}

/**
 * Decides once for a log which comes first in its dates with slashes: by a date that only reads one way, by a clock of
 * twelve hours, else where the date changes for the first time, by the order in which less time passes. Until then all
 * rows are of one day, and their order matters to nothing but when that was.
 */
function createDateOrder() {
  let order: DateOrder | null = null;
  let wasOpen = false;
  let firstDay: string | null = null;
  const passedIn = (one: DateOrder, day: string): number => {
    const [from, to] = [daySeconds(firstDay ?? day, one), daySeconds(day, one)];
    return from === null || to === null || to < from ? Infinity : to - from;
  };
  return {
    /** Notes the date of a row; returns by how much the rows before are shifted, s. */
    note(day: string, clockText: string): number {
      if ((daySeconds(day, 'day-first') ?? daySeconds(day, 'month-first')) === null) return 0;
      order = provenOrder(day, clockText);
      wasOpen ||= order === null;
      if (order === null && firstDay !== null && day !== firstDay)
        order = passedIn('month-first', day) < passedIn('day-first', day) ? 'month-first' : 'day-first';
      firstDay ??= day;
      if (order !== 'month-first' || firstDay === day) return 0;
      return (daySeconds(firstDay, 'month-first') ?? 0) - (daySeconds(firstDay, 'day-first') ?? 0);
    },
    isUndecided: (): boolean => order === null,
    order: (): DateOrder => order ?? 'day-first',
    /** Only dates that read both ways are worth a word. */
    warnings: (): Warning[] =>
      wasOpen ? [{ code: 'date-order', order: order ?? 'day-first', isAssumed: order === null }] : [],
  };
}
