import { strToU8, zipSync } from 'fflate';
import writeExcelFile from 'write-excel-file/node';
import { refusalOf } from '@/words/impossible';
import { momentOf } from './loggedMoment';
import { createByteLog, logText } from './logBytes';
import type { Logged } from './logColumns';
import type { Sample } from './logReader';

async function* inPortions(bytes: Uint8Array, size: number): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}

async function readWorkbook(bytes: Uint8Array, logged: Logged = { series: 1 }, size = 500) {
  const samples: Sample[] = [];
  const log = createByteLog((sample) => samples.push(sample), logged);
  const text = await logText(() => inPortions(bytes, size), logged.mapping?.sheet);
  for await (const part of text.bytes) log.push(part);
  return { samples, sheets: text.sheets, ...log.finish() };
}

const refused = async (bytes: Uint8Array, logged?: Logged): Promise<string | null> => {
  const error: unknown = await readWorkbook(bytes, logged).catch((thrown: unknown) => thrown);
  return refusalOf(() => {
    throw error;
  });
};

const began = new Date(Date.UTC(2026, 2, 1, 10));
const at = (i: number): Date => new Date(began.getTime() + i * 10_000);

/** Written by a package from the registry (write-excel-file 4.1.1), which has its texts behind its sheets. */
const written = async (): Promise<Uint8Array> =>
  writeExcelFile([
    {
      sheet: 'Pack',
      data: [
        ['logged at the quay'],
        ['When', 'Cell 1', 'Cell 2', 'I (mA)'].map((value) => ({ value })),
        ...Array.from({ length: 60 }, (_, i) => [
          { value: at(i), type: Date, format: 'yyyy-mm-dd hh:mm:ss' },
          4.1 - i / 1000,
          4.08 - i / 1000,
          500,
        ]),
      ],
    },
    { sheet: 'Notes', data: [['nothing here']] },
  ]).toBuffer();

test.each([1, 64, 100_000])('a workbook of another hand is read, whatever the portions (%d bytes)', async (size) => {
  const log = await readWorkbook(await written(), { series: 2 }, size);
  expect(log.sheets).toEqual(['Pack', 'Notes']);
  expect(log.samples).toHaveLength(60);
  expect(log.samples[59]).toEqual({
    timeS: 590,
    voltageV: expect.closeTo(8.062, 9),
    groupsV: [4.041, 4.021],
    currentA: 0.5,
    temperatureC: null,
  });
  expect(log.groupStepV).toBeCloseTo(0.001, 9);
  expect(log.endedAt && momentOf(log.endedAt)).toEqual(new Date(2026, 2, 1, 10, 9, 50));
});

const sheetOf = (rows: string, more: Record<string, string> = {}): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries({
        'xl/worksheets/sheet1.xml':
          `<worksheet><sheetData>${rows}</sheetData>` + '<mergeCells><mergeCell ref="A1:B1"/></mergeCells></worksheet>',
        'xl/workbook.xml':
          '<workbook xmlns:r="http://r"><workbookPr date1904="1"/><sheets><sheet name="Hidden" state="hidden" r:id="r9"/>' +
          '<sheet name="Log" r:id="r1"/></sheets></workbook>',
        'xl/_rels/workbook.xml.rels':
          '<Relationships><Relationship Id="r1" Target="/xl/worksheets/sheet1.xml"/></Relationships>',
        'xl/styles.xml':
          '<styleSheet><numFmts><numFmt numFmtId="170" formatCode="[h]:mm:ss"/></numFmts>' +
          '<cellStyleXfs><xf numFmtId="0"/></cellStyleXfs><cellXfs>' +
          '<xf numFmtId="0"/><xf numFmtId="170"/><xf numFmtId="22"/></cellXfs></styleSheet>',
        'xl/sharedStrings.xml': '<sst><si><r><t>Vol</t></r><r><t>tage</t></r></si></sst>',
        ...more,
      }).map(([path, xml]) => [path, strToU8(xml)]),
    ),
  );

const rowsOf = (cells: (i: number) => string, n = 30): string =>
  Array.from({ length: n }, (_, i) => `<row>${cells(i)}</row>`).join('');

test('formulas are what they came to, merged cells their first, gaps stay gaps, spans of time are clocks', async () => {
  const { samples } = await readWorkbook(
    sheetOf(
      `<row><c r="A1" t="inlineStr"><is><t>a merged heading</t></is></c></row>` +
        '<row><c r="A2" t="str"><f>"ti"&amp;"me"</f><v>time</v></c><c r="C2" t="s"><v>0</v></c></row>' +
        rowsOf(
          (i) =>
            `<c r="A${i + 3}" s="1"><v>${(i * 60) / 86_400 + 1}</v></c>` +
            `<c r="C${i + 3}"><f>HYPERLINK("http://nowhere")</f><v>${4.1 - i / 100 + 1e-16}</v></c>`,
        ),
    ),
  );
  expect(samples).toHaveLength(30);
  expect(samples[29]).toMatchObject({ timeS: 29 * 60, voltageV: 3.81 });
});

test('days that a workbook counts from 1904 are the same days', async () => {
  const { endedAt } = await readWorkbook(
    sheetOf(
      '<row><c t="inlineStr"><is><t>time</t></is></c><c t="s"><v>0</v></c></row>' +
        rowsOf((i) => `<c s="2"><v>${46_000.5 - 1462 + i / 1440}</v></c><c><v>${4 - i / 100}</v></c>`),
    ),
  );
  expect(endedAt && momentOf(endedAt)).toEqual(new Date(2025, 11, 9, 12, 29));
});

test('what is no workbook, broken off, empty or too large is refused', async () => {
  const whole = await written();
  expect(await refused(zipSync({ 'readme.txt': strToU8('hello') }))).toContain('no XLSX');
  expect(await refused(whole.subarray(0, whole.length >> 1))).not.toBeNull();
  expect(await refused(sheetOf('<row><c><v>1</v></c>', { 'xl/workbook.xml': '<workbook><sheets' }))).not.toBeNull();
  expect(await refused(sheetOf(''))).toContain('empty');
  expect(await refused(sheetOf('<row><c></wrong>'))).toContain('damaged');
  const mapping = { sheet: 'Nowhere', headingRows: 0, columns: [] };
  expect(await refused(whole, { series: 2, mapping })).toContain('no sheet "Nowhere"');
  const endless = sheetOf(`<row><c t="inlineStr"><is><t>${'x'.repeat(3 * 2 ** 20)}</t></is></c></row>`);
  expect(await refused(endless)).toContain('damaged');
  const bomb = sheetOf('<row><c><v>1</v></c></row>', {
    'xl/sharedStrings.xml': `<sst>${`<si><t>${'a'.repeat(43)}</t></si>`.repeat(1_300_000)}</sst>`,
  });
  expect(bomb.length).toBeLessThan(2 ** 20);
  expect(await refused(bomb)).toContain('MB');
});

/** A sheet of these rows, each of its cells as `[reference, value]`, with its style. */
const workbook = (rows: readonly (readonly [at: string, value: string | number, style?: number])[][]): Uint8Array => {
  const cell = ([at, value, style = 0]: readonly [string, string | number, number?]) =>
    `<c r="${at}" s="${style}"${typeof value === 'string' ? ' t="str"' : ''}><v>${value}</v></c>`;
  const sheet = rows.map((row) => `<row>${row.map(cell).join('')}</row>`).join('');
  return zipSync({
    'xl/workbook.xml': strToU8('<workbook xmlns:r="r"><sheets><sheet name="Log" r:id="r1"/></sheets></workbook>'),
    'xl/_rels/workbook.xml.rels': strToU8('<a><Relationship Id="r1" Target="worksheets/sheet1.xml"/></a>'),
    'xl/styles.xml': strToU8('<a><cellXfs><xf numFmtId="0"/><xf numFmtId="22"/></cellXfs></a>'),
    'xl/worksheets/sheet1.xml': strToU8(`<worksheet><sheetData>${sheet}</sheetData></worksheet>`),
  });
};
const heading = [
  ['A1', 'time (s)'],
  ['B1', 'voltage'],
] as const;

test('a cell far to the right in every row makes no wide table', async () => {
  const rows = Array.from(
    { length: 20_000 },
    (_, i) =>
      [
        [`A${i + 2}`, 10 * i],
        [`B${i + 2}`, 4.1 - i / 1e5],
        [`XFD${i + 2}`, 1],
      ] as const,
  );
  const bytes = workbook([[...heading], ...rows.map((row) => [...row])]);
  expect(bytes.length).toBeLessThan(300_000);
  const text = await logText(() => inPortions(bytes, 65_536), undefined);
  let longest = 0;
  let total = 0;
  for await (const part of text.bytes) {
    total += part.length;
    longest = Math.max(
      longest,
      ...Buffer.from(part)
        .toString()
        .split('\n')
        .map((line) => line.length),
    );
  }
  expect(longest).toBeLessThan(100);
  expect(total).toBeLessThan(1e6);
});

test('one date that no calendar holds is a number, and no reason to refuse the workbook', async () => {
  const rows = Array.from({ length: 60 }, (_, i) => [
    [`A${i + 2}`, 10 * i] as const,
    [`B${i + 2}`, 4.1 - i / 1000] as const,
    [`C${i + 2}`, i === 30 ? 9e12 : 46_000, 1] as const,
  ]);
  const { samples } = await readWorkbook(workbook([[...heading], ...rows]));
  expect(samples).toHaveLength(60);
});
