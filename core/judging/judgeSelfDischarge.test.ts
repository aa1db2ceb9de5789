import { presetRules } from '../chemistry/houseRules';
import { bareBench } from './equipment';
import { heldOf, type Held, type SelfDischargeFacts, judgeSelfDischarge, toReadNow } from './judgeSelfDischarge';

const rules = presetRules('workshop');
const day = (n: number) => new Date(Date.UTC(2026, 5, 1, 9) + n * 86_400_000);

/** A cell that reads 4.15 V and falls by this many V a week, read on these days. */
const held = (subjectId: number, perWeekV: number, days: number[], step = 0.001): Held => ({
  subjectId,
  code: `A1-00${subjectId}`,
  chemistry: 'li-ion',
  series: 1,
  isPack: false,
  maker: null,
  model: null,
  disturbedAt: [],
  chargedAt: null,
  readings: days.map((n) => ({
    position: 1,
    valueV: Math.round((4.15 - (perWeekV * n) / 7) / step) * step,
    step,
    instrumentId: null,
    channel: null,
    takenAt: day(n),
  })),
});

const selfDischarge = (subjects: Held[], given: Partial<SelfDischargeFacts> = {}): SelfDischargeFacts => ({
  id: 1,
  occasionId: 1,
  entry: '7d0cf1a6-6d8e-4dd7-9d3a-0a6f5d1a4a11',
  beganAt: day(0),
  plannedS: 7 * 86_400,
  seen: false,
  endedAt: null,
  subjects,
  ...given,
});
const judge = (facts: SelfDischargeFacts) => judgeSelfDischarge(facts, rules, bareBench);
const codes = (facts: SelfDischargeFacts, now: Date) => toReadNow(judge(facts), now).map(({ code }) => code);

test('each is read as the test begins, and again as it is due; up to half a day early counts', () => {
  const begun = selfDischarge([held(1, 0.001, [0]), held(2, 0.001, [])]);
  expect(codes(begun, day(0))).toEqual(['A1-002']);
  expect(codes(begun, day(3))).toEqual(['A1-002']);
  expect(codes(begun, day(6.6))).toEqual(['A1-001', 'A1-002']);
  const read = selfDischarge([held(1, 0.001, [0, 6.7]), held(2, 0.001, [0, 8])]);
  expect(judge(read)).toMatchObject({ dueAt: null });
  expect(codes(read, day(9))).toEqual([]);
});

test('where a week tells too little it is due again for those of which more days would tell', () => {
  // 10 mV steps: 4 mV a week cannot be distinguished from the limit of 5 mV; 60 mV a week can.
  const coarse = selfDischarge([held(1, 0.004, [0, 7], 0.01), held(2, 0.06, [0, 7], 0.01)]);
  const judged = judge(coarse);
  expect(judged.held.map(({ says }) => says.verdict)).toEqual(['cannot-tell', 'leaks']);
  expect(judged.dueAt && judged.dueAt > day(9)).toBe(true);
  expect(codes(coarse, day(60))).toEqual(['A1-001']);
  expect(codes({ ...coarse, endedAt: day(8) }, day(60))).toEqual([]);
});

test('of a pack the group that leaks is named', () => {
  const [good, leaky] = [held(1, 0.001, [0, 7]), held(1, 0.08, [0, 7])];
  const pack: Held = {
    ...good,
    code: 'PA1',
    series: 3,
    readings: [good, leaky, good].flatMap(({ readings }, i) => readings.map((one) => ({ ...one, position: i + 1 }))),
  };
  const facts = selfDischarge([pack]);
  expect(judge(facts).held[0]).toMatchObject({ position: 2, says: { verdict: 'leaks' } });
  expect(heldOf([facts], 1, rules, bareBench)).toMatchObject({ verdict: 'leaks', position: 2, holdId: 1 });
});

test('a test that has told nothing yet does not hide what an earlier one told', () => {
  const before = selfDischarge([held(1, 0.08, [0, 7])], { id: 1, endedAt: day(8) });
  const fresh = selfDischarge([held(1, 0.08, [0])], { id: 2, beganAt: day(20) });
  expect(heldOf([fresh, before], 1, rules, bareBench)).toMatchObject({ verdict: 'leaks', holdId: 1 });
  expect(heldOf([fresh], 1, rules, bareBench)).toMatchObject({ verdict: 'cannot-tell', why: { code: 'too-short' } });
  expect(heldOf([], 1, rules, bareBench)).toBeNull();
  expect(heldOf([before], 9, rules, bareBench)).toBeNull();
});

test('read with two meters, what each may be off by counts', () => {
  const facts = selfDischarge([held(1, 0.003, [0, 7])]);
  const [one] = facts.subjects;
  const twoMeters = selfDischarge([
    { ...held(1, 0.003, [0, 7]), readings: (one?.readings ?? []).map((r, i) => ({ ...r, channel: i + 1 })) },
  ]);
  const uncertainty = (of: SelfDischargeFacts) => judge(of).held[0]?.says.drift?.u ?? NaN;
  expect(uncertainty(twoMeters)).toBeGreaterThanOrEqual(uncertainty(facts));
});

test('charged or loaded in between, the test starts again', () => {
  const used: Held = { ...held(1, 0.001, [0, 5, 15]), disturbedAt: [day(3)] };
  const low = used.readings.map((one, i) => (i === 0 ? one : { ...one, valueV: one.valueV - 0.3 }));
  expect(judge(selfDischarge([{ ...used, readings: low }])).held[0]).toMatchObject({ says: { verdict: 'holds' } });
  expect(judge(selfDischarge([{ ...used, readings: low, disturbedAt: [] }])).held[0]).not.toMatchObject({
    says: { verdict: 'holds' },
  });
  const after: Held = { ...held(1, 0.001, [0, 7]), disturbedAt: [day(9)] };
  expect(judge(selfDischarge([after])).held[0]).toMatchObject({ says: { verdict: 'holds' } });
});
