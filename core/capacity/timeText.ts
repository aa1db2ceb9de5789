import { figureValue, parseFigure } from '../quantity/parse';

/**
 * How a time is written: a plain number, a clock such as 14:05:10 or 2:05:10 PM, a date with a clock, or a date alone.
 */
export type TimeForm = 'number' | 'clock' | 'date' | 'day';

const dayS = 86_400;

const clockForm = /^(?:(\d+)[ d]+)?(\d{1,3}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?(?:\s*([ap])\.?m\.?)?$/i;
const dayForm = /^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})$/;
const dateForm = /^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})[T ,]+(\S.*)$/;
const zoneForm = /\s*(Z|[+-]\d{2}:?\d{2})$/;

/** How this text writes a time; null where it does not. */
export function timeFormOf(text: string): TimeForm | null {
  if (parseFigure(text) && !dayForm.test(text)) return 'number';
  if (clockSeconds(text) !== null) return 'clock';
  if (daySeconds(text, false) !== null) return 'day';
  return dateSeconds(text) === null ? null : 'date';
}

/** Seconds of a clock, days before it counted; null where it is none. */
export function clockSeconds(text: string): number | null {
  const found = clockForm.exec(text);
  if (!found) return null;
  const [, days = '0', hours = '', minutes = '', seconds = '0', half] = found;
  const hour = half === undefined ? Number(hours) : (Number(hours) % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
  return Number(days) * dayS + hour * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
}

/**
 * Seconds from 1970 of a day: year first, or day.month.year; with slashes the month stands first where the clock says
 * AM or PM, or where the other reading is no date.
 */
export function daySeconds(text: string, isAmerican: boolean): number | null {
  const found = dayForm.exec(text);
  return found && dayOf(found[1] as string, found[2] as string, found[3] as string, found[4] as string, isAmerican);
}

/** Whether a zone stands behind the clock of a date: `Z`, `+02:00`. */
export const isZoned = (text: string): boolean => dateForm.test(text) && zoneForm.test(text);

/** Seconds from 1970 of a date with a clock, a zone taken off where one is written. */
export function dateSeconds(text: string): number | null {
  const found = dateForm.exec(text);
  if (!found) return null;
  const zone = zoneForm.exec(found[5] as string);
  const clockText = zone ? (found[5] as string).slice(0, zone.index) : (found[5] as string);
  const clock = clockSeconds(clockText);
  const day = dayOf(
    found[1] as string,
    found[2] as string,
    found[3] as string,
    found[4] as string,
    /[ap]\.?m/i.test(clockText),
  );
  return clock === null || day === null ? null : day + clock - zoneSeconds(zone?.[1]);
}

function zoneSeconds(zone: string | undefined): number {
  if (zone === undefined || zone === 'Z') return 0;
  const minutes = Number(zone.slice(1, 3)) * 60 + Number(zone.slice(-2));
  return (zone.startsWith('-') ? -60 : 60) * minutes;
}

function dayOf(first: string, sign: string, second: string, third: string, isAmerican: boolean): number | null {
  const [a, b, c] = [Number(first), Number(second), Number(third)];
  if (first.length === 4) return utcDay(a, b, c);
  const year = c < 100 ? 2000 + c : c;
  const monthFirst = sign === '/' && (b > 12 || (isAmerican && a <= 12));
  return monthFirst ? utcDay(year, a, b) : utcDay(year, b, a);
}

const utcDay = (year: number, month: number, day: number): number | null =>
  month < 1 || month > 12 || day < 1 || day > 31 || year < 1970 || year > 2200
    ? null
    : Date.UTC(year, month - 1, day) / 1000;

/** Seconds as written in a cell of a time column; `dayText` is its date where that stands in a column of its own. */
export function secondsOf(text: string, form: TimeForm, factor: number, dayText: string | null): number | null {
  const plain = form === 'number' ? figureValue(text) : null;
  if (plain !== null) return plain * factor;
  const clock = clockSeconds(text);
  if (clock === null)
    return dateSeconds(text) ?? (figureValue(text) === null ? null : (figureValue(text) as number) * factor);
  if (dayText === null) return clock;
  const day = daySeconds(dayText, /[ap]\.?m/i.test(text));
  return day === null ? null : day + clock;
}
