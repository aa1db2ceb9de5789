import { addBatch } from '@/records/batches';
import { plannedJobs } from '@/records/benchPlans';
import { mendPack, NotMended } from '@/records/builds';
import { database, inTransaction } from '@/records/database';
import { addInstrument } from '@/records/instruments';
import { type Scratch, scratchModel, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { replan } from '@/workshop/benchPlan';
import { now } from '@/workshop/clock';
import { asItIsGates } from '@/words/retiring';
import { takeApartAction } from './clinic/actions';
import { beginRemedyAction } from './clinic/remedyActions';
import { asItIsAction } from './retire/actions';
import { beginResistorAction } from './capacity/resistorActions';
import { scratchForm } from './scratchForm';
import { addHoursAction, addJobsAction, beginJobAction } from './upkeep/planActions';

jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));
jest.mock('next/navigation', () => ({ redirect: jest.fn() }));
jest.mock('next/server', () => ({ after: jest.fn() }));

/** Two browsers do the same, or two things that exclude each other, at once: one of them does. */
let scratch: Scratch;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  for (const code of ['PA1', 'PB1', 'PC1', 'PD1', 'PE1', 'PF1']) await scratchPack(database(), code);
});
afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const count = async (from: string): Promise<number> =>
  (await database().query<{ count: number }>(`select count(*) as count from ${from}`)).rows[0]?.count ?? NaN;
const times = <T>(n: number, act: () => Promise<T>): Promise<T[]> => Promise.all(Array.from({ length: n }, act));
const done = (answers: readonly { ok: boolean }[]): number => answers.filter(({ ok }) => ok).length;

test('a pack that goes as it is does so once', async () => {
  const gates = Object.fromEntries(asItIsGates.map((_, i) => [`gate ${i}`, 'on']));
  const all = await times(8, () => asItIsAction('PA1', null, scratchForm(gates)));
  expect([done(all), await count('retiring')]).toEqual([1, 1]);
});

test('a discharge through a resistor runs once', async () => {
  const all = await times(8, () => beginResistorAction('PB1', null, scratchForm({ alarmS: '3600' })));
  // The one that started leads on.
  expect([all.filter(Boolean).length, await count("period where kind = 'discharge'")]).toEqual([7, 1]);
});

test('a pack is balanced once at a time', async () => {
  const fields = {
    way: 'bleed',
    hours: '3',
    spreadV: '0.1',
    chargeA: '1',
    bleedA: '0.1',
    timerS: '',
    topUpA: '0.5',
    drainA: '0.1',
    movePositions: '',
    moveAh: '',
    moveStopV: '',
    packV: '12.6',
    connector: 'balance',
  };
  const all = await times(8, () => beginRemedyAction('PC1', null, scratchForm(fields)));
  expect([done(all), await count('remedy')]).toEqual([1, 1]);
});

test('of two jobs that are planned on one charger one starts', async () => {
  await addInstrument(database(), {
    code: 'CH7',
    name: 'charger under the stairs',
    kind: 'charger',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: {},
    charging: { maxA: 8, maxW: 120, dischargeMaxW: 40, stepA: 0.1, bleedA: 0.2, outputs: 1 },
  });
  const at = (hours: number) => new Date(now().getTime() + 3_600_000 * hours).toISOString();
  await addHoursAction(null, scratchForm({ from: at(-1), to: at(15) }));
  await addJobsAction(null, scratchForm({ codes: 'PD1, PE1', course: 'charge', due: '' }));
  await replan();
  const charges = (await plannedJobs(database())).filter(({ kind, planned }) => kind === 'charge' && planned);
  expect(new Set(charges.map(({ planned }) => planned?.station)).size).toBe(1);
  expect(charges).toHaveLength(2);
  const all = await Promise.all(charges.flatMap(({ id }) => [beginJobAction(id), beginJobAction(id)]));
  // The second press on the one that started finds it started.
  expect([done(all), await count('job_begun')]).toEqual([2, 1]);
});

test('jobs that are wanted at once follow each other', async () => {
  await times(4, () => addJobsAction(null, scratchForm({ codes: 'PF1', course: 'charge', due: '' })));
  const own = (await plannedJobs(database())).filter(({ of }) => of === 'PF1');
  const after = own.map((job) => job.after);
  expect(own.length).toBeGreaterThan(3);
  expect(new Set(after).size).toBe(own.length);
});

test('a pack that is taken apart while it is mended holds no cell', async () => {
  let mended = 0;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 8 });
  for (let n = 1; n <= 8; n++) {
    const code = `PM${n}`;
    const id = await scratchPack(database(), code);
    const { rows } = await database().query<{ id: number }>('select id from subject where code = $1', [`T1-00${n}`]);
    const mending = inTransaction((db) => mendPack(db, id, 1, { outIds: [], inIds: [rows[0]?.id ?? 0] }));
    const ended = await Promise.allSettled([mending, takeApartAction(code, 'worn')]);
    if (ended[0].status === 'fulfilled') mended += 1;
    else expect(ended[0].reason).toBeInstanceOf(NotMended);
  }
  expect(mended).toBeGreaterThan(0);
  expect(await count("subject where code like 'PM%' and apart_at is not null")).toBe(8);
  expect(
    await count(
      'build_cell join subject on subject.build_id = build_cell.build_id where not released and apart_at is not null',
    ),
  ).toBe(0);
});
