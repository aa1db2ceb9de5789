import { answersTo, type Complaint, complaints } from '../packs/complaints';
import { answeredByReadings } from './complaintAnswer';
import { exampleAt, exampleState } from './exampleState';

const soon = new Date(exampleAt.getTime() + 3_600_000);
const pack = { chemistry: 'li-ion' as const, series: 3, capacityAh: 4 };
const even = exampleState({ ...pack, groupsV: [3.8, 3.8, 3.8], terminalV: 11.4 });
const apart = exampleState({ ...pack, groupsV: [3.9, 3.9, 3.6], terminalV: 11.4 });
const low = exampleState({ ...pack, groupsV: [3.6, 3.6, 2.2], terminalV: 9.4 });
const cutOff = exampleState({ ...pack, groupsV: [3.6, 3.6, 3.6], terminalV: 0.1 });

test.each([
  ['too-low', low, 'a-group-low'],
  ['too-low', cutOff, 'terminals-dead'],
  ['too-low', even, null],
  ['no-connection', low, 'too-low-for-charger'],
  ['no-connection', cutOff, 'terminals-dead'],
  ['no-connection', even, null],
  ['cells-differ', apart, 'they-do'],
  ['cells-differ', even, 'they-are-even'],
  ['full-stops-early', apart, 'one-lower-at-rest'],
  ['full-stops-early', even, null],
  ['too-warm', apart, null],
] as const)('%s: readings of today answer what they can', (complaint, state, answer) => {
  expect(answeredByReadings(complaint, state, soon)).toBe(answer);
});

test('readings of last week, and none at all, answer nothing; every answer is one of its test', () => {
  const week = new Date(exampleAt.getTime() + 7 * 86_400_000);
  const answerOf = (complaint: Complaint, state = low, at = soon) => answeredByReadings(complaint, state, at);
  for (const complaint of complaints) {
    expect(answerOf(complaint, low, week)).toBeNull();
    expect(answerOf(complaint, exampleState(pack))).toBeNull();
    for (const state of [even, apart, low, cutOff]) {
      const answer = answerOf(complaint, state);
      if (answer !== null) expect(answersTo(complaint)).toContain(answer);
    }
  }
});
