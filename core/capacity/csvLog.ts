import Papa from 'papaparse';
import { ImpossibleInput } from '../impossibleInput';
import { createLogReader, type LogReader, type Sample } from './logReader';

/** Reads the text of a CSV log in portions of any length, in constant memory. */
export interface CsvLog {
  push(text: string): Sample[];
  finish(): ReturnType<LogReader['finish']>;
}

/** Text without a line end beyond this is no table. */
const longestLine = 100_000;

/**
 * A CSV log from text: separator guessed from the first lines (a semicolon or a tab wins over a comma, which may be a
 * decimal sign), quoted fields as in RFC 4180 as long as they hold no line end, a byte order mark passed over.
 *
 * @throws ImpossibleInput as `createLogReader` does
 */
export function createCsvLog(seriesCells = 1): CsvLog {
  const reader = createLogReader(seriesCells);
  let rest = '';
  let separator: string | null = null;

  const rowsOf = (text: string): Sample[] => {
    separator ??= separatorOf(text);
    const { data } = Papa.parse<string[]>(text, { delimiter: separator, newline: '\n' });
    return data.flatMap((row) => reader.push(row.length > 0 ? row.map((cell) => (cell.endsWith('\r') ? cell.slice(0, -1) : cell)) : ['']));
  };

  return {
    push(text) {
      rest += separator === null ? text.replace(/^\uFEFF/, '') : text;
      const end = rest.lastIndexOf('\n');
      if (end < 0) {
        if (rest.length > longestLine) throw new ImpossibleInput('csv', 'This is not a text table: it has no line ends. Export the log as CSV.');
        return [];
      }
      const lines = rest.slice(0, end);
      rest = rest.slice(end + 1);
      return rowsOf(lines);
    },
    finish() {
      const last = rest === '' ? [] : rowsOf(rest);
      const end = reader.finish();
      return { ...end, samples: [...last, ...end.samples] };
    },
  };
}

function separatorOf(text: string): string {
  const lines = text.split('\n', 30).filter((line) => line.trim() !== '');
  const isIn = (sign: string) => lines.filter((line) => line.includes(sign)).length >= 0.8 * lines.length;
  return [';', '\t', '|'].find(isIn) ?? ',';
}
