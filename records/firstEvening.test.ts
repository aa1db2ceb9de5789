import { instrumentOf } from '@/core/judging/instrumentBook';
import type { Instrument, NewInstrument } from '@/core/judging/facts';
import { presetRules } from '@/core/chemistry/houseRules';
import { randomUUID } from 'node:crypto';
import {
  addBatch,
  archiveBatch,
  type Batch,
  batchByCode,
  correctBatch,
  listModels,
  modelNamed,
  type NewCellModel,
} from './batches';
import { addBuild, buildById, countBuilds, listBuilds, placeBuildCell, swapBuildCell, voidBuild } from './builds';
import { subjectByCode, cellFacts, subjectsChangedSince } from './cells';
import { correctionsOf } from './corrections';
import { addBattery, listCrossChecks, openCrossCheck } from './crossChecks';
import { database, inTransaction, snapshotOf } from './database';
import { addInstrument, correctInstrument, listInstruments } from './instruments';
import { filedOf, fileEntry, refileEntry, voidEntry } from './ledger';
import { notedWith, notesOf } from './notes';
import { addPack } from './packs';
import { cellReadLast } from './readings';
import { addRunOf, keepResult, runById, runsOfSubject } from './runs';
import { plainDischarge } from '@/core/capacity/plainDischarge';
import { type Scratch, scratchWorkshop } from './scratchDatabase';

let scratch: Scratch;
const rules = presetRules('workshop');
const cutoffs = { 'li-ion': rules.lowestCylindricalV };
const unknown: NewCellModel = {
  maker: null,
  name: null,
  size: '18650',
  chemistry: 'li-ion',
  ratedCapacityAh: 2.2,
  massKg: null,
  board: false,
  asNewOhm: null,
};

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  await addBatch(database(), {
    code: 'G1',
    origin: 'a drill',
    modelId: (await modelNamed(database(), unknown)).id,
    count: 6,
  });
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const idOf = async (code: string) => (await subjectByCode(database(), code))?.id as number;
const factsOf = async (code: string) => (await cellFacts(database(), cutoffs, 1, [await idOf(code)]))[0];
const theBatch = async () => (await batchByCode(database(), 'G1')) as Batch;
/** The codes of cells that have to be judged again after some work. */
async function changedBy(work: () => Promise<unknown>): Promise<string[]> {
  const before = await snapshotOf(database());
  await work();
  const { rows } = await database().query<{ code: string }>(
    'select code from subject where id = any($1) order by code',
    [await subjectsChangedSince(database(), before)],
  );
  return rows.map((row) => row.code);
}
const all = ['G1-001', 'G1-002', 'G1-003', 'G1-004', 'G1-005', 'G1-006'];

describe('a batch', () => {
  test('of which nobody knows maker and model is kept by its size, and is like no other', async () => {
    expect(await factsOf('G1-001')).toMatchObject({ maker: null, model: null, size: '18650', ratedCapacityAh: 2.2 });
    const other = await modelNamed(database(), unknown);
    expect(other.id).not.toBe((await modelNamed(database(), unknown)).id);
    expect(await listModels(database())).toEqual([]);
  });

  test('becomes one of a known model; what stood there before is kept with who changed it, and its cells are judged again', async () => {
    const known: NewCellModel = {
      ...unknown,
      maker: 'Quillon',
      name: 'Q18',
      size: null,
      ratedCapacityAh: 2.3,
      massKg: 0.0446,
    };
    const correct = async (model: NewCellModel, notes = '') =>
      correctBatch(database(), await theBatch(), { origin: 'a drill', notes, model }, 'Ada');
    expect(await changedBy(async () => inTransaction(async () => correct(known, 'blue wrap')))).toEqual(all);
    expect(await factsOf('G1-003')).toMatchObject({
      maker: 'Quillon',
      model: 'Q18',
      size: null,
      ratedCapacityAh: 2.3,
      modelMassKg: 0.0446,
    });
    expect(await correctionsOf(database(), { batchId: (await theBatch()).id })).toEqual([
      expect.objectContaining({
        by: 'Ada',
        before: { notes: '', maker: null, name: null, size: '18650', ratedCapacityAh: 2.2, massKg: null },
        after: { notes: 'blue wrap', maker: 'Quillon', name: 'Q18', size: null, ratedCapacityAh: 2.3, massKg: 0.0446 },
      }),
    ]);
    await correct({ ...known, ratedCapacityAh: 2.4 }, 'blue wrap');
    expect(await factsOf('G1-003')).toMatchObject({ model: 'Q18', ratedCapacityAh: 2.4 });
    // Nothing changed, nothing noted.
    await correct({ ...known, ratedCapacityAh: 2.4 }, 'blue wrap');
    expect(await correctionsOf(database(), { batchId: (await theBatch()).id })).toHaveLength(2);
    await expect(database().query("update correction set by = 'nobody'")).rejects.toThrow('corrections are kept');
  });

  test('is put away with its cells and comes back out', async () => {
    const { id } = await theBatch();
    expect(await changedBy(() => archiveBatch(database(), id, true))).toEqual(all);
    expect(await factsOf('G1-001')).toMatchObject({ putAway: true });
    expect([await archiveBatch(database(), id, true), await archiveBatch(database(), id, false)]).toEqual([
      false,
      true,
    ]);
    expect(await factsOf('G1-001')).toMatchObject({ putAway: false });
  });
});

describe('cells welded together', () => {
  const entry = randomUUID();

  test('are known to each other, until that is void', async () => {
    const ids = [await idOf('G1-004'), await idOf('G1-005')];
    const weld = () => inTransaction((db) => fileEntry(db, { entry, subjectIds: ids, bodies: [{ kind: 'weld' }] }));
    expect(await changedBy(weld)).toEqual(['G1-004', 'G1-005']);
    expect(await weld()).toBe(false);
    expect(await factsOf('G1-005')).toMatchObject({ weldedTo: ['G1-004'], bond: expect.stringMatching(/^w\d+$/) });
    expect(await voidEntry(database(), entry, 'cut apart')).toBe(true);
    expect(await factsOf('G1-005')).toMatchObject({ weldedTo: [], bond: null });
    expect(await refileEntry(database(), entry, randomUUID())).toBe(true);
    expect(await filedOf(database(), ids[0] as number)).toMatchObject([
      { codes: ['G1-004', 'G1-005'], voidReason: null },
      { body: { kind: 'weld' }, voidReason: 'cut apart' },
    ]);
  });

  test('are read as one: each has its share of the weight and of the capacity, and the same voltage', async () => {
    const [cellId, other] = [await idOf('G1-004'), await idOf('G1-005')];
    const line = {
      entry: randomUUID(),
      subjectIds: [cellId, other],
      bodies: [
        { kind: 'voltage', voltageV: 3.71, step: 0.01 },
        { kind: 'mass', massKg: 0.0893, step: 0.0001 },
      ],
    } as const;
    const file = () => inTransaction((db) => fileEntry(db, line));
    expect([await file(), await file()]).toEqual([true, false]);
    for (const code of ['G1-004', 'G1-005'])
      expect(await factsOf(code)).toMatchObject({ massKg: 0.0893 / 2, massStepKg: 0.00005, voltage: { valueV: 3.71 } });
    expect(['G1-004', 'G1-005']).toContain(await cellReadLast(database(), 'G1'));
    const logged = [0, 60, 120, 180, 240].map((timeS) => ({
      timeS,
      voltageV: 4 - timeS / 200,
      currentA: null,
      temperatureC: null,
    }));
    const run = {
      subjectIds: [cellId, other],
      fileName: 'pair.csv',
      contentSha256: Buffer.alloc(32, 7),
      endedAt: new Date(),
    };
    const { id, layoutId } = await inTransaction((db) =>
      addRunOf(db, run, { load: { kind: 'current', currentA: 1 } }, logged),
    );
    const result = plainDischarge({ capacityAh: { value: 4.2, u: 0.02 } });
    expect(await changedBy(() => keepResult(database(), layoutId, cutoffs['li-ion'], 1, result))).toEqual([
      'G1-004',
      'G1-005',
    ]);
    for (const code of ['G1-004', 'G1-005'])
      expect((await factsOf(code))?.run).toMatchObject({ id, capacityAh: 2.1, capacityU: 0.01 });
    expect((await runById(database(), id))?.withCodes).toEqual(['G1-005']);
    expect((await runsOfSubject(database(), other)).map((run) => run.id)).toEqual([id]);
  });

  test('a line about both is voided and filed again for both', async () => {
    const line = randomUUID();
    await inTransaction(async (db) =>
      fileEntry(db, {
        entry: line,
        subjectIds: [await idOf('G1-004'), await idOf('G1-005')],
        bodies: [{ kind: 'inspection', findings: ['wrap'] }],
      }),
    );
    expect(await voidEntry(database(), line, 'a slip')).toBe(true);
    expect((await factsOf('G1-005'))?.findings).toBeNull();
    expect(await refileEntry(database(), line, randomUUID())).toBe(true);
    expect((await factsOf('G1-005'))?.findings).toEqual(['wrap']);
    expect((await filedOf(database(), await idOf('G1-005')))[0]).toMatchObject({
      codes: ['G1-004', 'G1-005'],
      body: { kind: 'inspection', findings: ['wrap'] },
    });
  });
});

test('notes on cells and packs are found by their words in any case, until they are void', async () => {
  const packId = await addPack(database(), {
    code: 'PG1',
    name: 'drill',
    chemistry: 'li-ion',
    series: 5,
    parallel: 1,
    ratedCapacityAh: 2,
    board: 'protects',
  });
  const [cellId, entry] = [await idOf('G1-001'), randomUUID()];
  const note = (uid: string, subjectId: number, text: string) =>
    inTransaction((db) => fileEntry(db, { entry: uid, subjectIds: [subjectId], bodies: [{ kind: 'note', text }] }));
  expect([await note(entry, cellId, 'From the Blue pack'), await note(entry, cellId, 'From the Blue pack')]).toEqual([
    true,
    false,
  ]);
  await note(randomUUID(), packId, 'blue lid');
  expect(await notedWith(database(), 'blue')).toEqual([cellId, packId]);
  expect(await notedWith(database(), '%')).toEqual([]);
  await voidEntry(database(), entry, 'another cell');
  expect(await notedWith(database(), 'blue')).toEqual([packId]);
  expect(await notesOf(database(), cellId)).toMatchObject([{ text: 'From the Blue pack', voidReason: 'another cell' }]);
});

describe('instruments', () => {
  const meter: NewInstrument = {
    code: 'DM1',
    name: 'a meter',
    kind: 'meter',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: { voltage: { resolution: 0.01, accuracyShare: null, accuracyCounts: null } },
  };

  test('an accuracy that nobody noted is assumed, and can be corrected: cells read with it are judged again', async () => {
    const id = await addInstrument(database(), meter);
    const stored = async () => (await listInstruments(database())).map(instrumentOf)[0] as Instrument;
    expect(await stored()).toMatchObject({
      noted: meter.ranges,
      ranges: { voltage: { accuracyShare: 0.005, isAssumed: true } },
    });
    await inTransaction(async (db) =>
      fileEntry(db, {
        entry: randomUUID(),
        subjectIds: [await idOf('G1-002')],
        takenWith: { instrumentId: id, channel: 1 },
        bodies: [{ kind: 'voltage', voltageV: 3.7, step: 0.01 }],
      }),
    );
    const promised = { voltage: { resolution: 0.01, accuracyShare: 0.001, accuracyCounts: 2 } };
    expect(
      await changedBy(() =>
        inTransaction(async (db) => correctInstrument(db, await stored(), { ...meter, ranges: promised }, 'Bo')),
      ),
    ).toEqual(['G1-002']);
    expect(await stored()).toMatchObject({ noted: promised, ranges: promised });
    expect(await correctionsOf(database(), { instrumentId: id })).toMatchObject([
      { by: 'Bo', before: { voltage: meter.ranges.voltage }, after: promised },
    ]);
  });

  test('a sheet takes another battery at any time, up to its most', async () => {
    const { id } = await openCrossCheck(database(), 'all meters', ['half']);
    expect([await addBattery(database(), id, 'full', 2), await addBattery(database(), id, 'empty', 2)]).toEqual([
      2,
      null,
    ]);
    expect((await listCrossChecks(database()))[0]).toMatchObject({ batteries: ['half', 'full'] });
  });
});

test('a cell of a build gives its place to another and is free again; a void build stays in the list', async () => {
  const [one, two, three] = [await idOf('G1-001'), await idOf('G1-002'), await idOf('G1-003')];
  const build = await inTransaction((db) =>
    addBuild(db, { name: 'lantern', series: 2, parallel: 1, groups: [[one], [two]] }),
  );
  expect(await changedBy(() => inTransaction((db) => swapBuildCell(db, build, two, three)))).toEqual([
    'G1-002',
    'G1-003',
  ]);
  expect(await inTransaction((db) => swapBuildCell(db, build, two, three))).toBe(false);
  expect((await buildById(database(), build))?.cells).toEqual([
    { cellId: one, position: 1, placedAt: null },
    { cellId: three, position: 2, placedAt: null },
  ]);
  // Ticked off at the bench: when first, however often; and taken back.
  const placedAt = async () => (await buildById(database(), build))?.cells[1]?.placedAt;
  expect(await placeBuildCell(database(), build, three, true)).toBe(true);
  const first = await placedAt();
  await placeBuildCell(database(), build, three, true);
  expect([first, await placedAt()]).toEqual([expect.any(Date), first]);
  await placeBuildCell(database(), build, three, false);
  expect(await placedAt()).toBeNull();
  expect(await placeBuildCell(database(), build, two, true)).toBe(false);
  expect((await factsOf('G1-002'))?.buildId).toBeNull();
  await inTransaction((db) => swapBuildCell(db, build, three, two));
  expect((await buildById(database(), build))?.cells).toEqual([
    { cellId: one, position: 1, placedAt: null },
    { cellId: two, position: 2, placedAt: null },
  ]);
  await inTransaction((db) => voidBuild(db, build, 'another lamp'));
  expect(await listBuilds(database(), 10)).toMatchObject([{ name: 'lantern', voidReason: 'another lamp' }]);
  expect(await countBuilds(database())).toEqual({ all: 1, standing: 0 });
});
