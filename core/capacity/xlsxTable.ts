import { Unzip, UnzipInflate } from 'fflate';
import { SaxesParser } from 'saxes';
import { ImpossibleInput } from '../impossibleInput';
import { joined } from './joinedBytes';
import { largestLogBytes } from './logSize';

/** How a zipped file begins, a workbook among them. Source: PKWARE APPNOTE 4.3.7. */
export const zipMark = [0x50, 0x4b, 0x03, 0x04];
/** What its end begins with, and how long that may be. */
const endMark = [0x50, 0x4b, 0x05, 0x06];
const longestTail = 22 + 65_535;
const endsWhole = (tail: Uint8Array): boolean =>
  tail.some((_, at) => endMark.every((byte, i) => tail[at + i] === byte));
/** What lies beside the sheets is read whole; of XML, at most this much between two tags. */
const mostBeside = 64 * 2 ** 20;
const longestText = 2 ** 20;
/** This much is unpacked at once: of what is packed a thousandfold it comes to some megabytes. */
const pushedBytes = 1 << 13;
/** This many times as long as what it says is a sheet's XML. */
const verbosity = 6;

/** A file that can be read from its beginning more than once. */
export type Reopened = () => AsyncIterable<Uint8Array>;

/** What a workbook says beside its sheets. */
interface Workbook {
  /** Those that are seen, in their order, each with the place of its XML. */
  sheets: { name: string; path: string }[];
  texts: string[];
  /** How the cells of each style are to be taken. */
  styles: CellForm[];
  /** What is to be added to a count of days. */
  daysFrom: number;
}

type CellForm = 'plain' | 'date' | 'clock';

/** The part of a name behind its namespace. */
const localName = (name: string): string => name.slice(name.indexOf(':') + 1);

interface Tag {
  name: string;
  attributes: Record<string, string>;
}

/** Follows XML tag by tag; `ended` receives the text directly within. */
function createXml(began: (tag: Tag) => void, ended: (name: string, text: string) => void) {
  const parser = new SaxesParser<{ xmlns: false; position: false }>({ xmlns: false, position: false });
  let text = '';
  let sinceTag = 0;
  parser.on('error', () => {
    throw new ImpossibleInput('csv', { code: 'workbook-broken' });
  });
  parser.on('opentag', ({ name, attributes }) => {
    text = '';
    began({ name: localName(name), attributes });
  });
  parser.on('text', (more) => {
    text += more;
  });
  parser.on('closetag', ({ name }) => {
    ended(localName(name), text);
    text = '';
  });
  const decoder = new TextDecoder();
  return {
    push(bytes: Uint8Array): void {
      // The parser holds a text until its end: one without an end would fill the memory.
      sinceTag = bytes.includes('<'.charCodeAt(0)) ? 0 : sinceTag + bytes.length;
      if (sinceTag > longestText) throw new ImpossibleInput('csv', { code: 'workbook-broken' });
      parser.write(decoder.decode(bytes, { stream: true }));
    },
  };
}

/**
 * Unzips the files of a package that `take` wants, in the order of the package; comes back after each portion.
 *
 * @throws ImpossibleInput where the package is broken
 */
async function* unzipping(
  parts: AsyncIterable<Uint8Array>,
  take: (path: string) => ((bytes: Uint8Array) => void) | null,
): AsyncGenerator<void> {
  const failures: unknown[] = [];
  const zip = new Unzip((file) => {
    const into = take(file.name.replace(/^\//, ''));
    if (!into) return;
    file.ondata = (error, bytes) => {
      // What `into` throws comes back here as well.
      if (error)
        failures.push(
          error instanceof ImpossibleInput ? error : new ImpossibleInput('csv', { code: 'workbook-broken' }),
        );
      else if (failures.length === 0) into(bytes);
    };
    file.start();
  });
  zip.register(UnzipInflate);
  let tail: Uint8Array = new Uint8Array();
  for await (const bytes of parts) {
    for (let at = 0; at < bytes.length; at += pushedBytes) {
      zip.push(bytes.subarray(at, at + pushedBytes));
      if (failures.length > 0) throw failures[0];
      yield;
    }
    tail = joined([tail, bytes.subarray(-longestTail)]).subarray(-longestTail);
  }
  if (!endsWhole(tail)) throw new ImpossibleInput('csv', { code: 'workbook-broken' });
}

/** Reads what a workbook says beside its sheets. */
async function workbookOf(parts: AsyncIterable<Uint8Array>): Promise<Workbook> {
  const listed: { name: string; id: string }[] = [];
  const paths = new Map<string, string>();
  const texts: string[] = [];
  const formats = new Map<number, string>();
  const styles: CellForm[] = [];
  let [daysFrom, isOfCells, item, bytesSeen] = [0, false, '', 0];

  const readers: Record<string, () => ReturnType<typeof createXml>> = {
    'xl/workbook.xml': () =>
      createXml(
        ({ name, attributes }) => {
          if (name === 'workbookPr' && /^(1|true)$/.test(attributes.date1904 ?? '')) daysFrom = daysFrom1904;
          if (name !== 'sheet' || (attributes.state ?? 'visible') !== 'visible') return;
          const id = Object.entries(attributes).find(([key]) => localName(key) === 'id' && key.includes(':'))?.[1];
          listed.push({ name: attributes.name ?? '', id: id ?? '' });
        },
        () => undefined,
      ),
    'xl/_rels/workbook.xml.rels': () =>
      createXml(
        ({ name, attributes }) => {
          const target = attributes.Target ?? '';
          if (name === 'Relationship')
            paths.set(attributes.Id ?? '', target.startsWith('/') ? target.slice(1) : `xl/${target}`);
        },
        () => undefined,
      ),
    'xl/styles.xml': () =>
      createXml(
        ({ name, attributes }) => {
          if (name === 'numFmt') formats.set(Number(attributes.numFmtId), attributes.formatCode ?? '');
          if (name === 'cellXfs') isOfCells = true;
          if (name === 'xf' && isOfCells) styles.push(formOf(Number(attributes.numFmtId), formats));
        },
        (name) => {
          if (name === 'cellXfs') isOfCells = false;
        },
      ),
    'xl/sharedStrings.xml': () =>
      createXml(
        ({ name }) => {
          if (name === 'si') item = '';
        },
        (name, text) => {
          if (name === 't') item += text;
          if (name === 'si') texts.push(item);
        },
      ),
  };
  const unzip = unzipping(parts, (path) => {
    const reader = readers[path]?.();
    if (!reader) return null;
    return (bytes) => {
      bytesSeen += bytes.length;
      if (bytesSeen > mostBeside) throw new ImpossibleInput('csv', { code: 'unpacks-too-large', bytes: bytesSeen });
      reader.push(bytes);
    };
  });
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- what comes goes to the readers
  for await (const _ of unzip);
  const sheets = listed.flatMap(({ name, id }) => {
    const path = paths.get(id);
    return path === undefined ? [] : [{ name, path }];
  });
  if (sheets.length === 0) throw new ImpossibleInput('csv', { code: 'workbook-broken' });
  return { sheets, texts, styles, daysFrom };
}

/** This many days later begin workbooks that count from 1904. */
const daysFrom1904 = 1462;

/** The formats that every workbook has without saying so. Source: ECMA-376 part 1, 18.8.30. */
const builtIn: Record<number, CellForm> = {
  14: 'date',
  15: 'date',
  16: 'date',
  17: 'date',
  18: 'clock',
  19: 'clock',
  20: 'clock',
  21: 'clock',
  22: 'date',
  45: 'clock',
  46: 'clock',
  47: 'clock',
};

function formOf(format: number, formats: ReadonlyMap<number, string>): CellForm {
  const code = formats.get(format)?.replace(/"[^"]*"|\\.|\[(?!h|m|s)[^\]]*\]/gi, '');
  if (code === undefined) return builtIn[format] ?? 'plain';
  if (/[yd]/i.test(code)) return 'date';
  return /h|s/i.test(code) ? 'clock' : 'plain';
}

/** As a spreadsheet shows a number: in fifteen digits. */
const shown = (value: number): string => String(Number(value.toPrecision(15)));

/** The days of a cell as a date with a clock, or as a clock alone. */
function timeText(days: number, form: CellForm): string {
  const ms = Math.round(days * 86_400_000);
  if (form === 'date') return new Date(ms - 25_569 * 86_400_000).toISOString().slice(0, -1);
  const [h, min, s] = [Math.floor(ms / 3_600_000), Math.floor(ms / 60_000) % 60, (ms % 60_000) / 1000];
  return `${h}:${String(min).padStart(2, '0')}:${s.toFixed(3).padStart(6, '0')}`;
}

/** Days in a workbook end with the year 9999. */
const mostDays = 2_958_466;

/** The place of a cell in its row, from 0: of "C7" it is 2. */
function placeOf(reference: string): number {
  let place = 0;
  for (const letter of /^[A-Z]+/.exec(reference)?.[0] ?? '') place = 26 * place + letter.charCodeAt(0) - 64;
  return place - 1;
}

/** No logger writes more columns; a sheet may have 16 384 (ECMA-376). */
const mostColumns = 1024;
/** This many rows decide how wide the table is: a cell far to the right of a later one would make it that wide. */
const rowsOfHeading = 20;

/** Reads a sheet; `emit` is called with each row. Formulas are what they came to, merged cells their first. */
function createSheet({ texts, styles, daysFrom }: Workbook, emit: (row: string[]) => void) {
  let row: string[] = [];
  let [rowsSeen, width, widest] = [0, mostColumns, 0];
  let [place, type, form, inline]: [number, string, CellForm, string] = [-1, 'n', 'plain', ''];
  const valueOf = (text: string): string => {
    if (type === 's') return texts[Number(text)] ?? '';
    if (type !== 'n' || text === '') return text;
    const value = Number(text);
    // What no calendar holds is a number like any other.
    const isTime = form !== 'plain' && Math.abs(value) < mostDays;
    if (!isTime) return shown(value);
    return timeText(form === 'date' ? value + daysFrom : value, form);
  };
  return createXml(
    ({ name, attributes }) => {
      if (name === 'row') [row, place] = [[], -1];
      if (name !== 'c') return;
      place = attributes.r === undefined ? place + 1 : placeOf(attributes.r);
      type = attributes.t ?? 'n';
      form = styles[Number(attributes.s ?? 0)] ?? 'plain';
      inline = '';
    },
    (name, text) => {
      if (name === 't') inline += text;
      if ((name === 'v' || name === 'is') && place >= 0 && place < width) {
        while (row.length < place) row.push('');
        row[place] = name === 'is' ? inline : valueOf(text.trim());
      }
      if (name !== 'row') return;
      widest = Math.max(widest, row.length);
      rowsSeen += 1;
      if (rowsSeen === rowsOfHeading) width = widest;
      emit(row);
    },
  );
}

/** What would be taken for a column's end or a quote. */
const tame = (cell: string): string => cell.replace(/[\t\r\n]+/g, ' ').replaceAll('"', "'");

/**
 * A sheet of a workbook (XLSX, ECMA-376) as lines of a text table with tabs, portion by portion.
 *
 * @param sheet its name; else the first that is seen
 * @returns the names of the sheets, and the table
 * @throws ImpossibleInput where the workbook is broken, has no such sheet, or holds more than a log may
 */
export async function xlsxTable(
  open: Reopened,
  sheet: string | undefined,
): Promise<{ sheets: string[]; bytes: AsyncGenerator<Uint8Array> }> {
  const workbook = await workbookOf(open());
  const found = sheet === undefined ? workbook.sheets[0] : workbook.sheets.find(({ name }) => name === sheet);
  if (!found) throw new ImpossibleInput('csv', { code: 'no-such-sheet', sheet: sheet ?? '' });
  const lines = async function* (): AsyncGenerator<Uint8Array> {
    const encoder = new TextEncoder();
    let [rows, xmlBytes, total]: [string[], number, number] = [[], 0, 0];
    const xml = createSheet(workbook, (row) => rows.push(row.map(tame).join('\t')));
    const unzip = unzipping(open(), (path) =>
      path === found.path
        ? (bytes) => {
            xmlBytes += bytes.length;
            if (xmlBytes > verbosity * largestLogBytes)
              throw new ImpossibleInput('csv', { code: 'unpacks-too-large', bytes: xmlBytes });
            xml.push(bytes);
          }
        : null,
    );
    // eslint-disable-next-line @typescript-eslint/no-unused-vars -- what comes goes to the sheet
    for await (const _ of unzip) {
      if (rows.length === 0) continue;
      const bytes = encoder.encode(`${rows.join('\n')}\n`);
      rows = [];
      total += bytes.length;
      if (total > largestLogBytes) throw new ImpossibleInput('csv', { code: 'unpacks-too-large', bytes: total });
      yield bytes;
    }
  };
  return { sheets: workbook.sheets.map(({ name }) => name), bytes: lines() };
}
