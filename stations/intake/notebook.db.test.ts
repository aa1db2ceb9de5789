import { cellOfCode, cellsOfBatch } from '@/core/judging/shelf';
import { addBatch } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { listNotebooks, voidNotebook } from '@/records/notebooks';
import { listProtocols } from '@/records/protocols';
import { type Scratch, scratchModel, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { bringNotebook, type Notebook } from './bringNotebook';
import { readNotebook } from './notebookTable';

jest.mock('next/server', () => ({ after: jest.fn() }));

let scratch: Scratch;
let protocolId: number;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 2 });
  await scratchPack(database(), 'PT1');
  protocolId = (await listProtocols(database())).find(({ method }) => method === 'told')?.id ?? NaN;
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const batch = {
  code: 'B1',
  origin: 'a notebook',
  notes: '',
  model: {
    maker: null,
    name: null,
    size: '18650',
    chemistry: 'li-ion' as const,
    ratedCapacityAh: 2.4,
    massKg: null,
    board: false,
    asNewOhm: null,
  },
};
const notebook = (pasted: string, given: Partial<Notebook> = {}): Notebook => ({
  uid: randomUUID(),
  name: 'Blue book',
  pasted,
  columns: readNotebook(pasted).columns,
  batch: null,
  protocolId: null,
  ...given,
});
const counts = async () => {
  const { rows } = await database().query<{ entries: number; subjects: number }>(
    `select (select count(*) from entry where voided_at is null) as entries,
       (select count(*) from subject) as subjects`,
  );
  return rows[0];
};

const twelve = [
  'cell\tvolts\tgrams\tmAh\tmΩ\tday\tremark',
  ...Array.from(
    { length: 12 },
    (_, i) => `red ${i + 1}\t3.${700 + i}\t45.${i % 10}\t21${10 + i}\t${31 + i}\t3.5.2025\t`,
  ),
].join('\n');

test('a table of twelve cells becomes a batch with everything it tells, and is voided in one act', async () => {
  const before = await counts();
  expect(await bringNotebook(notebook(twelve, { batch, protocolId }))).toMatchObject({
    ok: true,
    value: { href: '/intake/B1' },
  });
  const cells = cellsOfBatch(await judgedWorkshop(), 'B1');
  expect(cells).toHaveLength(12);
  expect(cells[2]).toMatchObject({
    code: 'B1-003',
    voltageV: 3.702,
    massKg: 0.0452,
    capacityBy: 'noted',
    capacity: { value: 2.112 },
    figures: [[protocolId, 0.033]],
  });
  // What it gave is known to a few per cent at best, since its instrument is unknown.
  expect((cells[2]?.capacity?.u ?? 0) / 2.112).toBeGreaterThan(0.02);
  const { rows: notes } = await database().query('select text from note order by text limit 1');
  expect(notes).toEqual([{ text: 'In the notebook: red 1' }]);

  const [brought] = await listNotebooks(database());
  expect(brought).toMatchObject({ name: 'Blue book', batchCode: 'B1', entries: 36, standing: 36 });
  await inTransaction((db) => voidNotebook(db, brought?.id ?? 0, 'a test'));
  expect((await listNotebooks(database()))[0]).toMatchObject({ standing: 0 });
  expect((await counts())?.entries).toBe(before?.entries);
  expect(cellOfCode(await judgedWorkshop(), 'B1-003')).toMatchObject({ putAway: true, voltageV: null, capacity: null });
});

test('readings of cells and packs that are here; the same table sent twice is brought once', async () => {
  const twice = notebook('code,volts,mAh\nT1-1,3.71,2100\nt1-002,3.69,2050\nPT1,,1900');
  expect(await bringNotebook(twice)).toMatchObject({ ok: true });
  const after = await counts();
  expect(await bringNotebook(twice)).toMatchObject({ ok: false, said: 'This table was brought in already.' });
  expect(await counts()).toEqual(after);
  expect(cellOfCode(await judgedWorkshop(), 'T1-002')).toMatchObject({ voltageV: 3.69, capacity: { value: 2.05 } });
});

test.each([
  ['code,volts\nZ9-001,3.7', {}, 'there is no cell or pack Z9-001'],
  ['code,volts\nPT1,11.1', {}, 'Measure each voltage in the clinic'],
  ['code,volts\nT1-001,full', {}, 'row 2, column 2'],
  ['volts\n3.71', {}, 'Choose the column with the codes'],
  ['code,mΩ\nT1-001,30', {}, 'Choose the protocol of its resistances'],
  ['code,note\nT1-001,again', { batch }, 'here already'],
  ['code\nT1-001', {}, 'anything that could be filed'],
])('%j is refused and nothing of it stored: %s', async (pasted, given, said) => {
  const before = await counts();
  expect(await bringNotebook(notebook(pasted, given))).toMatchObject({
    ok: false,
    said: expect.stringContaining(said),
  });
  expect(await counts()).toEqual(before);
});

test('nothing of a table is dropped without a word: too many rows or columns, too long a note', async () => {
  const rows = Array.from({ length: 2001 }, (_, i) => `red ${i + 1}\t3.7`).join('\n');
  expect(await bringNotebook(notebook(`cell\tvolts\n${rows}`, { batch }))).toMatchObject({
    ok: false,
    said: 'This table has 2001 rows. Paste at most 2000 at once; the rest comes next.',
  });
  const wide = Array.from({ length: 31 }, () => '3.7').join('\t');
  expect(await bringNotebook(notebook(wide, { batch }))).toMatchObject({
    ok: false,
    said: expect.stringMatching('31'),
  });
  expect(await bringNotebook(notebook(`cell\tremark\nred 1\t${'long '.repeat(120)}`, { batch }))).toMatchObject({
    ok: false,
    said: expect.stringMatching('This note has 599 characters'),
  });
});

test('a batch of more than 999 cells has a code for each', async () => {
  const rows = Array.from({ length: 1205 }, (_, i) => `red ${i + 1}\t3.7`).join('\n');
  const big = { ...batch, code: 'B9' };
  expect(await bringNotebook(notebook(`cell\tvolts\n${rows}`, { batch: big }))).toMatchObject({ ok: true });
  const { rows: last } = await database().query(
    "select code from subject where code like 'B9-%' order by place desc limit 1",
  );
  expect(last).toEqual([{ code: 'B9-1205' }]);
});
