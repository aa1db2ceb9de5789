import Papa from 'papaparse';
import { ImpossibleInput } from '../impossibleInput';
import { refuseDecimalCommas } from './decimalCommas';
import type { Logged } from './logColumns';
import type { LogHead } from './logMapping';
import { createLogReader, type LogEnd, type Sample } from './logReader';

/** Reads the text of a log in portions of any length, in constant memory. */
export interface TextLog {
  push(text: string): void;
  /** @param isCut it was broken off: what follows the last line end is no row */
  finish(isCut?: boolean): LogEnd;
  /** How it begins, also where it is no log. */
  head(): LogHead;
}

/** Text without a line end beyond this is no table. */
const longestLine = 100_000;

/**
 * A CSV log from text: separator guessed from the first lines (a semicolon or a tab wins over a comma, which may be a
 * decimal sign), quoted fields as in RFC 4180 as long as they hold no line end, a byte order mark passed over,
 * lines that end with CR alone.
 *
 * @param emit called with each sample as soon as it is readable
 * @throws ImpossibleInput as `createLogReader` does
 */
export function createCsvLog(emit: (sample: Sample) => void, logged?: Logged): TextLog {
  const reader = createLogReader(emit, logged);
  let rest = '';
  let [isCrOnly, isChecked] = [false, logged?.mapping !== undefined];
  let separator: string | null = logged?.mapping?.separator ?? null;
  let isBegun = false;

  const check = ({ rows, headingRows }: Omit<LogHead, 'separator'>): void => {
    if (isChecked || headingRows === null) return;
    isChecked = true;
    if (separator === ',') refuseDecimalCommas(rows, headingRows);
  };

  /** Rows of a text from one place up to another: a part cut out would be read more slowly, letter by letter. */
  const readRows = (text: string, begin: number, end: number): void => {
    separator ??= separatorOf(text.slice(begin, end));
    for (let from = begin; from < end;) {
      const found = text.indexOf('\n', from);
      const to = found < 0 || found > end ? end : found;
      if (!reader.pushPlain(text, from, to, separator))
        Papa.parse<string[]>(text.slice(from, to), { delimiter: separator, newline: '\n' }).data.forEach(reader.push);
      from = to + 1;
    }
    check(reader.head());
  };

  return {
    push(text) {
      if (!isBegun) isCrOnly = text.includes('\r') && !text.includes('\n');
      const lines = isCrOnly ? text.replaceAll('\r', '\n') : text;
      let more = isBegun ? lines : lines.replace(/^\uFEFF/, '');
      isBegun = true;
      // Several lines show the separator, not the first alone.
      if (separator === null) [more, rest] = [rest + more, ''];
      const end = more.lastIndexOf('\n');
      if (end < 0) {
        rest += more;
        if (rest.length > longestLine) throw new ImpossibleInput('csv', { code: 'no-text-table' });
        return;
      }
      let begin = 0;
      if (rest !== '') {
        begin = more.indexOf('\n') + 1;
        const line = rest + more.slice(0, begin - 1);
        readRows(line, 0, line.length);
      }
      rest = more.slice(end + 1);
      readRows(more, begin, end);
    },
    head: () => ({ ...reader.head(), separator }),
    finish(isCut = false) {
      if (rest !== '' && !isCut) readRows(rest, 0, rest.length);
      const end = reader.finish();
      check(reader.head());
      return end;
    },
  };
}

function separatorOf(text: string): string {
  const lines = text.split('\n', 30).filter((line) => line.trim() !== '');
  const isIn = (sign: string) => lines.filter((line) => line.includes(sign)).length >= 0.8 * lines.length;
  return [';', '\t', '|'].find(isIn) ?? ',';
}
