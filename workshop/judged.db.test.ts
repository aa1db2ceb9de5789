import { presetRules } from '@/core/chemistry/houseRules';
import { addBatch } from '@/records/batches';
import { subjectByCode } from '@/records/cells';
import { database } from '@/records/database';
import { adoptRules } from '@/records/houseRules';
import { fileEntry, voidEntry } from '@/records/ledger';
import { type Scratch, scratchDatabase, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { Client } from 'pg';
import { addPack, packRoundEntry } from '@/records/packs';
import { judgedPacks, judgedWorkshop, oncePer } from '@/workshop/judged';

let scratch: Scratch;
const readVoltage = async (
  code: string,
  voltageV: number,
  entry: string = randomUUID(),
  db: Parameters<typeof fileEntry>[0] = database(),
) =>
  fileEntry(db, {
    entry,
    subjectIds: [(await subjectByCode(database(), code))?.id as number],
    bodies: [{ kind: 'voltage', voltageV, step: 0.001 }],
  });
const voltages = async () => (await judgedWorkshop()).cells.map((cell) => [cell.code, cell.voltageV]);

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T2', origin: 'a test', modelId: model.id, count: 2, bondedPlaces: [] });
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 1, bondedPlaces: [] });
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

test('what is filed, voided or taken in shows at once, and untouched cells are not judged again', async () => {
  const untouched = (await judgedWorkshop()).cells[2];
  const entry = randomUUID();
  await readVoltage('T2-001', 3.7, entry);
  expect(await voltages()).toEqual([
    ['T1-001', null],
    ['T2-001', 3.7],
    ['T2-002', null],
  ]);
  await voidEntry(database(), entry, 'a slip');
  expect(await voltages()).toEqual([
    ['T1-001', null],
    ['T2-001', null],
    ['T2-002', null],
  ]);
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'A1', origin: 'a test', modelId: model.id, count: 1, bondedPlaces: [] });
  const { cells } = await judgedWorkshop();
  expect(cells.map((cell) => cell.code)).toEqual(['A1-001', 'T1-001', 'T2-001', 'T2-002']);
  expect(cells[3]).toBe(untouched);
});

test('a long transaction of another database makes nothing be judged again', async () => {
  const other = await scratchDatabase();
  const elsewhere = await other.pool.connect();
  await elsewhere.query('begin; create table long_work ()');
  try {
    const judged = async (code: string) => (await judgedWorkshop()).cells.find((cell) => cell.code === code);
    await readVoltage('A1-001', 3.5);
    const before = await judged('A1-001');
    await readVoltage('T2-002', 3.5);
    expect(await judged('A1-001')).toBe(before);
    expect((await judged('T2-002'))?.voltageV).toBe(3.5);
  } finally {
    elsewhere.release(true);
    await other.drop();
  }
});

test('a transaction that ends late is seen, though later ones were seen before it', async () => {
  const late = new Client({ connectionString: scratch.url });
  await late.connect();
  await late.query('begin');
  await readVoltage('T1-001', 3.61, randomUUID(), late);
  await readVoltage('T2-002', 3.62);
  expect(await voltages()).toEqual(
    expect.arrayContaining([
      ['T1-001', null],
      ['T2-002', 3.62],
    ]),
  );
  await readVoltage('T2-001', 3.63);
  expect(await voltages()).toEqual(
    expect.arrayContaining([
      ['T1-001', null],
      ['T2-001', 3.63],
    ]),
  );
  await late.query('commit');
  await late.end();
  expect(await voltages()).toEqual(expect.arrayContaining([['T1-001', 3.61]]));
});

test('other rules judge everything again', async () => {
  await readVoltage('T2-002', 2.9);
  const intake = async () => (await judgedWorkshop()).cells.find((cell) => cell.code === 'T2-002')?.intake.class;
  const before = await intake();
  await adoptRules(database(), 'Careful', presetRules('careful'));
  expect([before, await intake()]).toEqual([null, 'out']);
});

test('what every screen asks is asked once for each state, and again after a failure', async () => {
  const packId = await addPack(database(), {
    code: 'PT1',
    name: 'a test',
    chemistry: 'li-ion',
    series: 2,
    parallel: 1,
    ratedCapacityAh: 2,
    board: 'none',
  });
  const packs = async () => judgedPacks(await judgedWorkshop());
  expect(await packs()).toMatchObject([{ code: 'PT1', judgement: null }]);
  const round = packRoundEntry({
    entry: randomUUID(),
    packId,
    series: 2,
    state: 'rest',
    groupVoltagesV: [3.7, 3.71],
    groupStepsV: [0.01, 0.01],
    terminalV: 7.41,
    terminalStepV: 0.01,
    instrumentId: null,
    terminalInstrumentId: null,
    confirmed: false,
  });
  await fileEntry(database(), round);
  expect(await packs()).toMatchObject([{ judgement: { sumCheck: { agrees: true } } }]);

  let asked = 0;
  const ask = async () => {
    asked += 1;
    if (asked === 1) throw new Error('away');
    return asked;
  };
  // As it is found in the bundle of the screens, and in that of the API.
  const once = oncePer('once', ask);
  const again = oncePer('once', ask);
  const workshop = await judgedWorkshop();
  expect(await judgedPacks(workshop)).toBe(await judgedPacks(workshop));
  await expect(once(workshop)).rejects.toThrow('away');
  expect([await once(workshop), await once(workshop), await again(workshop)]).toEqual([2, 2, 2]);
});
