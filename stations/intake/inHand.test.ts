import type { IntakeVerdict } from '@/core/grading/intake';
import { cellInHand } from './inHand';

const cell = (
  code: string,
  missing: IntakeVerdict['missing'],
  decided: IntakeVerdict['class'] = missing.length === 0 ? 'usable' : null,
) => ({ code, intake: { class: decided, missing } });
const done = cell('A', []);
const out = cell('B', ['inspection'], 'out');
const [next, last] = [cell('C', ['voltage', 'weight', 'inspection']), cell('D', ['voltage', 'weight', 'inspection'])];
const box = [done, out, next, last];

test.each([
  ['the first that waits, not one that is out', {}, 'C'],
  ['one that was gone to', { at: 'A' }, 'A'],
  ['one that is out after its weight, until it was looked at', { latest: 'B' }, 'B'],
  ['the next, once that one is left for later', { latest: 'B', after: 'B' }, 'C'],
  ['the next that waits after the one left', { latest: 'A', after: 'C' }, 'D'],
  ['the one left, after all others', { latest: 'A', after: 'D' }, 'C'],
  ['the next that waits, once the one read last is done', { latest: 'A' }, 'C'],
])('%s has the screen', (_, asked, code) => {
  expect(cellInHand(box, { latest: null, ...asked })?.code).toBe(code);
});

test('no cell is in hand when all are done', () => {
  expect(cellInHand([done], { latest: 'A', after: 'A' })).toBeNull();
  expect(cellInHand([], { latest: null })).toBeNull();
});
