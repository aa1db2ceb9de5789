import { selfDischargeTest, type SelfDischargeSubject } from './drift';

const week = 7 * 86_400;
const limits = { lithiumVPerDay: 0.005 / 7, oddBeyond: 3.5 };
const held = (id: string, perWeekV: number, weeks = 1, u = 0.0005): SelfDischargeSubject => ({
  id,
  readings: Array.from({ length: weeks + 1 }, (_, i) => ({ atS: i * week, voltageV: 4.15 - perWeekV * i, u })),
});
const verdicts = (subjects: SelfDischargeSubject[], chemistry: 'li-ion' | 'nimh' = 'li-ion') =>
  selfDischargeTest(subjects, chemistry, limits).map(({ verdict, why }) => `${verdict} ${why.code}`);

test('a healthy lithium cell moves a few millivolts a week (common practice); one that loses 60 mV leaks', () => {
  expect(verdicts([held('a', 0.002), held('b', 0.06)])).toEqual(['holds within-limit', 'leaks falls-fast']);
  const [, leaky] = selfDischargeTest([held('a', 0.002), held('b', 0.06)], 'li-ion', limits);
  expect(leaky?.drift?.value).toBeCloseTo(-0.06 / 7, 9);
  // Two readings of 0.5 mV, a week apart.
  expect(leaky?.drift?.u).toBeCloseTo((0.0005 * Math.SQRT2) / 7, 9);
});

test('an outlier leaks, also within the limit; nickel is judged only against its batch', () => {
  const population = [0.001, 0.0012, 0.0011, 0.0009, 0.001, 0.0011].map((v, i) => held(`c${i}`, v, 1, 0.0001));
  const [odd, ...others] = verdicts([held('odd', 0.0045, 1, 0.0001), ...population]);
  expect([odd, ...new Set(others)]).toEqual(['leaks out-of-crowd', 'holds within-limit']);
  const nickel = [0.03, 0.031, 0.029, 0.032, 0.03, 0.12].map((v, i) => held(`n${i}`, v));
  expect(verdicts(nickel, 'nimh').at(-1)).toBe('leaks out-of-crowd');
  expect(verdicts(nickel, 'nimh')[0]).toBe('holds with-crowd');
  expect(verdicts(nickel.slice(0, 3), 'nimh')[0]).toBe('cannot-tell no-crowd');
});

test('a coarse meter, a day, a single reading: no verdict yet, with the days that it takes', () => {
  expect(verdicts([held('a', 0.004, 1, 0.003)])).toEqual(['cannot-tell not-yet']);
  const [told] = selfDischargeTest([held('a', 0.004, 1, 0.003)], 'li-ion', limits);
  expect(told?.why.code === 'not-yet' && told.why.days).toBeGreaterThan(14);
  expect(verdicts([{ id: 'a', readings: [{ atS: 0, voltageV: 4.1, u: 0.0005 }] }])).toEqual(['cannot-tell too-short']);
  const near = [0, 3600].map((atS) => ({ atS, voltageV: 4.1, u: 0.0005 }));
  expect(verdicts([{ id: 'a', readings: near }])).toEqual(['cannot-tell too-short']);
});

test('a voltage that rises was not settled', () => {
  expect(verdicts([held('a', -0.03)])).toEqual(['cannot-tell rose']);
});

test('more readings tell more', () => {
  const [two, five] = [1, 4].map(
    (weeks) => selfDischargeTest([held('a', 0.003, weeks, 0.001)], 'li-ion', limits)[0]?.drift?.u ?? NaN,
  );
  expect(five).toBeLessThan((two ?? NaN) / 4);
});

test('readings soon after a charge: settled ones count alone, else what is still to come is in the doubt', () => {
  // It settles by 9 mV within the first day, then holds.
  const readings = [0.5 / 24, 1.2, 7, 14].map((day, i) => ({
    atS: day * 86_400,
    voltageV: 4.15 + (i === 0 ? 0.009 : 0) - 0.0002 * day,
    u: 0.0005,
  }));
  const judged = (of: typeof readings, chargedAtS: number | null) =>
    selfDischargeTest([{ id: 'a', readings: of, chargedAtS }], 'li-ion', limits)[0];
  expect(judged([readings[0], readings[2]] as typeof readings, null)?.verdict).toBe('leaks');
  expect(judged([readings[0], readings[2]] as typeof readings, 0)?.verdict).toBe('cannot-tell');
  expect(judged(readings, 0)).toMatchObject({ verdict: 'holds', drift: { value: expect.closeTo(-0.0002, 6) } });
});

test('a batch that falls alike beyond the limit has not settled; the one among them that falls faster leaks', () => {
  const batch = [0.012, 0.0125, 0.0118, 0.0121, 0.0123].map((v, i) => held(`c${i}`, v));
  const [odd, ...others] = verdicts([held('odd', 0.04), ...batch]);
  expect([odd, ...new Set(others)]).toEqual(['leaks out-of-crowd', 'cannot-tell settling']);
});

test('on a flat part of the curve a small fall is a large loss; where none would show, it is tested full', () => {
  const at = (voltageV: number, perWeekV: number, chemistry: 'lfp' | 'lipo', u = 0.0005) =>
    selfDischargeTest(
      [{ id: 'a', readings: [0, 1, 2].map((i) => ({ atS: i * week, voltageV: voltageV - perWeekV * i, u })) }],
      chemistry,
      limits,
    )[0];
  expect(at(3.29, 0.001, 'lfp', 0.003)).toMatchObject({ verdict: 'cannot-tell', why: { code: 'flat' } });
  // A coarse meter on a steep part is not the curve's fault.
  expect(at(4.1, 0.004, 'lipo', 0.05)?.why.code).toBe('not-yet');
  expect(at(3.29, 0.02, 'lfp')?.verdict).toBe('leaks');
  expect(at(4.15, 0.002, 'lipo')?.verdict).toBe('holds');
});
