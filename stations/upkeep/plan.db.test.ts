import { plannedJobs } from '@/records/benchPlans';
import { database } from '@/records/database';
import { addInstrument } from '@/records/instruments';
import { fileEntry, filedOf } from '@/records/ledger';
import { type Scratch, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { benchNow } from '@/workshop/benchPlan';
import { now, setClockAhead } from '@/workshop/clock';
import { frameFacts, watchNow } from '@/workshop/frame';
import { judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { scratchForm } from '../scratchForm';
import {
  addHoursAction,
  addJobsAction,
  beginJobAction,
  dropJobAction,
  endJobAction,
  replanAction,
  unbeginJobAction,
  withdrawHoursAction,
} from './planActions';

jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));

let scratch: Scratch;
const hourMs = 3_600_000;
const packIds = new Map<string, number>();

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  await addInstrument(database(), {
    code: 'CH7',
    name: 'charger under the stairs',
    kind: 'charger',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: {},
    charging: { maxA: 8, maxW: 120, dischargeMaxW: 40, stepA: 0.1, bleedA: 0.2, outputs: 2 },
  });
  for (const code of ['PA1', 'PB2', 'PC3']) packIds.set(code, await scratchPack(database(), code));
});

afterAll(async () => {
  setClockAhead(0);
  await database().end();
  await scratch.drop();
});

const at = (hours: number): string => new Date(now().getTime() + hours * hourMs).toISOString();
const hours = (from: number, to: number) => addHoursAction(null, scratchForm({ from: at(from), to: at(to) }));
const want = (codes: string, course: string, due = '') => addJobsAction(null, scratchForm({ codes, course, due }));
const jobOf = async (of: string, kind: string) => {
  const job = (await plannedJobs(database())).find((one) => one.of === of && one.kind === kind);
  if (!job) throw new Error(`${of} has no ${kind}`);
  return job;
};

test('hours that overlap, end before they begin or are over are refused, and those that stand stay', async () => {
  expect(await hours(-1, 9)).toMatchObject({ ok: true });
  expect(await hours(4, 6)).toMatchObject({ ok: false, said: expect.stringContaining('overlap') });
  expect(await hours(12, 11)).toMatchObject({ ok: false, said: expect.stringContaining('ends before it begins') });
  expect(await hours(-4, -2)).toMatchObject({ ok: false, said: 'That is over already.' });
  expect(await hours(12, 40)).toMatchObject({ ok: false, said: expect.stringContaining('at most one day') });
  expect(await addHoursAction(null, scratchForm({ from: 'soon', to: '' }))).toMatchObject({ ok: false });
  expect((await benchNow()).attended).toHaveLength(1);
});

test('what is wanted is planned at once; codes that are not here, and nothing at all, are refused', async () => {
  expect(await want('PZ9', 'charge')).toMatchObject({ ok: false, said: expect.stringContaining('PZ9') });
  expect(await want('', 'charge')).toMatchObject({ ok: false });
  expect(await want('pa1, pb2', 'resistance')).toMatchObject({ ok: true });
  const { jobs, plan, slips } = await benchNow();
  expect(jobs.map(({ of, kind }) => `${of} ${kind}`)).toEqual(
    ['PA1', 'PB2'].flatMap((of) => ['charge', 'resistance', 'storage'].map((kind) => `${of} ${kind}`)),
  );
  expect(slips).toEqual([]);
  expect(plan?.unplaced).toEqual([]);
  const charges = [await jobOf('PA1', 'charge'), await jobOf('PB2', 'charge')];
  expect(new Set(charges.map(({ planned }) => planned?.station))).toEqual(new Set(['CH7/1', 'CH7/2']));
  // They were not measured: from the worst.
  expect(charges[0]?.planned?.isBlind).toBe(true);
});

test('a job starts where it is planned, is on the watch, and a rest follows it; order and place are kept', async () => {
  const charge = await jobOf('PA1', 'charge');
  expect(await beginJobAction((await jobOf('PA1', 'resistance')).id)).toMatchObject({
    ok: false,
    said: 'First PA1: charge.',
  });
  expect(await beginJobAction(charge.id)).toMatchObject({ ok: true });
  expect(await watchNow(await judgedWorkshop())).toEqual([expect.objectContaining({ code: 'PA1', reason: 'job' })]);
  // Not begun after all, and begun again: as if it had never been.
  expect(await unbeginJobAction(charge.id)).toMatchObject({ ok: true });
  expect((await jobOf('PA1', 'charge')).begun).toBeNull();
  const { id, planned } = await jobOf('PA1', 'charge');
  await beginJobAction(id);
  setClockAhead(1.2 * hourMs);
  expect((await frameFacts()).due.map(({ text }) => text)).toEqual([expect.stringMatching(/^PB2 onto CH7/)]);
  expect(await endJobAction(id)).toMatchObject({ ok: true });
  expect(await watchNow(await judgedWorkshop())).toEqual([expect.objectContaining({ code: 'PA1', reason: 'charge' })]);
  await expect(jobOf('PA1', 'charge')).rejects.toThrow();
  expect(planned?.station).toMatch(/^CH7/);
  // All of it stays in its life, what was taken back among it.
  const life = await filedOf(database(), packIds.get('PA1') as number);
  expect(life.map(({ body }) => body.kind)).toEqual(['job-begun', 'job-begun', 'job', 'job', 'job']);
  expect(life[0]?.body).toEqual({ kind: 'job-begun', of: id, station: planned?.station });
});

test('a plan that slipped says so and is made again from now; a pack found unfit holds nothing else up', async () => {
  expect((await benchNow()).slips).toEqual([
    expect.objectContaining({ code: 'not-begun', job: expect.objectContaining({ of: 'PB2', kind: 'charge' }) }),
  ]);
  const askedAt = now();
  await replanAction();
  const { slips } = await benchNow();
  expect(slips).toEqual([]);
  expect((await jobOf('PB2', 'charge')).planned?.fromAt.getTime()).toBeGreaterThanOrEqual(askedAt.getTime());
  await fileEntry(database(), {
    entry: randomUUID(),
    subjectIds: [packIds.get('PB2') as number],
    bodies: [{ kind: 'inspection', findings: ['swollen'] }],
  });
  expect((await benchNow()).slips.map(({ code }) => code)).toEqual(['out-of-plan', 'out-of-plan', 'out-of-plan']);
  expect(await beginJobAction((await jobOf('PB2', 'charge')).id)).toMatchObject({ ok: false });
  await replanAction();
  const after = await benchNow();
  expect(after.slips).toEqual([]);
  expect(after.plan?.unplaced.map(({ why }) => why.code)).toEqual(['sheet-refused', 'sheet-refused', 'sheet-refused']);
  await dropJobAction((await jobOf('PB2', 'charge')).id, 'swollen');
  expect((await benchNow()).jobs.filter(({ of }) => of === 'PB2').map(({ kind, after: of }) => [kind, of])).toEqual([
    ['resistance', null],
    ['storage', expect.any(String)],
  ]);
});

test('a job without time left waits in no plan; hours taken away unplan what lay in them', async () => {
  const [span] = (await benchNow()).attended;
  await withdrawHoursAction(span?.id ?? '');
  const { jobs, plan } = await benchNow();
  expect(jobs.every(({ planned }) => planned === null)).toBe(true);
  expect(new Set(plan?.unplaced.map(({ why }) => why.code))).toContain('longer-than-any-span');
  expect(await hours(20, 24)).toMatchObject({ ok: true });
});
