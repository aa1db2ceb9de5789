import type { Chemistry } from '../chemistry/chemistries';
import { presetRules } from '../chemistry/houseRules';
import { bareFacts } from '../state/facts';
import { stateOf, type SubjectState } from '../state/subjectState';
import {
  byUrgency,
  calibrationWanted,
  dueNow,
  liesTooC,
  lookSays,
  resistanceWanted,
  type Upkeep,
  wantedOf,
} from './upkeep';

const rules = presetRules('workshop');
const readAt = new Date('2026-10-01T12:00:00Z');
const after = (hours: number) => new Date(readAt.getTime() + hours * 3_600_000);
const lying = (chemistry: Chemistry, ...groupsV: number[]): SubjectState => {
  const volts = groupsV.map((value) => ({ value, u: 0.005 }));
  const round = { state: 'rest' as const, at: readAt, groupsV: volts, terminalV: null };
  return stateOf(
    { ...bareFacts({ code: 'PA1', chemistry, series: volts.length, ratedCapacityAh: 2 }), rounds: [round] },
    rules,
    readAt,
  );
};
const due = (one: SubjectState, hours: number) => {
  const wanted = wantedOf(one, rules);
  return wanted && dueNow(wanted, after(hours));
};

test.each([
  ['lipo', 4.18, 'down-to-storage'],
  ['li-ion', 4.15, 'down-to-storage'],
  ['lihv', 4.33, 'down-to-storage'],
  ['lfp', 3.4, 'down-to-storage'],
  ['lipo', 3.5, 'up-to-storage'],
  ['lipo', 3.82, 'look'],
  ['sla', 2.0, 'to-full'],
  ['sla', 2.15, 'look'],
  ['nimh', 1.38, 'look'],
  ['alkaline', 1.5, 'look'],
] as const)('%s at %d V: %s (common practice)', (chemistry, volts, act) => {
  expect(due(lying(chemistry, volts), 40 * 24)?.act).toBe(act);
});

test('full lithium goes to storage within a day, everything is looked at monthly; before that it is soon', () => {
  const full = lying('lipo', 4.2);
  expect([10, 20, 25, 80].map((hours) => due(full, hours)?.state)).toEqual([undefined, 'soon', 'due', 'overdue']);
  const stored = lying('lipo', 3.83);
  expect([26, 28, 31, 38].map((days) => due(stored, days * 24)?.state)).toEqual([undefined, 'soon', 'due', 'overdue']);
});

test('the fullest and the emptiest group decide; what may not be stored is balanced first', () => {
  const act = (...groupsV: number[]) => wantedOf(lying('lipo', ...groupsV), rules)?.act;
  expect(act(3.86, 3.86, 3.86)).toBe('look');
  expect(act(4.17, 4.16, 4.17)).toBe('down-to-storage');
  expect(act(3.82, 3.82, 3.55)).toBe('balance');
  expect(act(4.18, 4.17, 3.9)).toBe('balance');
  // Below its floor it waits for a rescue.
  expect(act(3.82, 2.7, 3.82)).toBeUndefined();
});

test('what was discharged since it was measured counts from then', () => {
  const stored = lying('lipo', 3.83);
  const facts = { ...bareFacts({ code: 'PA1', chemistry: 'lipo', series: 1, ratedCapacityAh: 2 }) };
  const round = { state: 'rest' as const, at: readAt, groupsV: [{ value: 3.83, u: 0.005 }], terminalV: null };
  const emptied = stateOf({ ...facts, rounds: [round], moves: [{ at: after(48), kind: 'emptied' }] }, rules, after(60));
  expect(wantedOf(stored, rules)?.act).toBe('look');
  expect(wantedOf(emptied, rules)).toMatchObject({ act: 'up-to-storage', perGroupV: null, dueAt: after(48 + 7 * 24) });
});

test('the worst comes first, then what was due first', () => {
  const at = (state: Upkeep['state'], hours: number): Upkeep => ({
    code: 'PA1',
    perGroupV: 4.2,
    readAt,
    cycles: null,
    act: 'look',
    rule: 'lookEveryD',
    dueAt: after(hours),
    state,
  });
  const [one, two, three] = [at('due', 5), at('overdue', 9), at('due', 2)];
  expect([one, two, three].sort(byUrgency)).toEqual([two, three, one]);
});

test('a look says at once: keeps, drifts, go up, go down', () => {
  const stored = { groupsV: [3.82, 3.83, 3.82], at: after(0) };
  const look = (groupsV: (number | null)[], days = 30, before: typeof stored | null = stored) =>
    lookSays('lipo', before, { groupsV, at: after(24 * days) }, rules);
  expect(look([3.818, 3.829, 3.819])).toEqual({ code: 'keeps', days: 30 });
  expect(look([3.8, 3.81, 3.8])).toEqual({ code: 'keeps', days: 30 });
  expect(look([3.818, 3.69, 3.819])).toMatchObject({ code: 'drifts', position: 2, days: 30 });
  expect(look([3.818, null, 3.819])).toMatchObject({ code: 'keeps' });
  expect(look([4.18, 4.17, 4.18])).toEqual({ code: 'go-down' });
  expect(look([3.5, 3.51, 3.5])).toEqual({ code: 'go-up' });
  expect(look([3.86, 3.87, 3.86])).toEqual({ code: 'first-look' });
  expect(look([3.82, 3.83, 3.82], 30, null)).toEqual({ code: 'first-look' });
  expect(look([3.82, 3.83, 3.82], 0.2)).toEqual({ code: 'first-look' });
  expect(lookSays('sla', null, { groupsV: [2.0], at: after(0) }, rules)).toEqual({ code: 'back-to-full' });
});

// Common practice: rising against its own past is the surest sign; a calibration is made again once a year.
test('resistance is read again after so many charges, an instrument compared with others after a year', () => {
  const charges = (count: number) => Array.from({ length: count }, (_, i) => after(24 * (i + 1)));
  expect(resistanceWanted('PA1', null, charges(40), rules)).toBeNull();
  expect(resistanceWanted('PA1', readAt, charges(19), rules)).toBeNull();
  expect(resistanceWanted('PA1', readAt, charges(23), rules)).toMatchObject({ dueAt: after(20 * 24), cycles: 23 });
  // What was charged before it was read does not count.
  expect(resistanceWanted('PA1', after(10 * 24), charges(23), rules)).toBeNull();
  const old = calibrationWanted('DM1', readAt, rules);
  expect([300, 340, 366, 460].map((days) => dueNow(old, after(days * 24))?.state)).toEqual([
    undefined,
    'soon',
    'due',
    'overdue',
  ]);
});

test('10 to 25 °C keep it (common practice)', () => {
  expect([4, 10, 25, 31, null].map(liesTooC)).toEqual(['cold', null, null, 'warm', null]);
});
