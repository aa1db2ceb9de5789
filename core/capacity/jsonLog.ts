import { ImpossibleInput } from '../impossibleInput';
import type { TextLog } from './csvLog';
import type { Logged } from './logColumns';
import { createLogReader, type Sample } from './logReader';

/** A line beyond this is no row of a log. */
const longestLine = 100_000;

/**
 * A log in JSON lines: an object or an array of figures a line; the keys of the first object head its columns. A key
 * that holds several figures, such as the groups of a pack, is as many columns: `cells` gives cells1, cells2. Lines of
 * a whole JSON array, each with its comma, are read as well.
 *
 * @throws ImpossibleInput as `createLogReader` does
 */
export function createJsonLog(emit: (sample: Sample) => void, logged?: Logged): TextLog {
  const reader = createLogReader(emit, logged);
  let rest = '';
  let keys: string[] | null = null;

  const readLine = (line: string): void => {
    const text = line
      .trim()
      .replace(/,$/, '')
      .replace(/^\[(?=\s*[[{])/, '')
      .replace(/(?<=[\]}])\s*\]$/, '');
    if (text === '' || text === '[' || text === ']') return;
    const row = rowOf(text);
    if (keys === null && row.keys) {
      keys = row.keys;
      reader.push(keys);
    }
    reader.push(keys && row.keys ? keys.map((key) => row.cells[row.keys?.indexOf(key) ?? -1] ?? '') : row.cells);
  };

  return {
    push(text) {
      const lines = (rest + text).split('\n');
      rest = lines.pop() ?? '';
      if (rest.length > longestLine) throw new ImpossibleInput('csv', { code: 'no-text-table' });
      lines.forEach(readLine);
    },
    head: () => ({ ...reader.head(), separator: null }),
    finish(isCut = false) {
      if (!isCut) readLine(rest);
      return reader.finish();
    },
  };
}

/** The figures of a line, with their keys where it is an object; the line itself where it is no JSON. */
function rowOf(line: string): { keys: string[] | null; cells: string[] } {
  const parsed = parsedOf(line);
  if (Array.isArray(parsed)) return { keys: null, cells: parsed.map(cellOf) };
  if (typeof parsed !== 'object' || parsed === null) return { keys: null, cells: [line] };
  const columns = Object.entries(parsed).flatMap(([key, value]): [string, string][] =>
    Array.isArray(value)
      ? value.map((one, i): [string, string] => [`${key}${i + 1}`, cellOf(one)])
      : [[key, cellOf(value)]],
  );
  return { keys: columns.map(([key]) => key), cells: columns.map(([, cell]) => cell) };
}

const cellOf = (value: unknown): string =>
  typeof value === 'number' || typeof value === 'string' ? String(value) : '';

function parsedOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}
