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

/** Which comes first in dates with slashes. */
export type DateOrder = 'day-first' | 'month-first';

/** The order that a date alone proves, or a clock of twelve hours beside it; null where both orders read. */
export function provenOrder(dayText: string, clockText: string): DateOrder | null {
  const found = dayForm.exec(dayPartOf(dayText));
  if (!found || found[2] !== '/' || (found[1] as string).length === 4) return 'day-first';
  const [a, b] = [Number(found[1]), Number(found[3])];
  if (a > 12) return 'day-first';
  return b > 12 || /[ap]\.?m/i.test(clockText) ? 'month-first' : null;
}

/** The date of a text that may have a clock behind it. */
export const dayPartOf = (text: string): string =>
  text.replace(dateForm, (_, a: string, sign: string, b: string, c: string) => a + sign + b + sign + c);

/** How this text writes a time; null where it does not. */
export function timeFormOf(text: string): TimeForm | null {
  if (parseFigure(text) && !dayForm.test(text)) return 'number';
  if (clockSeconds(text) !== null) return 'clock';
  if (orders.some((order) => daySeconds(text, order) !== null)) return 'day';
  return orders.some((order) => dateSeconds(text, order) !== null) ? 'date' : null;
}

/** Seconds of a clock, days before it counted; null where it is none. */
export function clockSeconds(text: string): number | null {
  const found = clockForm.exec(text);
  if (!found) return null;
  const [, days = '0', hours = '', minutes = '', seconds = '0', half] = found;
  const hour = half === undefined ? Number(hours) : (Number(hours) % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
  return Number(days) * dayS + hour * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
}

const orders: readonly DateOrder[] = ['day-first', 'month-first'];

/** Seconds from 1970 of a day: year first, or day.month.year; with slashes in the given order. Null: there is none. */
export function daySeconds(text: string, order: DateOrder): number | null {
  const found = dayForm.exec(text);
  return found && dayOf(found[1] as string, found[2] as string, found[3] as string, found[4] as string, order);
}

/** Whether a zone follows the clock of a date: `Z`, `+02:00`. */
export const isZoned = (text: string): boolean => dateForm.test(text) && zoneForm.test(text);

/** Seconds from 1970 of a date with a clock, a zone taken off where one is written. */
export function dateSeconds(text: string, order: DateOrder): number | null {
  const found = dateForm.exec(text);
  if (!found) return null;
  const zone = zoneForm.exec(found[5] as string);
  const clockText = zone ? (found[5] as string).slice(0, zone.index) : (found[5] as string);
  const clock = clockSeconds(clockText);
  const day = dayOf(found[1] as string, found[2] as string, found[3] as string, found[4] as string, order);
  return clock === null || day === null ? null : day + clock - zoneSeconds(zone?.[1]);
}

function zoneSeconds(zone: string | undefined): number {
  if (zone === undefined || zone === 'Z') return 0;
  const minutes = Number(zone.slice(1, 3)) * 60 + Number(zone.slice(-2));
  return (zone.startsWith('-') ? -60 : 60) * minutes;
}

function dayOf(first: string, sign: string, second: string, third: string, order: DateOrder): number | null {
  const [a, b, c] = [Number(first), Number(second), Number(third)];
  if (first.length === 4) return utcDay(a, b, c);
  const year = c < 100 ? 2000 + c : c;
  return sign === '/' && order === 'month-first' ? utcDay(year, a, b) : utcDay(year, b, a);
}

function utcDay(year: number, month: number, day: number): number | null {
  const ms = Date.UTC(year, month - 1, day);
  // Such as 30 February, which would become 1 or 2 March.
  const isThere = new Date(ms).getUTCMonth() === month - 1 && new Date(ms).getUTCDate() === day;
  return isThere && year >= 1970 && year <= 2200 ? ms / 1000 : null;
}

/** Seconds as written in a cell of a time column; `dayText` is its date where that is a column of its own. */
export function secondsOf(
  text: string,
  form: TimeForm,
  factor: number,
  dayText: string | null,
  order: DateOrder,
): number | null {
  const plain = form === 'number' ? figureValue(text) : null;
  if (plain !== null) return plain * factor;
  const clock = clockSeconds(text);
  if (clock === null)
    return dateSeconds(text, order) ?? (figureValue(text) === null ? null : (figureValue(text) as number) * factor);
  if (dayText === null) return clock;
  const day = daySeconds(dayText, order);
  return day === null ? null : day + clock;
}
