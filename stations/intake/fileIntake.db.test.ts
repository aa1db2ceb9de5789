import { addBatch, modelNamed } from '@/records/batches';
import { database } from '@/records/database';
import { type Scratch, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { subjectByCode } from '@/records/cells';
import { filed } from '@/records/filedRows';
import { filedOf } from '@/records/ledger';
import { redoEntry, undoEntry } from '@/stations/entryActions';
import { fileIntake } from './actions';

jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));
jest.mock('next/navigation', () => ({ redirect: jest.fn() }));

let scratch: Scratch;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await modelNamed(database(), {
    maker: null,
    name: null,
    size: '18650',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.2,
    massKg: 0.044,
    board: false,
    asNewOhm: null,
  });
  await addBatch(database(), { code: 'G1', origin: 'a drill', modelId: model.id, count: 4 });
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const send = (
  text: string,
  {
    entry = randomUUID() as string,
    confirmed = false,
    current = null as string | null,
    replaces = null as string | null,
  } = {},
) => fileIntake('G1', { entry, text, confirmed, current, circumstances: {}, replaces, seen: null, waitedS: 0 });
const standing = async () =>
  (
    await database().query<{ code: string; kind: string; together: number }>(
      `select code, kind, (select count(*) from entry_subject where entry_id = filed.id) as together
       from ${filed}
       where voided_at is null and kind <> 'weld'
       order by id, code, place`,
    )
  ).rows.map(({ code, kind, together }) => `${code} ${kind} ${together}`);

test('a line whose answer was lost is sent again, filed once, and not asked about for what it filed itself', async () => {
  const entry = randomUUID();
  const again = { entry, current: 'G1-001' };
  expect(await send('G1-001 3.71 V', again)).toEqual({ ok: true, said: 'Filed G1-001: 3.71 V.' });
  expect(await send('G1-001 3.71 V', again)).toEqual({ ok: true, said: 'Filed G1-001: 3.71 V.' });
  expect(await standing()).toEqual(['G1-001 voltage 1']);
});

test('another value for the same cell asks, a correction does not, and both say so', async () => {
  expect(await send('G1-001 3.80 V')).toMatchObject({
    ok: false,
    asks: true,
    said: expect.stringContaining('has a voltage already, 3.71 V'),
  });
  const entry = randomUUID();
  expect(await send('G1-001 3.80 V', { entry, confirmed: true })).toMatchObject({ ok: true });
  expect(await send('G1-001 3.81 V', { replaces: entry })).toMatchObject({ ok: true });
});

test('two welded cells are noted and read with one line, taken back and filed again with one act, sent twice they are noted once', async () => {
  const entry = randomUUID();
  expect(await send('g1-2+3 3.70 88.2 ok', { entry })).toEqual({
    ok: true,
    said: 'Filed G1-002+003: welded together, 3.70 V, 88.2 g, nothing found.',
  });
  expect(await send('g1-2+3 3.70 88.2 ok', { entry })).toMatchObject({ ok: true });
  const ofPair = async () => (await standing()).filter((line) => line.endsWith('2'));
  expect(await ofPair()).toHaveLength(6);
  expect(await undoEntry(entry)).toMatchObject({ ok: true });
  expect(await ofPair()).toEqual([]);
  const welds = async () =>
    (
      await database().query<{ voided: boolean }>(
        'select voided_at is not null as voided from weld join entry on entry.id = entry_id order by entry.id',
      )
    ).rows.map((row) => row.voided);
  expect(await welds()).toEqual([true]);
  expect(await redoEntry(entry, randomUUID())).toMatchObject({ ok: true });
  expect(await ofPair()).toHaveLength(6);
  expect(await welds()).toEqual([true, false]);
});

test('a weld alone, sent again, is noted once', async () => {
  const entry = randomUUID();
  expect(await send('G1-001+004', { entry })).toEqual({ ok: true, said: 'Filed G1-001+004: welded together.' });
  expect(await send('G1-001+004', { entry })).toMatchObject({ ok: true });
  const { rows } = await database().query(
    'select 1 from weld join entry on entry.id = entry_id where voided_at is null',
  );
  expect(rows).toHaveLength(2);
});

test('how warm a cell is at its skin is kept beside what else is read, and said with the digits typed', async () => {
  expect(await send('G1-004 31.5C', { confirmed: true })).toMatchObject({
    said: 'Filed G1-001+004: 31.5 °C on its surface.',
  });
  expect(await send('G1-004 31.5 °C 32C')).toMatchObject({ said: 'The same value is twice in this line.' });
  expect(await send('G1-004 315C')).toMatchObject({ ok: false, said: expect.stringContaining('°C') });
  const id = (await subjectByCode(database(), 'G1-004'))?.id ?? 0;
  expect((await filedOf(database(), id))[0]).toMatchObject({
    body: { kind: 'skin-temperature', skinC: 31.5, step: 0.1 },
    codes: ['G1-001', 'G1-004'],
  });
});
