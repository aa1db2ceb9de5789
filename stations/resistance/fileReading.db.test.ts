import { addBatch } from '@/records/batches';
import { addBuild } from '@/records/builds';
import { subjectByCode } from '@/records/cells';
import { database, filingDatabase, inTransaction } from '@/records/database';
import { addInstrument } from '@/records/instruments';
import { addProtocol } from '@/records/protocols';
import { fileEntry } from '@/records/ledger';
import { filed } from '@/records/filedRows';
import { openRound } from '@/records/rounds';
import { type Scratch, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import type { EntryLine } from '@/ui/entryLine';
import { randomUUID } from 'node:crypto';
import { fileReading } from './fileReading';

// What is done after the answer belongs to a running server; the next filing does it itself where it was not done.
jest.mock('next/server', () => ({ after: jest.fn() }));

let scratch: Scratch;
let roundId: number;
const cells = 9;
const codeOf = (place: number) => `T1-${String(place).padStart(3, '0')}`;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const db = database();
  const model = await scratchModel(db);
  const batchId = await addBatch(db, { code: 'T1', origin: 'a test', modelId: model.id, count: cells });
  for (let place = 1; place <= cells; place++) {
    const cellId = (await subjectByCode(db, codeOf(place)))?.id as number;
    await fileEntry(db, {
      entry: randomUUID(),
      subjectIds: [cellId],
      bodies: [
        { kind: 'voltage', voltageV: 3.7, step: 0.001 },
        { kind: 'mass', massKg: 0.0451, step: 0.0001 },
        { kind: 'inspection', findings: place === cells ? ['swollen'] : [] },
      ],
    });
  }
  const built = (await subjectByCode(db, codeOf(8)))?.id as number;
  await inTransaction((connection) =>
    addBuild(connection, { name: 'lamp', series: 1, parallel: 1, groups: [[built]] }),
  );
  const protocolId = await addProtocol(db, {
    name: 'quick',
    school: '',
    method: 'ac-meter',
    charge: null,
    temperature: null,
    restS: 0,
    rateC: null,
    holdS: 1,
  });
  const instrumentId = await addInstrument(db, {
    code: 'RM1',
    name: 'a meter',
    kind: 'meter',
    channels: 1,
    wires: 4,
    leads: null,
    certified: false,
    ranges: { resistance: { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 2 } },
  });
  const opened = await openRound(db, {
    batchId,
    protocolId,
    method: 'ac-meter',
    instrumentId,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    temperatureC: 20,
  });
  roundId = opened.id;
});

afterAll(async () => {
  await Promise.all([database().end(), filingDatabase().end()]);
  await scratch.drop();
});

const send = (text: string, change: Partial<EntryLine> = {}) =>
  fileReading(
    roundId,
    Promise.resolve({
      entry: randomUUID(),
      text,
      confirmed: false,
      current: codeOf(1),
      circumstances: {},
      replaces: null,
      seen: null,
      waitedS: 0,
      ...change,
    } satisfies EntryLine),
  );
const stored = async (code: string) =>
  (
    await database().query<{ ohm: number; confirmed: boolean; by: string }>(
      `select figures -> 'resistance_ohm' as ohm, confirmed, instrument as by
       from ${filed}
       where code = $1 and kind = 'resistance'
       order by id`,
      [code],
    )
  ).rows;

test('a reading is stored before it is answered, with its figure; sent twice it is filed once', async () => {
  const entry = randomUUID();
  const sendIt = () => send('21.4', { entry });
  for (const sent of [await sendIt(), await sendIt()]) {
    expect(sent).toMatchObject({
      ok: true,
      said: 'Filed T1-001: resistance 21.4 mΩ.',
      odd: false,
      figure: { code: 'T1-001', resistance: { value: 0.0214 }, pressed: [0.0214], repeats: null },
    });
    expect(await stored('T1-001')).toEqual([{ ohm: 0.0214, confirmed: false, by: 'RM1' }]);
  }
});

test('a line that waited for the connection was read when it was typed', async () => {
  const entry = randomUUID();
  expect(await send('S1-002 22.5', { entry, waitedS: 7200 })).toMatchObject({ ok: false });
  expect(await send('22.5', { entry, waitedS: 7200 })).toMatchObject({ ok: true });
  const { rows } = await database().query<{ hours: number }>(
    `select extract(epoch from now() - taken_at)::double precision / 3600 as hours from entry where uid = $1`,
    [entry],
  );
  expect(rows[0]?.hours).toBeCloseTo(2, 1);
});

test('the empty line of a screen that opens files nothing', async () => {
  const count = async () => (await database().query('select 1 from entry')).rowCount;
  const before = await count();
  expect(await send('', { current: null })).toEqual({ ok: false, said: 'Nothing to file.', fields: {} });
  expect(await count()).toBe(before);
});

test('every reading of many sent at once is there, each in its cell', async () => {
  const answers = await Promise.all([2, 3, 4, 5, 6].map((place) => send(`${codeOf(place)} 21.${place}`)));
  expect(answers.every((answer) => answer.ok)).toBe(true);
  for (const place of [2, 3, 4, 5, 6])
    expect(await stored(codeOf(place))).toMatchObject([{ ohm: Number(`0.021${place}`) }]);
});

test('an odd one is answered as odd, a press that differs as a contact', async () => {
  expect(await send('45.2', { current: codeOf(7), confirmed: true })).toMatchObject({
    ok: true,
    odd: true,
    figure: { odd: true },
  });
  expect(await send('21.5', { current: codeOf(7) })).toMatchObject({
    ok: true,
    odd: true,
    figure: { odd: false, pressed: [0.0215, 0.0452], repeats: { differ: true } },
  });
});

test('what was meant is asked about, and filed as a fact once confirmed', async () => {
  expect(await send('214', { current: codeOf(2) })).toMatchObject({
    ok: false,
    asks: true,
    said: expect.stringContaining('Was it 21.4 mΩ?'),
    suggests: expect.stringMatching(/ 21\.4 mΩ$/),
  });
  expect(await stored(codeOf(2))).toHaveLength(1);
  expect(await send('214', { current: codeOf(2), confirmed: true })).toMatchObject({ ok: true });
  expect((await stored(codeOf(2))).at(-1)).toMatchObject({ ohm: 0.214, confirmed: true });
});

test('a cell read meanwhile from another screen is asked about; a screen that knows of it is not', async () => {
  expect(await send('21.6', { current: codeOf(3), seen: 0 })).toMatchObject({
    ok: false,
    asks: true,
    said: expect.stringContaining('T1-003 was measured from another screen'),
  });
  expect(await send('21.6', { current: codeOf(3), seen: 1 })).toMatchObject({ ok: true });
});

test.each([
  [codeOf(8), 'is in build'],
  [codeOf(9), 'is scrapped'],
  ['T1-010', 'not among the cells'],
])('%s is refused with the way on', async (code, words) => {
  expect(await send(`${code} 21.4`)).toMatchObject({ ok: false, said: expect.stringContaining(words) });
  expect(await stored(code)).toEqual([]);
});

test('a round that is not there, a request that makes no sense', async () => {
  expect(
    await fileReading(
      999,
      Promise.resolve({
        entry: randomUUID(),
        text: '21',
        confirmed: false,
        current: null,
        circumstances: {},
        seen: null,
      }),
    ),
  ).toMatchObject({ ok: false, said: 'This round is not there any more.' });
  expect(await send('21.4', { entry: 'no id' })).toMatchObject({ ok: false });
});

test('a correction stands alone: the mistake is void, no press of its own, and the answer names the cell it was filed for', async () => {
  const standing = async () =>
    (
      await database().query<{ code: string }>(
        `select code
         from ${filed}
         where voided_at is null and figures ->> 'resistance_ohm' in ('0.0315', '0.0219')
         order by id`,
      )
    ).rows.map((row) => row.code);
  const [mistake, slip] = [randomUUID(), randomUUID()];
  expect(await send('31.5', { entry: mistake, current: codeOf(4), confirmed: true })).toMatchObject({
    ok: true,
    freed: null,
    figure: { repeats: { differ: true } },
  });
  const corrected = await send('21.9', { entry: slip, current: codeOf(4), replaces: mistake });
  expect(corrected).toMatchObject({
    ok: true,
    odd: false,
    freed: codeOf(4),
    figure: { pressed: [0.0219, 0.0214], repeats: { differ: false } },
  });
  expect(await standing()).toEqual([codeOf(4)]);
  expect(await send(`${codeOf(5)} 21.9`, { replaces: slip })).toMatchObject({
    ok: true,
    freed: codeOf(4),
    figure: { code: codeOf(5) },
  });
  expect(await standing()).toEqual([codeOf(5)]);
});

test('of two that read the same cell at the same instant one is filed, and the other is asked about', async () => {
  const seen = (await stored(codeOf(7))).length;
  const answers = await Promise.all(
    ['21.7', '21.8'].map((text) => send(text, { current: codeOf(7), seen, confirmed: false })),
  );
  expect(answers.map(({ ok }) => ok).sort()).toEqual([false, true]);
  expect(answers.find(({ ok }) => !ok)).toMatchObject({
    asks: true,
    said: expect.stringContaining('from another screen just now'),
  });
  expect(await stored(codeOf(7))).toHaveLength(seen + 1);
});
