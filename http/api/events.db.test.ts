import { addBatch } from '@/records/batches';
import { subjectByCode } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { beginRest } from '@/records/periods';
import { type Scratch, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import { setClockAhead } from '@/workshop/clock';
import { frameFacts } from '@/workshop/frame';
import { judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { events } from './events';
import { eventMessage } from './schemas';
import type { z } from 'zod';

type Message = z.infer<typeof eventMessage>;

let scratch: Scratch;
let batchId: number;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  batchId = await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 3 });
});
afterAll(async () => {
  setClockAhead(0);
  await database().end();
  await scratch.drop();
});

/** A page that follows: it reads on until a message is as wanted, and gives that one. */
function page() {
  const leave = new AbortController();
  const reader = events(leave.signal).body?.pipeThrough(new TextDecoderStream()).getReader();
  let text = '';
  const until = async (wanted: (message: Message) => boolean): Promise<Message> => {
    for (;;) {
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        const [data] = text.slice(0, end).match(/(?<=^data: ).*/m) ?? [];
        text = text.slice(end + 2);
        const message = data === undefined ? null : eventMessage.strict().parse(JSON.parse(data));
        if (message && wanted(message)) return message;
      }
      const { value, done } = (await reader?.read()) ?? { value: '', done: true };
      if (done) throw new Error('the stream ended');
      text += value;
    }
  };
  return { until, leave: () => leave.abort() };
}
const isHourAfter = (first: Message) => (message: Message) =>
  (message.frame?.atMs ?? 0) - (first.frame?.atMs ?? 0) >= 3_600_000;
const waitsAt = (key: string, message: Message) => message.frame?.stops.find((stop) => stop.key === key)?.count;
const read = async (code: string, entry = randomUUID() as string) => {
  const id = (await subjectByCode(database(), code))?.id ?? 0;
  await inTransaction((db) =>
    fileEntry(db, { entry, subjectIds: [id], bodies: [{ kind: 'inspection', findings: ['swollen'] }] }),
  );
  return entry;
};

test('every page gets the state at once, then each filed line, in the order of filing', async () => {
  const [one, other] = [page(), page()];
  for (const follower of [one, other]) {
    const first = await follower.until((message) => message.frame !== null);
    expect([waitsAt('intake', first), first.filed]).toEqual([3, []]);
  }
  const entry = await read('T1-001');
  for (const follower of [one, other]) {
    const message = await follower.until((message) => message.filed.length > 0);
    expect(message.filed).toEqual([{ entry, codes: ['T1-001'], roundId: null }]);
    expect(waitsAt('intake', message)).toBe(2);
  }
  other.leave();
  const further = [await read('T1-002'), await read('T1-003')];
  const heard: string[] = [];
  await one.until((message) => {
    heard.push(...message.filed.map((filed) => filed.entry));
    return heard.length === 2;
  });
  expect(heard).toEqual(further);
  one.leave();
});

test('a new listener gets the last state; a later one what is due by then, like those already there', async () => {
  const early = page();
  const first = await early.until((message) => message.frame !== null);
  const atOnce = page();
  expect((await atOnce.until((message) => message.frame !== null)).frame).toEqual(first.frame);
  setClockAhead(3_600_000);
  const late = page();
  for (const one of [late, early]) {
    const message = await one.until(isHourAfter(first));
    expect(message.nowMs - first.nowMs).toBeGreaterThanOrEqual(3_600_000);
    expect(message.frame?.newest).toBe(first.frame?.newest);
  }
  await inTransaction((db) => db.query("update batch set origin = 'another' where id = $1", [batchId]));
  await early.until(({ frame }) => frame !== null && frame.newest !== first.frame?.newest);
  setClockAhead(0);
  for (const one of [early, atOnce, late]) one.leave();
});

test('an open page hears every minute what has become due', async () => {
  const minutely = jest.spyOn(global, 'setInterval');
  const open = page();
  const first = await open.until((message) => message.frame !== null);
  const [tick, everyMs] = minutely.mock.calls.find(([, ms]) => ms === 60_000) ?? [];
  expect(everyMs).toBe(60_000);
  setClockAhead(3_600_000);
  tick?.();
  await open.until(isHourAfter(first));
  open.leave();
  minutely.mockRestore();
  setClockAhead(0);
});

test('a lost connection is reported, and the changes in between arrive once it is back', async () => {
  const follower = page();
  await follower.until((message) => message.frame !== null);
  await database().query(
    `select pg_terminate_backend(pid)
     from pg_stat_activity
     where query like 'listen%' and datname = current_database()`,
  );
  expect(await follower.until((message) => message.frame === null)).toMatchObject({ filed: [] });
  await inTransaction((db) => beginRest(db, batchId, 'charge', 3600, new Date()));
  const back = await follower.until((message) => message.frame?.watch.length === 1);
  expect(back.frame?.watch).toMatchObject([{ code: 'T1', reason: 'charge', seen: false }]);
  follower.leave();
});

test('a minute that passes makes things due and judges nothing again; a clock set back takes that back', async () => {
  const before = await judgedWorkshop();
  const dueNow = async () => {
    const { watch, atMs } = await frameFacts();
    return watch.map(({ dueAtMs }) => dueAtMs <= atMs);
  };
  expect(await dueNow()).toEqual([false]);
  setClockAhead(3_601_000);
  expect(await dueNow()).toEqual([true]);
  setClockAhead(-86_400_000);
  expect(await dueNow()).toEqual([false]);
  setClockAhead(4 * 3_600_000);
  expect(await dueNow()).toEqual([]);
  // Another test may write to its own database meanwhile: then the workshop is loaded again, with the same cells.
  expect((await judgedWorkshop()).cells).toBe(before.cells);
});
