import type { Body } from '@/core/judging/bodies';
import { randomUUID } from 'node:crypto';
import { fileEntry, voidEntry } from './ledger';
import { pastVisits } from './pastVisits';
import { type Scratch, scratchPack, scratchWorkshop } from './scratchDatabase';

let scratch: Scratch;
const now = new Date('2026-09-01T12:00:00Z');
const daysAgo = (days: number) => new Date(now.getTime() - days * 86_400_000);

beforeAll(async () => {
  scratch = await scratchWorkshop();
});
afterAll(() => scratch.drop());

async function file(subjectId: number, takenAt: Date, bodies: Body[], state: 'rest' | 'after-use' | null = null) {
  const entry = randomUUID();
  await fileEntry(scratch.pool, {
    entry,
    takenAt,
    subjectIds: [subjectId],
    state,
    bodies,
  });
  return entry;
}
const measure = (id: number, days: number, state: 'rest' | 'after-use' = 'rest') =>
  file(id, daysAgo(days), [{ kind: 'voltage', position: 1, voltageV: 3.8, step: 0.001 }], state);

test('a visit counts once it is over, and found a fault where the pack was retired soon after', async () => {
  const [sound, faulty] = [await scratchPack(scratch.pool, 'PA1'), await scratchPack(scratch.pool, 'PA2')];
  // Two rounds within thirty days are one visit; the last one is not over.
  for (const days of [200, 190, 100, 5]) await measure(sound, days);
  await measure(faulty, 100, 'after-use');
  await measure(faulty, 50);
  await file(faulty, daysAgo(50), [{ kind: 'complaint', said: 'full-stops-early', answer: 'one-lower-at-rest' }]);
  const gone = await file(faulty, daysAgo(40), [{ kind: 'retiring', act: 'taped', voltageV: null, toWhom: null }]);
  expect(await pastVisits(scratch.pool, now)).toEqual({
    routine: { visits: 2, faulty: 0 },
    'after-use': { visits: 1, faulty: 0 },
    complaint: { visits: 1, faulty: 1 },
  });
  await voidEntry(scratch.pool, gone, 'mistaken');
  expect((await pastVisits(scratch.pool, now)).complaint).toEqual({ visits: 1, faulty: 0 });
});
