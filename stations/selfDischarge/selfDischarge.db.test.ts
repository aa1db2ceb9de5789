import { cellOfCode } from '@/core/judging/shelf';
import { toReadNow } from '@/core/judging/judgeSelfDischarge';
import { addBatch } from '@/records/batches';
import { database } from '@/records/database';
import { voidEntry } from '@/records/ledger';
import { type Scratch, scratchModel, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { now, setClockAhead } from '@/workshop/clock';
import { watchNow } from '@/workshop/frame';
import { allSelfDischarges, selfDischargeById } from '@/workshop/selfDischarges';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { fileLine } from '../fileLine';
import { endSelfDischargeAction } from './actions';
import { beginSelfDischargeOf } from './beginSelfDischargeOf';

jest.mock('next/server', () => ({ after: jest.fn() }));
jest.mock('next/cache', () => ({ revalidatePath: jest.fn() }));
jest.mock('next/navigation', () => ({ redirect: jest.fn() }));

let scratch: Scratch;
const dayMs = 86_400_000;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 7 });
  await scratchPack(database(), 'PT1');
});

afterAll(async () => {
  setClockAhead(0);
  await database().end();
  await scratch.drop();
});

const beside = { confirmed: true, state: 'rest', groupsWith: '', terminalsWith: '', meter: '' };
const read = (selfDischarge: number, text: string) =>
  fileLine({ ...beside, entry: randomUUID(), text, hold: selfDischarge });
const begun = async (codes: string[]): Promise<number> => {
  const answer = await beginSelfDischargeOf(codes, 7);
  if (!answer.ok) throw new Error(answer.said);
  return answer.value;
};
const cell = async (code: string) => cellOfCode(await judgedWorkshop(), code);

test('a batch rests, is due after a week, and the one that falls out of the crowd is retired', async () => {
  const id = await begun(['T1']);
  const volts = [4.151, 4.149, 4.152, 4.15, 4.148, 4.151, 4.15];
  for (const [i, v] of volts.entries())
    expect(await read(id, `T1-00${i + 1} ${v}`)).toMatchObject({ ok: true, said: expect.stringContaining('T1-00') });
  const due = async () => {
    const selfDischarge = await selfDischargeById(await judgedWorkshop(), id);
    return selfDischarge ? toReadNow(selfDischarge, now()).length : null;
  };
  expect(await due()).toBe(0);
  expect(await watchNow(await judgedWorkshop())).toEqual([]);

  setClockAhead(7 * dayMs);
  expect(await due()).toBe(7);
  expect(await watchNow(await judgedWorkshop())).toMatchObject([
    { reason: 'hold', code: '7 cells of T1', seen: false },
  ]);
  // All fall by 2 mV, the third by 30 mV.
  for (const [i, v] of volts.entries()) {
    if (i === 2) continue;
    await read(id, `T1-00${i + 1} ${(v - 0.002).toFixed(3)}`);
  }
  expect(await cell('T1-001')).toMatchObject({ held: { verdict: 'holds' } });
  await read(id, `T1-003 ${(4.152 - 0.03).toFixed(3)}`);
  expect(await cell('T1-003')).toMatchObject({
    held: { verdict: 'leaks', outlier: true },
    duty: { duty: 'retire', because: { code: 'unsafe', because: { code: 'leaks' } } },
  });
  expect(await due()).toBe(0);
  expect(await watchNow(await judgedWorkshop())).toEqual([]);
});

test('what one reads tells of the others: its void reading takes the crowd away from them', async () => {
  const before = await cell('T1-001');
  const { rows } = await database().query<{ uid: string }>(
    `select entry.uid from entry join entry_subject on entry_id = entry.id join subject on subject.id = subject_id
     where code = 'T1-002' and exists (select from voltage where entry_id = entry.id) and voided_at is null
     order by entry.id desc limit 1`,
  );
  await voidEntry(database(), rows[0]?.uid ?? '', 'a test');
  const after = await cell('T1-001');
  expect(after).not.toBe(before);
  expect(await cell('T1-002')).toMatchObject({ held: { verdict: 'cannot-tell', why: { code: 'too-short' } } });
});

test('a pack is held group by group; ended, it takes no more readings, and what it said stands', async () => {
  const id = await begun(['PT1', 'T1-004']);
  await read(id, 'PT1 4.18 4.17 4.18');
  setClockAhead(15 * dayMs);
  await read(id, 'PT1 4.17 4.02 4.18');
  const [pack] = await judgedPacks(await judgedWorkshop());
  expect(pack).toMatchObject({ held: { verdict: 'leaks', position: 2 } });
  const selfDischarge = await selfDischargeById(await judgedWorkshop(), id);
  await endSelfDischargeAction(selfDischarge?.entry ?? '');
  expect(await read(id, 'PT1 4.17 4.02 4.18')).toMatchObject({ ok: false, said: expect.stringContaining('ended') });
  expect((await judgedPacks(await judgedWorkshop()))[0]?.held).toMatchObject({ verdict: 'leaks' });
  const all = await allSelfDischarges(await judgedWorkshop());
  expect(all.map(({ endedAt, held }) => [endedAt !== null, held.length])).toEqual([
    [true, 2],
    [false, 7],
  ]);
});

test('what is not here, or is nothing that rests, is refused', async () => {
  expect(await beginSelfDischargeOf(['Z9', 'T1'], 7)).toMatchObject({ ok: false, said: 'Nothing here is called Z9.' });
  await fileLine({ ...beside, entry: randomUUID(), text: 'T1-007 l' });
  expect(await beginSelfDischargeOf(['T1-007'], 7)).toMatchObject({
    ok: false,
    said: expect.stringContaining('scrapped'),
  });
  expect(await read(9999, 'T1-001 4.1')).toMatchObject({ ok: false, said: 'There is no such self-discharge test.' });
});
