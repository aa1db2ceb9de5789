import { createDischargeMeter, dischargeArithmetic } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { cellOfCode } from '@/core/judging/shelf';
import { addBatch } from '@/records/batches';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { addRunOf, dischargesOf, keepResult } from '@/records/runs';
import { type Scratch, scratchModel, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { setClockAhead } from '@/workshop/clock';
import { watchNow } from '@/workshop/frame';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { createHash, randomUUID } from 'node:crypto';
import { scratchForm } from '../scratchForm';
import { endRestAction } from '../frame/actions';
import { filePartialAction } from './partialActions';
import { beginResistorAction } from './resistorActions';

jest.mock('next/server', () => ({ after: jest.fn() }));
jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));
jest.mock('next/navigation', () => ({ redirect: jest.fn() }));

let scratch: Scratch;
let packId: number;
const cutoffV = 2.8;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 3, bondedPlaces: [] });
  packId = await scratchPack(database(), 'PT1');
});

afterAll(async () => {
  setClockAhead(0);
  await database().end();
  await scratch.drop();
});

const cell = async (code: string) => {
  const found = cellOfCode(await judgedWorkshop(), code);
  if (!found) throw new Error(code);
  return found;
};

/** A cell whose make rests 25 mV above the table, discharged over twenty hours. */
async function taught(code: string): Promise<number> {
  const samples: Sample[] = [];
  for (let timeS = 0; ; timeS += 120) {
    const currentA = timeS < 1800 ? 0 : 0.11;
    const soc = 1 - (0.11 * Math.max(0, timeS - 1800)) / 3600 / 2.2;
    const voltageV = openCircuitOf('li-ion').voltageAt(soc) + 0.025 - 0.04 * currentA - Math.max(0, -soc) * 30;
    samples.push({ timeS, voltageV: Number(voltageV.toFixed(3)), currentA, temperatureC: null });
    if (voltageV < cutoffV - 0.05) break;
  }
  const meter = createDischargeMeter({ load: { kind: 'column' }, cutoffV, voltageDigitV: 0.001 });
  samples.forEach((sample) => meter.push(sample));
  const { id } = await cell(code);
  return inTransaction(async (db) => {
    const run = { subjectIds: [id], fileName: 'slow.csv', endedAt: new Date('2026-03-01') };
    const contentSha256 = createHash('sha256').update(code).digest();
    const { id: runId, layoutId } = await addRunOf(
      db,
      { ...run, contentSha256 },
      { load: { kind: 'column' } },
      samples,
    );
    await keepResult(db, layoutId, cutoffV, dischargeArithmetic, meter.finish(0.001));
    return runId;
  });
}

test('a slow discharge teaches its model a curve, by which another cell that is partly charged is read', async () => {
  const charge = { start: '3.615', charge: '1650', limitPercent: '1' };
  await filePartialAction('T1-002', null, scratchForm(charge));
  const byTable = await cell('T1-002');
  expect(byTable).toMatchObject({ capacityBy: 'partial', partial: { curveBasis: { by: 'unknown' } } });
  const runId = await taught('T1-001');
  const workshop = await judgedWorkshop();
  expect(workshop.curves.learntOf(byTable)).toMatchObject({ runId, curve: { source: 'learnt' } });
  const byOwn = await cell('T1-002');
  expect(byOwn).toMatchObject({ capacityBy: 'partial', partial: { curveBasis: { by: 'learnt', runId } } });
  expect(byOwn.capacity?.u ?? NaN).toBeLessThan((byTable.capacity?.u ?? NaN) / 1.3);
  // 3.615 V is 28 % of this make; the table takes it for 33 %.
  expect(byOwn.partial?.startSoc.value).toBeLessThan((byTable.partial?.startSoc.value ?? NaN) - 0.03);
  const runs = await dischargesOf(database(), (await cell('T1-001')).id, cutoffV, dischargeArithmetic);
  expect(runs).toMatchObject([{ runId, capacityAh: expect.closeTo(2.2, 1), meanCurrentA: expect.closeTo(0.11, 3) }]);
});

test.each([
  [{ start: '', charge: '1650' }, 'missing'],
  [{ start: '3.61 3.62', charge: '1650' }, 'It has 1; 2 were read'],
  [{ start: '14.8', charge: '1650' }, 'not the sum'],
  [{ start: '3.615', charge: '0' }, 'Charge put in'],
  [{ start: '4.19', charge: '100' }, 'too near to full'],
])('a partial charge of %o is refused: %s', async (fields, said) => {
  expect(await filePartialAction('T1-003', null, scratchForm({ limitPercent: '', ...fields }))).toMatchObject({
    ok: false,
    said: expect.stringContaining(said),
  });
});

test('a pouch pack is partly charged, group by group; the mean counts while they lie together', async () => {
  await filePartialAction('PT1', null, scratchForm({ start: '3.731 3.729 3.73', charge: '1.52', limitPercent: '' }));
  const [pack] = await judgedPacks(await judgedWorkshop());
  expect(pack).toMatchObject({ capacityBy: 'partial', partial: { perCell: [{}, {}, {}] } });
  expect(pack?.capacity?.value).toBeCloseTo(1.9, 1);
  expect(pack?.partial?.budget.map(({ input }) => input)).toContain('curve');
});

test('what is on a resistor is on the watch until it is off', async () => {
  await beginResistorAction('PT1', null, scratchForm({ alarmS: '36000' }));
  expect(await watchNow(await judgedWorkshop())).toMatchObject([{ code: 'PT1', reason: 'resistor' }]);
  setClockAhead(90 * 3600_000);
  const [slip] = await watchNow(await judgedWorkshop());
  expect(slip).toMatchObject({ reason: 'resistor', seen: false });
  await endRestAction(slip?.entry ?? '');
  expect(await watchNow(await judgedWorkshop())).toEqual([]);
  for (const alarmS of ['0', 'x', '1e9'])
    expect(await beginResistorAction('PT1', null, scratchForm({ alarmS }))).toMatchObject({ ok: false });
});

test('for how long a pack served is kept with it', async () => {
  await fileEntry(database(), {
    entry: randomUUID(),
    subjectIds: [packId],
    bodies: [{ kind: 'run-time', durationS: 420 }],
  });
  const { rows } = await database().query('select duration_s from run_time');
  expect(rows).toEqual([{ duration_s: 420 }]);
});
