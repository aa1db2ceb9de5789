import type { NewPackRound, NewRound } from '@/core/judging/facts';
import { presetRules } from '@/core/chemistry/houseRules';
import { Client } from 'pg';
import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { addBatch, batchByCode, listModels, modelNamed } from './batches';
import { addBuild, buildById, holdUnwelded, mendPack, NotMended, swapBuildCell, voidBuild, Welded } from './builds';
import { subjectByCode, cellFacts } from './cells';
import { database, inTransaction, isDatabaseAway, refusedBy, snapshotOf } from './database';
import { adoptRules, adoptedRules } from './houseRules';
import { migrate } from './migrate';
import type { Body } from '@/core/judging/bodies';
import { type Entry, filedOf, fileEntry, refileEntry, voidEntry } from './ledger';
import { addPack, markApart, packByCode, packFacts, packRoundEntry, roundsOfPack } from './packs';
import { beginRest, endPeriod, noteSeen, validRests } from './periods';
import { pulsesFiled, readingsOfRounds, resistancesBySubject } from './readings';
import type { MethodKey } from '@/core/resistance/methods';
import { addCalibration, listCalibrations, withdrawCalibration } from './calibrations';
import {
  crossCheckEntry,
  type CrossCheckLine,
  crossCheckReadings,
  listCrossChecks,
  openCrossCheck,
} from './crossChecks';
import { addInstrument, archiveInstrument, listInstruments } from './instruments';
import { addProtocol, archiveProtocol, listProtocols } from './protocols';
import { openRound, roundById } from './rounds';
import {
  addRun,
  addRunOf,
  countRuns,
  keepResult,
  listRuns,
  resultOf,
  runById,
  runsOfSubject,
  runsWithoutResult,
  runWithContent,
} from './runs';
import { copySamples } from './sampleBlocks';
import { curveOf, eachSample } from './samples';
import { plainDischarge } from '@/core/capacity/plainDischarge';
import { type Scratch, scratchModel, scratchPack, scratchPackRound, scratchWorkshop } from './scratchDatabase';

let scratch: Scratch;
let batchId: number;
const cutoffs = { 'li-ion': 2.8 };

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  batchId = await addBatch(database(), {
    code: 'T1',
    origin: 'a test',
    modelId: model.id,
    count: 6,
    bondedPlaces: [[1, 2]],
  });
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const cellId = async (code: string) => (await subjectByCode(database(), code))?.id as number;
const constraint = (work: Promise<unknown>) =>
  work.then(
    () => 'kept',
    (error: unknown) => refusedBy(error)?.constraint ?? String(error),
  );

async function storeRun(code: string, sha: number, voltages = [4.1, 3.9, 3.5, 3.0, 2.7]): Promise<number> {
  const run = {
    subjectIds: [await cellId(code)],
    fileName: 'log.csv',
    contentSha256: Buffer.alloc(32, sha),
    endedAt: new Date(),
  };
  const samples = voltages.map((voltageV, seq) => ({ timeS: seq * 60, voltageV, currentA: null, temperatureC: 21 }));
  return inTransaction(async (db) => {
    const { id } = await addRunOf(db, run, { load: { kind: 'current', currentA: 0.5 } }, samples);
    return id;
  });
}

const layoutOf = async (runId: number): Promise<number> => (await runById(database(), runId))?.layoutId ?? 0;

const voidRun = async (id: number, reason: string) =>
  voidEntry(database(), (await runById(database(), id))?.entry ?? '', reason);

const roundOf = async (
  method: MethodKey,
  load: { loadResistanceOhm?: number; loadTolerance?: number; zeroTaken?: boolean } = {},
): Promise<NewRound> => ({
  batchId,
  method,
  protocolId:
    (await listProtocols(database())).find((one) => one.method === method)?.id ??
    (await addProtocol(database(), { ...plainProtocol, name: method, method })),
  instrumentId: null,
  ammeterId: null,
  loadResistanceOhm: null,
  loadTolerance: null,
  loadRatingW: null,
  temperatureC: null,
  ...load,
});
const plainProtocol = { school: '', charge: null, temperature: null, restS: 0, rateC: null, holdS: 10 };

const result = (capacity: number, reachedCutoff: boolean) =>
  plainDischarge({ capacityAh: { value: capacity, u: 0.01 }, reachedCutoff });

describe('migrations', () => {
  test('run once, also when several processes start together', async () => {
    expect(await Promise.all([migrate(), migrate(), migrate()])).toEqual([[], [], []]);
  });
});

describe('batches', () => {
  test('get running codes, and a bond for what is welded together', async () => {
    const facts = await cellFacts(database(), cutoffs, 1);
    expect(facts.map((cell) => cell.code)).toEqual(['T1-001', 'T1-002', 'T1-003', 'T1-004', 'T1-005', 'T1-006']);
    expect(facts.map((cell) => cell.bond)).toEqual(['w1', 'w1', null, null, null, null]);
    expect(await batchByCode(database(), 'T1')).toMatchObject({ origin: 'a test', cells: 6 });
  });

  test('a code is given once; a known model keeps its figures', async () => {
    const [model] = await listModels(database());
    expect(
      await constraint(addBatch(database(), { code: 'T1', origin: 'again', modelId: model?.id ?? 0, count: 1 })),
    ).toBe('batch_code_key');
    expect(
      await modelNamed(database(), {
        maker: 'Test',
        name: 'T1',
        chemistry: 'lfp',
        ratedCapacityAh: 9,
        massKg: null,
        board: false,
        asNewOhm: null,
      }),
    ).toEqual(model);
  });
});

describe('readings', () => {
  test('an entry sent twice is filed once, and the newest standing reading counts', async () => {
    const entry = randomUUID();
    const file = async (id: string, voltageV: number) =>
      fileEntry(database(), {
        entry: id,
        subjectIds: [await cellId('T1-001')],
        bodies: [{ kind: 'voltage', voltageV, step: 0.001 }],
      });
    await file(randomUUID(), 3.6);
    expect(await file(entry, 3.7)).toBe(true);
    expect(await file(entry, 3.7)).toBe(false);
    await expect(file(entry, 3.9)).rejects.toThrow('with another text');
    const volts = async () => (await cellFacts(database(), cutoffs, 1, [await cellId('T1-001')]))[0]?.voltage?.valueV;
    expect(await volts()).toBe(3.7);
    expect(await voidEntry(database(), entry, 'a slip')).toBe(true);
    expect(await voidEntry(database(), entry, 'again')).toBe(false);
    expect(await volts()).toBe(3.6);
    expect((await filedOf(database(), await cellId('T1-001')))[0]).toMatchObject({
      body: { kind: 'voltage', voltageV: 3.7, step: 0.001 },
      codes: ['T1-001'],
      voidReason: 'a slip',
    });
  });

  test('are never changed or deleted', async () => {
    expect(await constraint(database().query('update voltage set voltage_v = 4'))).toBe('');
    await expect(database().query('delete from voltage')).rejects.toThrow('facts are kept');
    await expect(database().query('delete from entry')).rejects.toThrow('facts are kept');
    await expect(
      database().query(`update entry set void_reason = 'other' where voided_at is not null`),
    ).rejects.toThrow('facts are kept');
  });

  test('the database refuses what makes no reading', async () => {
    const id = await cellId('T1-002');
    const file = (...bodies: Body[]) =>
      constraint(inTransaction((db) => fileEntry(db, { entry: randomUUID(), subjectIds: [id], bodies })));
    const step = { afterV: null, currentA: null, step: 0.001, currentStep: null };
    expect(await file({ kind: 'voltage', voltageV: 4000, step: 0.001 })).toBe('voltage_voltage_v_check');
    expect(await file({ kind: 'voltage', voltageV: 3.7, step: 0.001, position: 2 })).toBe('is_a_group');
    expect(await file({ kind: 'mass', massKg: -1, step: 0.001 })).toBe('mass_mass_kg_check');
    expect(await file({ kind: 'load-step', openV: 4, loadedV: 3.9, ...step })).toBe('needs_a_round');
    expect((await filedOf(database(), id)).map(({ body }) => body)).toEqual([{ kind: 'weld' }]);
  });

  test('a round holds its load steps; inspections add up', async () => {
    const { id: roundId, occasionId } = await openRound(
      database(),
      await roundOf('resistor', { loadResistanceOhm: 2, loadTolerance: 0.01 }),
    );
    const id = await cellId('T1-003');
    await fileEntry(database(), {
      entry: randomUUID(),
      subjectIds: [id],
      occasionId,
      confirmed: true,
      bodies: [
        {
          kind: 'load-step',
          openV: 4,
          loadedV: 3.9,
          afterV: 3.99,
          currentA: null,
          step: 0.01,
          currentStep: null,
        },
        { kind: 'inspection', findings: ['rust'] },
      ],
    });
    await fileEntry(database(), {
      entry: randomUUID(),
      subjectIds: [id],
      bodies: [{ kind: 'inspection', findings: [] }],
    });
    expect(await readingsOfRounds(database(), [roundId])).toMatchObject([
      { code: 'T1-003', confirmed: true, resistance: { method: 'resistor', facts: { openV: 4 } } },
    ]);
    expect(await roundById(database(), roundId)).toMatchObject({ read: 1, batchCode: 'T1' });
    expect((await cellFacts(database(), cutoffs, 1, [await cellId('T1-003')]))[0]).toMatchObject({
      findings: ['rust'],
      resistances: [{ roundId, facts: { openV: 4, loadedV: 3.9, afterV: 3.99, loadResistanceOhm: 2 } }],
    });
  });

  test('readings of every method come back as they were typed; those under a load are at hand for grading', async () => {
    const [ac, two, logged] = [
      await openRound(database(), await roundOf('ac-meter')),
      await openRound(database(), await roundOf('two-current')),
      await openRound(database(), await roundOf('pulse')),
    ];
    const id = await cellId('T1-006');
    const runId = await storeRun('T1-006', 77);
    const edge = {
      atS: 60,
      deltaCurrentA: 2,
      fromV: 3.9,
      resistanceOhm: { '10s': 0.05 },
      standardUncertaintyOhm: { '10s': 0.001 },
      currentRelativeU: 0,
      unsettled: [],
      relaxation: null,
    };
    await keepResult(database(), await layoutOf(runId), 2.8, 2, { ...result(2, true), edges: [edge] });
    const file = ({ occasionId }: { occasionId: number }, body: Body, temperatureC: number | null = null) =>
      inTransaction((db) =>
        fileEntry(db, { entry: randomUUID(), subjectIds: [id], occasionId, temperatureC, bodies: [body] }),
      );
    await file(ac, { kind: 'resistance', resistanceOhm: 0.0214, step: 0.0001, openV: null }, 21);
    await file(two, {
      kind: 'two-current',
      atLowV: 3.98,
      lowCurrentA: 0.5,
      atHighV: 3.87,
      highCurrentA: 2.5,
      step: 0.01,
      highStep: 0.001,
      currentStep: 0.01,
    });
    expect((await cellFacts(database(), cutoffs, 2, [id]))[0]?.resistances.map((one) => one.facts.kind)).toEqual([
      'two-current',
      'resistance',
    ]);
    await file(logged, { kind: 'pulse', runId, atS: 60 });
    // One step is filed once, also where another arithmetic sees it a sample later.
    expect(await constraint(file(logged, { kind: 'pulse', runId, atS: 61 }))).toBe('step_filed_once');
    expect((await cellFacts(database(), cutoffs, 2, [id]))[0]?.resistances[0]).toMatchObject({
      method: 'pulse',
      facts: { kind: 'pulse', runId, atS: 60, edge },
    });
    expect(await pulsesFiled(database(), runId)).toEqual([60]);
    // A newer arithmetic sees the step a sample later and reads it otherwise; or it sees none.
    const edgeNow = async () => (await cellFacts(database(), cutoffs, 2, [id]))[0]?.resistances[0]?.facts;
    await keepResult(database(), await layoutOf(runId), 2.8, 3, {
      ...result(2, true),
      edges: [{ ...edge, atS: 61, resistanceOhm: { '10s': 0.08 } }],
    });
    expect(await edgeNow()).toMatchObject({ edge: { atS: 61, resistanceOhm: { '10s': 0.08 } } });
    await keepResult(database(), await layoutOf(runId), 2.8, 4, result(2, true));
    expect(await edgeNow()).toMatchObject({ kind: 'pulse', edge: null });
    expect((await readingsOfRounds(database(), [ac.id, two.id])).map((row) => row.resistance.facts)).toEqual([
      {
        kind: 'two-current',
        atLowV: 3.98,
        lowCurrentA: 0.5,
        atHighV: 3.87,
        highCurrentA: 2.5,
        step: 0.01,
        highStep: 0.001,
        currentStep: 0.01,
      },
      { kind: 'resistance', resistanceOhm: 0.0214, step: 0.0001, openV: null, openStep: null, zeroTaken: null },
    ]);
    expect((await readingsOfRounds(database(), [ac.id]))[0]).toMatchObject({
      resistance: { disturbedAt: expect.any(Date), temperatureC: 21, method: 'ac-meter' },
    });
    expect(await constraint(file(ac, { kind: 'resistance', resistanceOhm: 5000, step: 1, openV: null }))).toBe(
      'resistance_resistance_ohm_check',
    );
    await voidRun(runId, 'a test');
  });

  test('the volts that a resistance meter shows are kept beside its figure', async () => {
    const { id: roundId, occasionId } = await openRound(database(), await roundOf('ac-meter', { zeroTaken: true }));
    expect(await roundById(database(), roundId)).toMatchObject({ zeroTaken: true });
    const entry = randomUUID();
    await fileEntry(database(), {
      entry,
      subjectIds: [await cellId('T1-006')],
      occasionId,
      bodies: [{ kind: 'resistance', resistanceOhm: 0.0215, step: 0.0001, openV: 4.152 }],
    });
    expect(await readingsOfRounds(database(), [roundId], { entry })).toMatchObject([
      { resistance: { facts: { openV: 4.152, zeroTaken: true }, protocolId: expect.any(Number) } },
    ]);
    expect(await readingsOfRounds(database(), [roundId], { subjectIds: [await cellId('T1-001')] })).toEqual([]);
    const id = await cellId('T1-006');
    // The run of the test before is void, so nothing is known of a discharge.
    expect((await resistancesBySubject(database(), [id])).get(id)?.[0]).toMatchObject({ roundId, disturbedAt: null });
    await voidEntry(database(), entry, 'a test');
    expect(await readingsOfRounds(database(), [roundId], { entry })).toEqual([]);
  });

  test('what was undone is filed again as a new entry; the voided one stays', async () => {
    const [entry, second] = [randomUUID(), randomUUID()];
    const id = await cellId('T1-002');
    await fileEntry(database(), {
      entry,
      subjectIds: [id],
      confirmed: true,
      bodies: [
        { kind: 'voltage', voltageV: 3.64, step: 0.001 },
        { kind: 'mass', massKg: 0.0447, step: 0.0001 },
      ],
    });
    await voidEntry(database(), entry, 'undone at entry');
    expect(await refileEntry(database(), entry, second)).toBe(true);
    // It is valid again: another page that brings it back as well hears that.
    expect(await refileEntry(database(), entry, randomUUID())).toBe(false);
    const readings = (await filedOf(database(), id)).filter(({ body }) => body.kind !== 'weld');
    expect(readings.map((reading) => [reading.entry, reading.voidReason])).toEqual([
      [second, null],
      [second, null],
      [entry, 'undone at entry'],
      [entry, 'undone at entry'],
    ]);
    // Of eight pages that bring it back at once, from either place in its line, one does.
    await voidEntry(database(), second, 'undone at entry');
    const eight = await Promise.all(
      [entry, second, entry, second, entry, second, entry, second].map((one) =>
        inTransaction((db) => refileEntry(db, one, randomUUID())),
      ),
    );
    expect(eight.filter(Boolean)).toHaveLength(1);
  });
});

describe('runs', () => {
  test('samples come back in order, and reduced without losing an extreme', async () => {
    const id = await storeRun('T1-004', 1, [4.1, 4.0, 3.2, 3.9, 3.8, 3.7, 3.6, 2.9]);
    const seen: number[] = [];
    const layoutId = await layoutOf(id);
    await eachSample(database(), layoutId, (sample) => seen.push(sample.voltageV));
    expect(seen).toEqual([4.1, 4.0, 3.2, 3.9, 3.8, 3.7, 3.6, 2.9]);
    const curve = await curveOf(database(), layoutId, undefined, 2);
    expect(curve.map((point) => point.voltageV)).toEqual([4.1, 3.2, 3.9, 3.8, 2.9]);
    expect(await runById(database(), id)).toMatchObject({
      code: 'T1-004',
      load: { kind: 'current', currentA: 0.5 },
      voidReason: null,
    });
  });

  test('of a log of many blocks a curve is drawn from their extremes, a stretch of it from its samples', async () => {
    const volts = Array.from({ length: 120_000 }, (_, i) => (i === 77_777 ? 0.5 : 4.2 - i / 1e5));
    const layoutId = await layoutOf(await storeRun('T1-003', 21, volts));
    const whole = await curveOf(database(), layoutId);
    expect(whole.length).toBeLessThan(1000);
    expect([whole[0]?.voltageV, whole.at(-1)?.voltageV]).toEqual([volts[0], volts.at(-1)]);
    expect(Math.min(...whole.map(({ voltageV }) => voltageV))).toBe(0.5);
    const stretch = await curveOf(database(), layoutId, { fromS: 60 * 77_770, toS: 60 * 77_780 });
    expect(stretch.map(({ voltageV }) => voltageV)).toEqual(volts.slice(77_770, 77_781));
    expect(await curveOf(database(), layoutId, { fromS: 1e9, toS: 2e9 })).toEqual([]);
  });

  test('the same content stands once; voiding makes room for it', async () => {
    const id = await storeRun('T1-005', 2);
    expect(await constraint(storeRun('T1-006', 2))).toBe('run_content_once');
    expect(await runWithContent(database(), Buffer.alloc(32, 2))).toEqual({ id, code: 'T1-005' });
    expect(await voidRun(id, 'wrong cell')).toBe(true);
    expect(await runWithContent(database(), Buffer.alloc(32, 2))).toBeNull();
    await storeRun('T1-006', 2);
    expect((await runsOfSubject(database(), await cellId('T1-005')))[0]?.voidReason).toBe('wrong cell');
  });

  test('an import that breaks leaves nothing, and no sample is without its run', async () => {
    const before = await countRuns(database());
    await expect(
      inTransaction(async (db) => {
        const contentSha256 = Buffer.alloc(32, 9);
        await addRun(db, { subjectIds: [await cellId('T1-006')], fileName: 'x', contentSha256, endedAt: new Date() });
        await copySamples(db, Readable.from(['nonsense']));
      }),
    ).rejects.toThrow();
    expect(await countRuns(database())).toBe(before);
    await expect(
      database().query(
        `insert into sample_block (layout_id, seq, samples, from_s, to_s, time_s, voltage_v, extremes)
         values (9002, 0, 1, 0, 0, '{0}', '{4}', '[]')`,
      ),
    ).rejects.toThrow('foreign key');
    await expect(database().query('delete from sample_block')).rejects.toThrow('samples are kept');
  });

  test('the database looks into no samples by itself', async () => {
    const { rows } = await database().query(
      `select attname from pg_attribute
       where attrelid = 'sample_block'::regclass and atttypid in ('float8[]'::regtype, 'jsonb'::regtype)
         and attstattarget <> 0`,
    );
    expect(rows).toEqual([]);
  });

  test('results are kept by cut-off; of several runs the newest that reached it counts', async () => {
    const [first, second] = [await storeRun('T1-001', 11), await storeRun('T1-001', 12)];
    expect((await runsWithoutResult(database(), cutoffs, 1)).map((run) => run.id)).toEqual(
      expect.arrayContaining([first, second]),
    );
    await keepResult(database(), await layoutOf(first), 2.8, 1, result(2.1, true));
    await keepResult(database(), await layoutOf(second), 2.8, 1, result(2.2, false));
    await keepResult(database(), await layoutOf(second), 2.8, 1, result(9, true));
    expect((await resultOf(database(), await layoutOf(second), 2.8, 1))?.capacityAh.value).toBe(2.2);
    expect(await resultOf(database(), await layoutOf(second), 3, 1)).toBeNull();
    const facts = async (limits: Record<string, number>) =>
      (await cellFacts(database(), limits, 1, [await cellId('T1-001')]))[0];
    expect((await facts(cutoffs))?.run).toMatchObject({
      id: first,
      capacityAh: 2.1,
      capacityU: 0.01,
      reachedCutoff: true,
      energyWh: 7,
      meanVoltageV: 3.6,
    });
    expect(await facts({ 'li-ion': 3 })).toMatchObject({ run: null });
    expect((await listRuns(database(), 1, 50, 0)).find((run) => run.id === first)).toMatchObject({
      capacityAh: 2.1,
      reachedCutoff: true,
    });
  });
});

describe('instruments', () => {
  const meter = {
    code: 'DM1',
    name: 'a meter',
    kind: 'meter' as const,
    channels: 1,
    wires: null,
    leads: { gauge: 22, lengthM: 0.6 },
    certified: false,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 2 } },
    charging: {
      maxA: 6,
      maxW: 80,
      dischargeMaxW: 10,
      stepA: 0.1,
      bleedA: 0.2,
      plugA: 0.8,
      lowestPackV: 9.6,
      balanceChannels: 6,
      outputs: 2,
      modes: ['4.20', 'nickel'],
    },
  };

  test('keep what they are, are put away and taken out again, never deleted', async () => {
    const id = await addInstrument(database(), meter);
    const { ranges: noted, ...asKept } = meter;
    expect((await listInstruments(database()))[0]).toEqual({ ...asKept, id, archivedAt: null, noted });
    expect(await archiveInstrument(database(), id, true)).toBe(true);
    expect(await archiveInstrument(database(), id, true)).toBe(false);
    expect((await listInstruments(database()))[0]?.archivedAt).toBeInstanceOf(Date);
    expect(await archiveInstrument(database(), id, false)).toBe(true);
    expect(await constraint(addInstrument(database(), meter))).toBe('instrument_code_key');
  });

  test('keep several ranges of one quantity, the finest first', async () => {
    const range = (resolution: number) => ({ resolution, accuracyShare: 0.005, accuracyCounts: 2 });
    const ranges = { voltage: { ...range(0.001), coarser: [range(0.01), range(0.1)] }, resistance: range(0.1) };
    const id = await addInstrument(database(), { ...meter, code: 'DM2', ranges });
    expect((await listInstruments(database())).find((one) => one.id === id)?.noted).toEqual(ranges);
  });

  test('a sheet holds the newest reading of each channel on each battery', async () => {
    const instrumentId = (await listInstruments(database()))[0]?.id as number;
    const { id: crossCheckId, occasionId } = await openCrossCheck(database(), 'all meters', ['empty', 'full']);
    const fileLine = (given: CrossCheckLine) => inTransaction((db) => fileEntry(db, crossCheckEntry(given)));
    const entry = randomUUID();
    const line = {
      entry,
      crossCheckId,
      occasionId,
      position: 1,
      instrumentId,
      confirmed: false,
      readings: [
        { channel: 1, voltageV: 3.71, step: 0.01 },
        { channel: 2, voltageV: 3.7, step: 0.01 },
      ],
    };
    await fileLine(line);
    await fileLine(line);
    await fileLine({
      ...line,
      entry: randomUUID(),
      readings: [{ channel: 2, voltageV: 3.72, step: 0.01 }],
    });
    const shown = async () =>
      (await crossCheckReadings(database()))
        .filter((one) => one.crossCheckId === crossCheckId)
        .map((one) => [one.position, one.channel, one.voltageV]);
    expect(await shown()).toEqual([
      [1, 1, 3.71],
      [1, 2, 3.72],
    ]);
    expect(await voidEntry(database(), entry, 'a slip')).toBe(true);
    expect(await shown()).toEqual([[1, 2, 3.72]]);
    expect(await refileEntry(database(), entry, randomUUID())).toBe(true);
    expect(await listCrossChecks(database())).toMatchObject([{ batteries: ['empty', 'full'], readings: 3 }]);
    expect(await constraint(fileLine({ ...line, entry: randomUUID(), position: 3 }))).toMatch(
      /cross_check_battery|_fkey/,
    );
  });

  test('a calibration comes back as it was adopted, and is withdrawn with a reason', async () => {
    const instrumentId = (await listInstruments(database()))[0]?.id as number;
    const correction = {
      kind: 'line' as const,
      offset: { value: -0.03, u: 0.001 },
      gain: { value: 0.002, u: 0.0004 },
      covariance: -3e-7,
      residual: 0.0002,
      degrees: Infinity,
    };
    const id = await addCalibration(database(), {
      instrumentId,
      channel: 1,
      correction,
      crossCheckId: null,
      adjusted: null,
      reference: 'CK1',
      calibratedAt: new Date(0),
    });
    expect((await listCalibrations(database()))[0]).toMatchObject({ id, correction, withdrawnAt: null });
    expect(await withdrawCalibration(database(), id, 'wrong battery')).toBe(true);
    expect((await listCalibrations(database()))[0]).toMatchObject({ withdrawnBecause: 'wrong battery' });
    await expect(database().query('update calibration set offset_v = 0')).rejects.toThrow('facts are kept');
  });

  test('protocols ship with the three schools', async () => {
    expect((await listProtocols(database())).slice(0, 3)).toMatchObject([
      { method: 'ac-meter', restS: 3600, charge: { to: 1 } },
      { method: 'ammeter', charge: { from: 0.3, to: 0.7 } },
      { method: 'told', rateC: 1.5, holdS: 60, temperature: { coldestC: 22, warmestC: 22.5 } },
    ]);
  });

  test('a protocol put away comes last and can be taken out again; its name stays taken', async () => {
    const id = await addProtocol(database(), { ...plainProtocol, name: 'for a while', method: 'told' });
    expect(await archiveProtocol(database(), id, true)).toBe(true);
    expect(await archiveProtocol(database(), id, true)).toBe(false);
    expect((await listProtocols(database())).at(-1)).toMatchObject({ id, archivedAt: expect.any(Date) });
    expect(await constraint(addProtocol(database(), { ...plainProtocol, name: 'for a while', method: 'told' }))).toBe(
      'protocol_name_key',
    );
    expect(await archiveProtocol(database(), id, false)).toBe(true);
    expect((await listProtocols(database())).find((one) => one.id === id)?.archivedAt).toBeNull();
  });
});

describe('packs', () => {
  test('a round has one voltage a group; voided rounds stay in sight', async () => {
    const packId = await addPack(database(), {
      code: 'PT1',
      name: 'test',
      chemistry: 'li-ion',
      series: 3,
      parallel: 1,
      ratedCapacityAh: 2,
      board: 'none',
    });
    const round = {
      entry: randomUUID(),
      packId,
      series: 3,
      state: 'rest' as const,
      groupVoltagesV: [3.7, 3.71, 3.69],
      groupStepsV: [0.01, 0.01, 0.01],
      terminalV: null,
      terminalStepV: null,
      instrumentId: null,
      terminalInstrumentId: null,
      confirmed: false,
    };
    const fileRound = (given: NewPackRound) => inTransaction((db) => fileEntry(db, packRoundEntry(given)));
    expect([await fileRound(round), await fileRound(round)]).toEqual([true, false]);
    const fourGroups = { groupVoltagesV: [3.7, 3.71, 3.69, 3.7], groupStepsV: [0.01, 0.01, 0.01, 0.01] };
    expect(await constraint(fileRound({ ...round, entry: randomUUID(), ...fourGroups }))).toBe('is_a_group');
    expect((await packFacts(database(), {}, 1)).find((pack) => pack.code === 'PT1')?.latest).toMatchObject({
      groupVoltagesV: [3.7, 3.71, 3.69],
    });
    expect(await voidEntry(database(), round.entry, 'wrong pack')).toBe(true);
    expect(await roundsOfPack(database(), packId)).toMatchObject([{ voidReason: 'wrong pack' }]);
    const third = randomUUID();
    expect(await refileEntry(database(), round.entry, third)).toBe(true);
    expect((await packFacts(database(), {}, 1)).find((pack) => pack.code === 'PT1')?.latest?.entry).toBe(third);
    expect((await packByCode(database(), 'PT1'))?.series).toBe(3);
    const unread = {
      entry: randomUUID(),
      groupVoltagesV: [3.71, null, 3.7],
      groupStepsV: [0.01, null, 0.01],
      temperatureC: 18.5,
    };
    expect(await fileRound({ ...round, ...unread, takenAt: new Date(Date.now() + 1000) })).toBe(true);
    expect((await roundsOfPack(database(), packId))[0]).toMatchObject({ ...unread, temperatureC: 18.5 });
  });

  test('what is known of a pack: what was found on it, how it was when new, its cycles, its twins', async () => {
    const add = (code: string) =>
      addPack(database(), {
        code,
        name: 'test',
        chemistry: 'lipo',
        series: 2,
        parallel: 1,
        ratedCapacityAh: 2,
        board: 'none',
        balanceConnector: true,
      });
    const ids = [await add('PT2'), await add('PT3')];
    const file = async (bodies: Entry['bodies'], change: Partial<Entry> = {}) => {
      const entry = randomUUID();
      await inTransaction((db) => fileEntry(db, { entry, subjectIds: ids.slice(0, 1), bodies, ...change }));
      return entry;
    };
    const factsOf = async (code: string) => (await packFacts(database(), {}, 1)).find((pack) => pack.code === code);
    const facts = () => factsOf('PT2');
    expect(await facts()).toMatchObject({ findings: null, asNew: null, cyclesNoted: null, chargeEnds: [], twins: [] });
    const bought = new Date('2024-05-31T12:00:00Z');
    await file([{ kind: 'inspection', findings: [] }]);
    await file([{ kind: 'inspection', findings: ['lead', 'connector'] }]);
    await file([{ kind: 'as-new', capacityAh: 2.1, price: null, resistancesOhm: [0.0071, 0.0073] }], {
      takenAt: bought,
    });
    await file([{ kind: 'cycles', count: 12 }], { takenAt: bought });
    const slip = await file([{ kind: 'cycles', count: 1200 }]);
    await file([{ kind: 'twins' }], { subjectIds: ids });
    const full = [1, 2].map((position) => ({ kind: 'voltage' as const, position, voltageV: 4.2, step: 0.01 }));
    await file(full, { state: 'charge-end' });
    expect((await facts())?.cyclesNoted?.count).toBe(1200);
    expect(await voidEntry(database(), slip, 'a zero too many')).toBe(true);
    expect(await facts()).toMatchObject({
      balanceConnector: true,
      findings: ['connector', 'lead'],
      asNew: { at: bought, capacityAh: 2.1, price: null, resistancesOhm: [0.0071, 0.0073] },
      cyclesNoted: { count: 12, at: bought },
      chargeEnds: [expect.any(Date)],
      twins: ['PT3'],
      latest: { state: 'charge-end' },
      rested: null,
    });
    expect((await factsOf('PT3'))?.twins).toEqual(['PT2']);
    expect(await constraint(file([{ kind: 'as-new', capacityAh: null, price: null, resistancesOhm: null }]))).toBe(
      'as_new_check',
    );
  });
});

test('resistances of a pack stand by group, in rounds over packs, newest by the day they were read', async () => {
  const packId = await scratchPack(database(), 'PRES', 2);
  const { id, occasionId } = await scratchPackRound(database(), 'ac-meter', { leadOhm: 0.012 });
  expect(await roundById(database(), id)).toMatchObject({ batchCode: null, leadOhm: 0.012, read: 0 });
  const file = (takenAt: Date, ...milliohms: number[]) =>
    inTransaction((db) =>
      fileEntry(db, {
        entry: randomUUID(),
        subjectIds: [packId],
        occasionId,
        takenAt,
        bodies: milliohms.map((milliohm, position) => ({
          kind: 'resistance',
          position,
          resistanceOhm: milliohm / 1000,
          step: 1e-4,
          openV: null,
        })),
      }),
    );
  await file(new Date('2026-10-02'), 19, 9.1, 9.4);
  // An older one goes in later, from paper.
  await file(new Date('2025-10-02'), 18, 8.8, 8.9);
  expect(await constraint(file(new Date('2026-10-03'), 19, 9.1, 9.4, 9.3))).toBe('is_a_group');
  const readings = (await readingsOfRounds(database(), [id])).map(({ subjectId, resistance }) => [
    subjectId,
    resistance.takenAt.getFullYear(),
    resistance.position,
    resistance.leadOhm,
  ]);
  expect(readings).toEqual(
    [2026, 2025].flatMap((year) => [0, 1, 2].map((position) => [packId, year, position, 0.012])),
  );
  const facts = (await packFacts(database(), {}, 1)).find((pack) => pack.id === packId);
  expect(facts?.resistances).toHaveLength(6);
  expect(facts?.resistances[0]).toMatchObject({ position: 0, together: 1, facts: { resistanceOhm: 0.019 } });
  expect(facts?.resistances[0]?.facts).not.toHaveProperty('position');
});

describe('builds', () => {
  test('a cell belongs to one build; voiding frees it', async () => {
    const ids = await Promise.all(['T1-003', 'T1-004'].map(cellId));
    const save = (name: string) =>
      inTransaction((db) => addBuild(db, { name, series: 2, parallel: 1, groups: ids.map((id) => [id]) }));
    const first = await save('one');
    expect(await constraint(save('two'))).toBe('build_cell_once');
    expect((await cellFacts(database(), cutoffs, 1, [await cellId('T1-003')]))[0]?.buildId).toBe(first);
    await inTransaction((db) => voidBuild(db, first, 'changed my mind'));
    expect((await buildById(database(), first))?.voidReason).toBe('changed my mind');
    expect(await buildById(database(), await save('two'))).toMatchObject({
      name: 'two',
      cells: [{ position: 1 }, { position: 2 }],
    });
  });

  test('welded it is a pack, once, and its cells know which; taken apart they are free and its readings stay', async () => {
    const ids = [await cellId('T1-003'), await cellId('T1-004')];
    const before = (await cellFacts(database(), cutoffs, 1, ids))[0]?.buildId;
    if (before) await inTransaction((db) => voidBuild(db, before, 'for another'));
    const groups = ids.map((id) => [id]);
    const build = await inTransaction((db) => addBuild(db, { name: 'welded', series: 2, parallel: 1, groups }));
    const weld = (code: string) =>
      inTransaction(async (db) => {
        await holdUnwelded(db, build);
        return addPack(db, {
          code,
          name: 'welded',
          chemistry: 'li-ion',
          series: 2,
          parallel: 1,
          ratedCapacityAh: 2.4,
          board: 'none',
          buildId: build,
        });
      });
    const packId = await weld('PWELD');
    await expect(weld('PAGAIN')).rejects.toThrow('It is welded as PWELD: take that pack apart instead.');
    await expect(inTransaction((db) => voidBuild(db, build, 'no'))).rejects.toThrow(Welded);
    await expect(inTransaction((db) => swapBuildCell(db, build, ids[0] ?? 0, 1))).rejects.toThrow(Welded);
    expect((await cellFacts(database(), cutoffs, 1, ids)).map(({ pack }) => pack)).toEqual([
      { code: 'PWELD', position: 1 },
      { code: 'PWELD', position: 2 },
    ]);
    const at = new Date('2026-11-01T10:00:00Z');
    const apart = () =>
      inTransaction(async (db) => {
        const first = await markApart(db, packId, 'worn out', at);
        if (first) await voidBuild(db, build, 'taken apart: worn out');
        return first;
      });
    expect([await apart(), await apart()]).toEqual([true, false]);
    expect((await cellFacts(database(), cutoffs, 1, ids)).map(({ pack, buildId }) => [pack, buildId])).toEqual([
      [null, null],
      [null, null],
    ]);
    expect(await packByCode(database(), 'PWELD')).toMatchObject({ buildId: build, apart: { at, because: 'worn out' } });
    expect(await constraint(weld('PAGAIN'))).toBe('subject_build_once');
  });

  test('mended it has other cells, and what left is free; one that was not built here knows them from then on', async () => {
    const [one, two, three] = await Promise.all(['T1-003', 'T1-004', 'T1-005'].map(cellId));
    const ids = [one, two, three].flatMap((id) => id ?? []);
    const packId = await addPack(database(), {
      code: 'PMEND',
      name: 'bought',
      chemistry: 'li-ion',
      series: 2,
      parallel: 1,
      ratedCapacityAh: 2.4,
      board: 'none',
    });
    const mend = (position: number, takenOut: [string, number][], putIn: [string, number]) =>
      inTransaction(async (db) => {
        await mendPack(db, packId, position, { outIds: takenOut.map(([, id]) => id), inIds: [putIn[1]] });
        await fileEntry(db, {
          entry: randomUUID(),
          subjectIds: [packId, putIn[1]],
          bodies: [{ kind: 'mended', position, takenOut: takenOut.map(([code]) => code), putIn: [putIn[0]] }],
        });
      });
    const placesOf = async () =>
      (await cellFacts(database(), cutoffs, 1, ids)).map(({ pack }) => (pack ? `${pack.code} ${pack.position}` : null));
    await mend(2, [], ['T1-003', ids[0] as number]);
    expect(await placesOf()).toEqual(['PMEND 2', null, null]);
    await mend(2, [['T1-003', ids[0] as number]], ['T1-004', ids[1] as number]);
    expect(await placesOf()).toEqual([null, 'PMEND 2', null]);
    // What left may come back; what is not there cannot leave.
    await expect(mend(1, [['T1-003', ids[0] as number]], ['T1-005', ids[2] as number])).rejects.toThrow(NotMended);
    expect(await placesOf()).toEqual([null, 'PMEND 2', null]);
    await mend(1, [], ['T1-003', ids[0] as number]);
    expect(await placesOf()).toEqual(['PMEND 1', 'PMEND 2', null]);
    await expect(mend(1, [], ['T1-004', ids[1] as number])).rejects.toThrow(NotMended);
    const [pack] = (await packFacts(database(), cutoffs, 1)).filter(({ code }) => code === 'PMEND');
    expect(pack?.mends.map(({ position }) => position)).toEqual([1, 2, 2]);
    await inTransaction((db) => markApart(db, packId, 'worn out', new Date()));
    await expect(mend(1, [], ['T1-005', ids[2] as number])).rejects.toThrow(NotMended);
  });
});

test('house rules: none until some are adopted, then the newest version', async () => {
  expect(await adoptedRules(database())).toBeNull();
  await adoptRules(database(), 'Careful', presetRules('careful'));
  expect(await adoptedRules(database())).toEqual({ version: 1, name: 'Careful', limits: presetRules('careful') });
  // A row of an earlier version, as it named the duty Light.
  await database().query(`insert into house_rules (name, limits) values ('Before', '{"trickleHealth": 0.44}')`);
  expect((await adoptedRules(database()))?.limits).toEqual({ lightHealth: 0.44 });
});

test('a rest that was seen goes on; it is ended once, and not before it began', async () => {
  const rests = () => validRests(database(), new Date());
  expect(await rests()).toEqual([]);
  const began = new Date('2026-11-20T10:00:00Z');
  const later = (minutes: number) => new Date(began.getTime() + minutes * 60_000);
  await inTransaction((db) => beginRest(db, batchId, 'charge', 3600, began));
  const rest = { code: 'T1', batch: 'T1', reason: 'charge', beganAt: began, plannedS: 3600 };
  expect(await rests()).toEqual([{ ...rest, entry: expect.any(String), seen: false }]);
  const entry = (await rests())[0]?.entry ?? '';
  await noteSeen(database(), entry, later(61));
  await noteSeen(database(), entry, later(90));
  expect(await rests()).toMatchObject([{ ...rest, seen: true }]);
  expect((await database().query('select seen_at from period')).rows).toEqual([{ seen_at: later(61) }]);
  expect(await constraint(endPeriod(database(), entry, new Date(0)))).toBe('period_ends_after_it_began');
  expect(await Promise.all([1, 2].map(() => endPeriod(database(), entry, later(62))))).toEqual(
    expect.arrayContaining([true, false]),
  );
  expect(await rests()).toEqual([]);
  await expect(database().query('update period set ended_at = null')).rejects.toThrow('facts are kept');
});

describe('the database itself', () => {
  test('its snapshot stands while nothing is written, and changes with every write', async () => {
    const text = async () => JSON.stringify(await snapshotOf(database()));
    // The database's own upkeep writes now and then too: of several in a row, two are equal.
    const before = [await text(), await text(), await text(), await text()];
    expect(new Set(before).size).toBeLessThan(4);
    await inTransaction((db) => beginRest(db, batchId, 'discharge', 60, new Date()));
    expect(before).not.toContain(await text());
  });

  test('a connection lost in the middle of a transaction is reported as such, and the next one works', async () => {
    const admin = new Client({ connectionString: scratch.url });
    await admin.connect();
    const lost = await inTransaction(async (db) => {
      const { rows } = await db.query<{ pid: number }>('select pg_backend_pid() as pid');
      await admin.query('select pg_terminate_backend($1)', [rows[0]?.pid]);
      await db.query('select 1');
    }).catch((error: unknown) => error);
    await admin.end();
    expect(isDatabaseAway(lost)).toBe(true);
    expect((await database().query('select 1 as one')).rows).toEqual([{ one: 1 }]);
  });
});
