import type { NewPackRound } from '@/core/judging/facts';
import { keptLimits } from '@/core/quantity/limits';
import { addBatch } from '@/records/batches';
import { addBuild } from '@/records/builds';
import { subjectByCode } from '@/records/cells';
import { database, filingDatabase, inTransaction, refusedBy } from '@/records/database';
import { crossCheckEntry, openCrossCheck } from '@/records/crossChecks';
import { addInstrument } from '@/records/instruments';
import { addPack, packRoundEntry } from '@/records/packs';
import type { Body } from '@/core/judging/bodies';
import { fileEntry, voidEntry } from '@/records/ledger';
import { openRound } from '@/records/rounds';
import { type Scratch, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { answering, done } from './answer';
import { storing } from './filing';

let scratch: Scratch;
let cellId: number;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 8 });
  cellId = (await subjectByCode(database(), 'T1-001'))?.id as number;
});

afterAll(async () => {
  await Promise.all([database().end(), filingDatabase().end()]);
  await scratch.drop();
});

const volts = (voltageV: number): Body => ({ kind: 'voltage', voltageV, step: 0.001 });
const file = (entry: string, bodies: Body[], replaces: string | null = null) =>
  storing({ entry, subjectIds: [cellId], bodies, replaces });
const standing = async () =>
  (
    await database().query<{ v: number }>(
      'select voltage_v as v from voltage join entry on entry.id = entry_id where voided_at is null order by entry.id',
    )
  ).rows.map((row) => row.v);

test('the same entry again is filed once; with another text it is refused as such', async () => {
  const entry = randomUUID();
  expect(await file(entry, [volts(3.7)])).toMatchObject({ ok: true });
  expect(await file(entry, [volts(3.7)])).toMatchObject({ ok: true });
  const taken = { ok: false, said: 'This line was filed before, with another text.' };
  expect(await file(entry, [volts(3.8)])).toMatchObject(taken);
  expect(await file(entry, [volts(3.7), { kind: 'mass', massKg: 0.045, step: 0.0001 }])).toMatchObject(taken);
  expect(await file(entry, [{ kind: 'mass', massKg: 0.045, step: 0.0001 }])).toMatchObject(taken);
  expect(await standing()).toEqual([3.7]);
  await voidEntry(database(), entry, 'a test');
});

test('of two corrections of one entry at once the first stands, and sent again it still does', async () => {
  const [wrong, first, second] = [randomUUID(), randomUUID(), randomUUID()];
  await file(wrong, [volts(3.1)]);
  const answers = await Promise.all([file(first, [volts(3.71)], wrong), file(second, [volts(3.72)], wrong)]);
  expect(answers.filter((answer) => answer.ok)).toHaveLength(1);
  expect(answers.find((answer) => !answer.ok)).toMatchObject({
    said: expect.stringContaining('corrected or voided'),
  });
  const stands = answers[0]?.ok ? 3.71 : 3.72;
  expect(await standing()).toEqual([stands]);
  expect(await (answers[0]?.ok ? file(first, [volts(3.71)], wrong) : file(second, [volts(3.72)], wrong))).toMatchObject(
    { ok: true },
  );
  expect(await standing()).toEqual([stands]);
});

test('lines of a sheet and of a pack are compared with what was filed, too', async () => {
  const db = database();
  const instrumentId = await addInstrument(db, {
    code: 'DM1',
    name: 'a meter',
    kind: 'meter',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 2 } },
  });
  const { id: crossCheckId, occasionId } = await openCrossCheck(db, 'a sheet', ['one']);
  const line = { entry: randomUUID(), crossCheckId, occasionId, position: 1, instrumentId, confirmed: false };
  const read = (voltageV: number) =>
    storing(crossCheckEntry({ ...line, readings: [{ channel: 1, voltageV, step: 0.001 }] }));
  expect([(await read(3.7)).ok, (await read(3.7)).ok, (await read(3.6)).ok]).toEqual([true, true, false]);
  const packId = await addPack(db, {
    code: 'PT1',
    name: 'a pack',
    chemistry: 'li-ion',
    series: 2,
    parallel: 1,
    ratedCapacityAh: 2,
    board: 'full',
  });
  const round = {
    entry: randomUUID(),
    packId,
    series: 2,
    state: 'rest',
    groupStepsV: [0.01, 0.01],
    terminalV: null,
    terminalStepV: null,
    instrumentId: null,
    terminalInstrumentId: null,
    confirmed: false,
  } satisfies Partial<NewPackRound>;
  const groups = (...groupVoltagesV: number[]) => storing(packRoundEntry({ ...round, groupVoltagesV }));
  expect([(await groups(3.7, 3.6)).ok, (await groups(3.7, 3.6)).ok, (await groups(3.7, 3.5)).ok]).toEqual([
    true,
    true,
    false,
  ]);
});

test('what an entry lets through the records can keep, up to each limit and no further', async () => {
  const { occasionId } = await openRound(database(), {
    batchId: 1,
    protocolId: 1,
    method: 'two-current',
    instrumentId: null,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    temperatureC: null,
  });
  const step = { openV: 4, loadedV: 3.9, afterV: null, currentA: null, step: 0.01, currentStep: null };
  const two = { atLowV: 4, lowCurrentA: 0.5, atHighV: 3.9, highCurrentA: 2, step: 0.01, currentStep: 0.01 };
  const bodyWith = (name: string, value: number): Body => {
    if (name in step) return { kind: 'load-step', ...step, [name]: value };
    if (name in two) return { kind: 'two-current', ...two, [name]: value };
    if (name === 'massKg') return { kind: 'mass', massKg: value, step: 0.001 };
    return { kind: 'voltage', voltageV: name === 'voltageV' ? value : 3.7, step: 0.001 };
  };
  const kept = async (name: string, value: number) =>
    inTransaction(async (db) => {
      const temperatureC = name === 'temperatureC' ? value : null;
      const bodies = [bodyWith(name, value)];
      await fileEntry(db, { entry: randomUUID(), subjectIds: [cellId], occasionId, temperatureC, bodies });
      throw new Error('kept');
    }).catch((error: Error) => error.message === 'kept');
  const columns = {
    voltage: ['openV', 'loadedV', 'afterV', 'atLowV', 'atHighV'],
    mass: ['massKg'],
    current: ['currentA', 'highCurrentA'],
    temperature: ['temperatureC'],
  } as const;
  for (const [dimension, names] of Object.entries(columns)) {
    const { least, most, aboveLeast } = keptLimits[dimension as keyof typeof columns] as NonNullable<
      (typeof keptLimits)['voltage']
    >;
    for (const name of names)
      expect([
        name,
        await kept(name, most),
        await kept(name, aboveLeast ? 1e-6 : least),
        await kept(name, aboveLeast ? 0 : least - 1),
      ]).toEqual([name, true, true, false]);
  }
});

test('a refusal of the database that nobody foresaw is a refusal; a deadlock is tried again', async () => {
  const nul = await answering(async () => done(await database().query('select $1::text', ['a\u0000b'])));
  expect(nul).toMatchObject({ ok: false, said: expect.stringContaining('cannot keep this') });
  expect(nul).not.toHaveProperty('away');

  // Two builds that take the same cells in opposite order, and meet in the middle.
  const ids = (
    await database().query<{ id: number }>("select id from subject where kind = 'cell' order by id")
  ).rows.map((row) => row.id);
  let tries = 0;
  const build = (name: string, first: number, then: number, meet: () => Promise<void>) =>
    inTransaction(async (db) => {
      tries += 1;
      await addBuild(db, { name, series: 1, parallel: 1, groups: [[first]] });
      if (tries <= 2) await meet();
      await addBuild(db, { name: `${name} too`, series: 1, parallel: 1, groups: [[then]] });
    }).then(
      () => 'kept',
      (error: unknown) => refusedBy(error)?.constraint ?? String(error),
    );
  let arrived = 0;
  let open = (): void => undefined;
  const both = new Promise<void>((resolve) => {
    open = resolve;
  });
  const meet = async () => {
    arrived += 1;
    if (arrived === 2) open();
    await both;
  };
  const [one, other] = await Promise.all([
    build('a', ids[0] as number, ids[1] as number, meet),
    build('b', ids[1] as number, ids[0] as number, meet),
  ]);
  expect([one, other].sort()).toEqual(['build_cell_once', 'kept']);
  expect(tries).toBeGreaterThan(2);
});
