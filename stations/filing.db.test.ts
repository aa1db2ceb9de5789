import type { NewPackRound } from '@/core/judging/facts';
import { keptLimits } from '@/core/quantity/limits';
import { addBatch, modelNamed } from '@/records/batches';
import { addBuild } from '@/records/builds';
import { cellByCode } from '@/records/cells';
import { database, filingDatabase, inTransaction, refusedBy } from '@/records/database';
import { fileCrossCheck, openCrossCheck } from '@/records/crossChecks';
import { addInstrument } from '@/records/instruments';
import { migrate } from '@/records/migrate';
import { addPack, filePackRound } from '@/records/packs';
import { fileEntry, type NewReading, voidEntry } from '@/records/readings';
import { scratchDatabase } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { answering, done } from './answer';
import { storing } from './filing';

let scratch: Awaited<ReturnType<typeof scratchDatabase>>;
let cellId: number;

beforeAll(async () => {
  scratch = await scratchDatabase();
  process.env.DATABASE_URL = scratch.url;
  await migrate();
  const model = await modelNamed(database(), {
    maker: 'Test',
    name: 'T1',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.4,
    massKg: 0.045,
    board: false,
    asNewOhm: null,
  });
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 8 });
  cellId = (await cellByCode(database(), 'T1-001'))?.id as number;
});

afterAll(async () => {
  await Promise.all([database().end(), filingDatabase().end()]);
  await scratch.drop();
});

const volts = (voltageV: number): NewReading => ({ kind: 'voltage', voltageV, step: 0.001 });
const file = (entry: string, readings: NewReading[], replaces: string | null = null) =>
  storing({ replaces }, (db) => fileEntry(db, { entry, cellId, confirmed: false, readings }), voidEntry);
const standing = async () =>
  (
    await database().query<{ v: number }>(
      "select voltage_v as v from reading where kind = 'voltage' and voided_at is null order by id",
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
    said: expect.stringContaining('corrected or voided meanwhile'),
  });
  const stands = answers[0]?.ok ? 3.71 : 3.72;
  expect(await standing()).toEqual([stands]);
  expect(await (answers[0]?.ok ? file(first, [volts(3.71)], wrong) : file(second, [volts(3.72)], wrong))).toMatchObject(
    { ok: true },
  );
  expect(await standing()).toEqual([stands]);
});

test('lines of a sheet and of a pack are held against what was filed, too', async () => {
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
  const crossCheckId = await openCrossCheck(db, 'a sheet', ['one']);
  const line = { entry: randomUUID(), crossCheckId, position: 1, instrumentId, confirmed: false };
  const read = (voltageV: number) =>
    storing(
      { replaces: null },
      (connection) => fileCrossCheck(connection, { ...line, readings: [{ channel: 1, voltageV, step: 0.001 }] }),
      voidEntry,
    );
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
  const groups = (...groupVoltagesV: number[]) =>
    storing({ replaces: null }, (connection) => filePackRound(connection, { ...round, groupVoltagesV }), voidEntry);
  expect([(await groups(3.7, 3.6)).ok, (await groups(3.7, 3.6)).ok, (await groups(3.7, 3.5)).ok]).toEqual([
    true,
    true,
    false,
  ]);
});

test('what an entry lets through the records can keep, up to each limit and no further', async () => {
  const kept = async (column: string, value: number) => {
    const kinds: Record<string, string> = { voltage_v: "'voltage'", mass_kg: "'mass'" };
    const kind = kinds[column];
    const statement = kind
      ? `insert into reading (entry, cell_id, kind, step, ${column})
        values (gen_random_uuid(), ${cellId}, ${kind}, 0.001, $1)`
      : `insert into reading (entry, cell_id, kind, findings, ${column})
        values (gen_random_uuid(), ${cellId}, 'inspection', '{}', $1)`;
    return inTransaction(async (db) => {
      await db.query(statement, [value]);
      throw new Error('kept');
    }).catch((error: Error) => error.message === 'kept');
  };
  const columns = {
    voltage: ['voltage_v', 'open_v', 'loaded_v', 'after_v', 'at_low_v', 'at_high_v'],
    mass: ['mass_kg'],
    current: ['current_a', 'high_current_a'],
    temperature: ['temperature_c'],
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
  const ids = (await database().query<{ id: number }>('select id from cell order by id')).rows.map((row) => row.id);
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
