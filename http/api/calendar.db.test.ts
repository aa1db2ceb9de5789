import { addApiKey, listApiKeys, withdrawApiKey } from '@/records/access';
import { storePlan } from '@/records/benchPlans';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { packRoundEntry } from '@/records/packs';
import { type Scratch, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import ICAL from 'ical.js';
import { randomUUID } from 'node:crypto';
import { planCalendar, secretCalendar } from './calendar';

let scratch: Scratch;
const job = randomUUID();
const [readAt, fromAt, toAt] = [
  new Date('2026-03-28T20:00Z'),
  new Date('2026-03-29T00:30Z'),
  new Date('2026-03-29T01:30Z'),
];

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const [id, full] = [await scratchPack(database(), 'PA1'), await scratchPack(database(), 'PC3')];
  const wanted = { kind: 'job' as const, job: 'resistance' as const, after: null, dueAt: null };
  await fileEntry(database(), { entry: job, subjectIds: [id], takenAt: readAt, bodies: [wanted] });
  const plan = { madeAt: readAt, endsAt: toAt, boundAt: toAt, isProven: true, unplaced: [] };
  const placed = { id: job, station: 'Hands', fromAt, toAt, expectedMin: 50, doubtMin: 5, isBlind: false };
  await inTransaction((db) => storePlan(db, plan, [placed]));
  const round = packRoundEntry({
    entry: randomUUID(),
    packId: full,
    series: 3,
    state: 'rest',
    groupVoltagesV: [4.18, 4.18, 4.17],
    groupStepsV: [0.01, 0.01, 0.01],
    terminalV: null,
    terminalStepV: null,
    instrumentId: null,
    terminalInstrumentId: null,
    confirmed: false,
    takenAt: readAt,
  });
  await fileEntry(database(), round);
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

const read = async (answer: Response) =>
  new ICAL.Component(ICAL.parse(await answer.text()) as unknown[])
    .getAllSubcomponents('vevent')
    .map((one) => new ICAL.Event(one));

// Published: RFC 5545, as another package reads it. That night clocks go forward in many places: the moments stay.
test('another reader finds what is planned at its moments, over the night in which summer time begins', async () => {
  const [event, ...more] = await read(await planCalendar());
  expect(more).toEqual([]);
  expect(event).toMatchObject({ uid: `${job}@bold-ember`, summary: 'Measure the resistance of PA1' });
  expect([event?.startDate.toJSDate(), event?.endDate.toJSDate()]).toEqual([fromAt, toAt]);
});

test('what is due stands beside it, behind an address that is secret, until that is withdrawn', async () => {
  const token = await addApiKey(database(), 'phone', 'calendar');
  const calendar = await read(await secretCalendar(`${token}.ics`));
  expect(calendar.map(({ summary }) => summary)).toEqual(['Measure the resistance of PA1', 'PC3: Down to storage']);
  expect(calendar[1]?.startDate.toJSDate()).toEqual(new Date('2026-03-29T20:00Z'));
  const wrong = { status: 404, message: expect.stringContaining('opens no calendar') };
  await expect(secretCalendar('guess.ics')).rejects.toMatchObject(wrong);
  await expect(secretCalendar(token)).rejects.toMatchObject(wrong);
  // A key of the API opens no calendar.
  await expect(secretCalendar(`${await addApiKey(database(), 'logger')}.ics`)).rejects.toMatchObject(wrong);
  const [{ id = 0 } = {}] = (await listApiKeys(database())).filter(({ opens }) => opens === 'calendar');
  await withdrawApiKey(database(), id);
  await expect(secretCalendar(`${token}.ics`)).rejects.toMatchObject(wrong);
});
