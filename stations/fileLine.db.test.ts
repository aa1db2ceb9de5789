import { addBatch } from '@/records/batches';
import { database } from '@/records/database';
import { openCrossCheck } from '@/records/crossChecks';
import { addInstrument } from '@/records/instruments';
import { filed } from '@/records/filedRows';
import { type Scratch, scratchModel, scratchPack, scratchPackRound, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { fileLine, type SentLine } from './fileLine';

jest.mock('next/server', () => ({ after: jest.fn() }));
jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));

let scratch: Scratch;
let roundId: number;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const db = database();
  const model = await scratchModel(db);
  await addBatch(db, { code: 'T1', origin: 'a test', modelId: model.id, count: 2 });
  await scratchPack(db, 'PT1');
  roundId = (await scratchPackRound(db, 'told')).id;
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const send = (line: Partial<SentLine>) =>
  fileLine({
    entry: randomUUID(),
    text: '',
    confirmed: false,
    state: 'rest',
    groupsWith: '',
    terminalsWith: '',
    meter: '',
    ...line,
  });

test('a script files what the bars can, in the same words, each once', async () => {
  const entry = randomUUID();
  expect(await send({ entry, text: 'T1-002 3.712 45.1g ok' })).toMatchObject({ ok: true });
  expect(await send({ entry, text: 'T1-002 3.712 45.1g ok' })).toMatchObject({ ok: true });
  expect(await send({ text: 'pt1 4.18 4.19 4.18 = 12.55', state: 'charge-end' })).toMatchObject({ ok: true });
  expect(await send({ text: 'PT1 7.9 8.8 8.3 = 25.1', round: roundId })).toMatchObject({
    ok: true,
    said: expect.stringContaining('7.9 · 8.8 · 8.3 mΩ'),
  });
  const { rows } = await database().query<{ kind: string; count: number }>(
    `select kind, count(*) as count from ${filed} group by kind order by kind`,
  );
  expect(rows).toEqual(
    expect.arrayContaining([
      { kind: 'mass', count: 1 },
      { kind: 'resistance', count: 4 },
    ]),
  );
});

test('what was measured two years ago is filed as of then', async () => {
  const waitedS = 2 * 365 * 86_400;
  for (const line of [{ text: 'T1-002 3.69V' }, { text: 'PT1 3.91 3.9 3.92' }, { text: 'PT1 9 9 9', round: roundId }]) {
    const entry = randomUUID();
    expect(await send({ ...line, entry, waitedS, confirmed: true })).toMatchObject({ ok: true });
    const { rows } = await database().query<{ days: number }>(
      `select extract(epoch from now() - taken_at)::float / 86400 as days from entry where uid = $1`,
      [entry],
    );
    expect(Math.abs((rows[0]?.days ?? 0) - 730)).toBeLessThan(1);
  }
});

test.each([
  [{ text: '3.71' }, 'Start with the code of a cell or a pack'],
  [{ text: 'T1-009 3.71' }, 'T1-009'],
  [{ text: 'PT9 3.71' }, 'There is no pack PT9'],
  [{ text: 'PT1 3.71 3.72' }, 'has 3 groups; 2 voltages were read'],
  [{ text: 'PT1 7.9 8.8', round: 1 }, 'has 3 groups; 2 resistances were read'],
  [{ text: 'PT1 7.9 8.8 8.3', round: 4711 }, 'This round is not there any more'],
  [{ text: 'PT1 3.7 3.7 3.7', groupsWith: 'QQ9' }, 'There is no instrument QQ9'],
])('%j is refused', async (line, said) => {
  expect(await send(line)).toMatchObject({ ok: false, said: expect.stringContaining(said) });
});

test('a line of a sheet goes to its sheet', async () => {
  expect(await send({ text: 'DM1 3.71', sheet: 4711 })).toMatchObject({ ok: false });
  const db = database();
  const ranges = { voltage: { resolution: 0.001, accuracyShare: 0.001, accuracyCounts: 2 } };
  const leads = { wires: null, leads: null, certified: false };
  await addInstrument(db, { code: 'DM9', name: 'meter', kind: 'meter', channels: 1, ...leads, ranges });
  const { id } = await openCrossCheck(db, 'evening', ['half', 'full']);
  expect(await send({ text: 'B2 DM9 4.112', sheet: id })).toMatchObject({
    ok: true,
    said: expect.stringContaining('DM9'),
  });
});

test('what was asked about is filed once it is confirmed', async () => {
  expect(await send({ text: 'T1-001 37.1' })).toMatchObject({ ok: false, asks: true });
  expect(await send({ text: 'T1-001 37.1', confirmed: true })).toMatchObject({ ok: true });
});
