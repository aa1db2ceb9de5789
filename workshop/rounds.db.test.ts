import { notMeasuredText } from '@/words/rounds';
import { judgedWorkshop } from '@/workshop/judged';
import { openRoundById } from './rounds';
import { addBatch, modelNamed } from '@/records/batches';
import { subjectByCode } from '@/records/cells';
import { database } from '@/records/database';
import { addProtocol } from '@/records/protocols';
import { fileEntry, voidEntry } from '@/records/ledger';
import { beginRest, endPeriod, noteSeen } from '@/records/periods';
import { openRound } from '@/records/rounds';
import { type Scratch, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { compareProtocols, everyModel } from '@/core/judging/compareProtocols';
import { figuresByCell, roundFigure, whyNotMeasured } from '@/core/judging/judgeRound';

let scratch: Scratch;
let batchId: number;
let rounds: Record<'slow' | 'quick', { id: number; occasionId: number }>;
const minute = 60_000;
const at = (minutes: number) => new Date(Date.UTC(2026, 0, 10) + minutes * minute);

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await modelNamed(database(), {
    maker: 'Test',
    name: 'T1',
    chemistry: 'li-ion',
    ratedCapacityAh: 2.4,
    massKg: 0.045,
    board: false,
    asNewOhm: 0.03,
  });
  batchId = await addBatch(database(), {
    code: 'T1',
    origin: 'a test',
    modelId: model.id,
    count: 12,
    bondedPlaces: [],
  });
  const plain = { school: '', charge: null, rateC: null, holdS: 10 };
  const slow = await addProtocol(database(), {
    ...plain,
    name: 'slow',
    method: 'ammeter',
    temperature: { coldestC: 15, warmestC: 25 },
    restS: 3600,
  });
  const quick = await addProtocol(database(), {
    ...plain,
    name: 'quick',
    method: 'ac-meter',
    temperature: null,
    restS: 0,
  });
  const round = {
    batchId,
    instrumentId: null,
    ammeterId: null,
    loadResistanceOhm: null,
    loadTolerance: null,
    loadRatingW: null,
    temperatureC: 20,
  };
  rounds = {
    slow: await openRound(database(), { ...round, protocolId: slow, method: 'ammeter' }),
    quick: await openRound(database(), { ...round, protocolId: quick, method: 'ac-meter' }),
  };
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const idOf = async (place: number) =>
  (await subjectByCode(database(), `T1-${String(place).padStart(3, '0')}`))?.id as number;
async function step(
  place: number,
  dropV: number,
  { temperatureC = null as number | null, minutes = 600, entry = randomUUID() as string } = {},
) {
  await fileEntry(database(), {
    entry,
    subjectIds: [await idOf(place)],
    occasionId: rounds.slow.occasionId,
    takenAt: at(minutes),
    temperatureC,
    bodies: [
      {
        kind: 'load-step',
        openV: 3.8,
        loadedV: 3.8 - dropV,
        afterV: null,
        currentA: 2,
        step: 0.001,
        currentStep: 0.01,
      },
    ],
  });
  return entry;
}
const opened = async () => {
  const open = await openRoundById(rounds.slow.id);
  if (!open) throw new Error('no round');
  return open;
};

test('what is filed and voided shows at once; outside the temperature window it is kept and not compared', async () => {
  for (let place = 1; place <= 9; place++) await step(place, 0.08 + place / 10_000);
  expect(figuresByCell((await opened()).readings).size).toBe(9);
  const cold = await step(10, 0.3, { temperatureC: 4 });
  const open = await opened();
  expect(open.readings[0]).toMatchObject({
    leftOut: { code: 'temperature-outside', temperatureC: 4 },
    row: { code: 'T1-010' },
    warnings: [{ code: 'temperature-outside' }],
  });
  expect(figuresByCell(open.readings).has('T1-010')).toBe(false);
  expect(open.population?.median).toBeCloseTo(0.04025, 6);
  await voidEntry(database(), cold, 'a test');
  expect((await opened()).readings).toHaveLength(9);
});

test('a second press that differs is a contact, one that agrees is the cell', async () => {
  await step(1, 0.081);
  await step(2, 0.14);
  const { readings, population } = await opened();
  expect(roundFigure('T1-001', readings, population)).toMatchObject({
    odd: false,
    pressed: [expect.any(Number), expect.any(Number)],
    repeats: { differ: false },
  });
  expect(roundFigure('T1-002', readings, population)).toMatchObject({ odd: true, repeats: { differ: true } });
  expect(roundFigure('T1-012', readings, population)).toBeNull();
});

test('a press under other conditions says nothing of the contact', async () => {
  await step(3, 0.082);
  await step(3, 0.3, { temperatureC: 4 });
  const cold = roundFigure('T1-003', (await opened()).readings, null);
  expect(cold).toMatchObject({ pressed: [expect.closeTo(0.15, 6)], repeats: null });
  await step(3, 0.081);
  const { readings, population } = await opened();
  expect(roundFigure('T1-003', readings, population)).toMatchObject({ repeats: { differ: false } });
  expect(roundFigure('T1-003', readings, population)?.pressed).toHaveLength(3);
});

test('a rest that began just before takes a reading out of the comparison, seen, ended or not; void, it comes back', async () => {
  await step(11, 0.08, { minutes: 900 });
  const comparable = async () =>
    (await opened()).readings.find((reading) => reading.row.code === 'T1-011')?.leftOut === null;
  expect(await comparable()).toBe(true);
  await beginRest(database(), batchId, 'charge', 3600, at(880));
  expect(await comparable()).toBe(false);
  const { rows } = await database().query<{ uid: string }>('select uid from period join entry on entry.id = entry_id');
  const rest = rows[0]?.uid ?? '';
  await noteSeen(database(), rest, at(945));
  expect(await comparable()).toBe(false);
  await endPeriod(database(), rest, at(950));
  expect(await comparable()).toBe(false);
  await voidEntry(database(), rest, 'a test');
  expect(await comparable()).toBe(true);
});

test('cells measured by two protocols are paired, and nothing else is', async () => {
  for (let place = 1; place <= 8; place++) {
    await fileEntry(database(), {
      entry: randomUUID(),
      subjectIds: [await idOf(place)],
      occasionId: rounds.quick.occasionId,
      takenAt: at(700),
      bodies: [
        {
          kind: 'resistance',
          resistanceOhm: 0.025 + place / 10_000,
          step: 0.0001,
          openV: null,
        },
      ],
    });
  }
  const { first, second, pairs, agreement, verdict, models, model } = compareProtocols(
    await judgedWorkshop(),
    [],
    null,
    null,
  );
  expect([first?.name, second?.name].sort()).toEqual(['quick', 'slow']);
  expect(pairs).toHaveLength(8);
  expect(agreement?.count).toBe(8);
  expect(verdict?.isUsual).toBe(true);
  expect([models, model]).toEqual([['Test T1'], 'Test T1']);
  expect(compareProtocols(await judgedWorkshop(), [], null, null, everyModel).model).toBeNull();
});

test('why a cell is not measured: not taken in yet', async () => {
  const { workshop } = await opened();
  const [cell] = workshop.cells;
  const why = cell && whyNotMeasured(cell);
  expect(why && notMeasuredText(cell.code, why)).toContain('was not taken in yet');
});
