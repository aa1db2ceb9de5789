import { ageingTrend, type AgedRun, underOneCondition } from './ageing';
import { ageingShapes } from './ageingShapes';

const overCycles = ({ cycle }: AgedRun) => cycle;
const asNew = { asNewAh: 2, origin: 0 };
const faded = (cycles: number[], perCycle: number, scatter: number[] = []): AgedRun[] =>
  cycles.map((cycle, i) => ({ cycle, capacityAh: 2 * (1 - perCycle * cycle + (scatter[i] ?? 0)) }));

test('an even fade crosses where it must, with an interval around it', () => {
  const runs = faded([10, 60, 110, 160, 210], 0.0008, [0.002, -0.003, 0.001, 0.002, -0.002]);
  const trend = ageingTrend(runs, overCycles, asNew);
  expect(trend?.slope.value).toBeCloseTo(-0.0008, 4);
  expect(trend?.healthNow.value).toBeCloseTo(1 - 0.0008 * 210, 2);
  const [eighty, seventy] = trend?.crossings ?? [];
  expect(eighty?.at).toBeCloseTo(250, -1);
  // A knee may still come: the median of all curves crosses a little before the straight one.
  expect(seventy && seventy.at > 345 && seventy.at < 380).toBe(true);
  for (const crossing of [eighty, seventy])
    expect(crossing && crossing.from95 < crossing.at && crossing.at < (crossing.to95 ?? Infinity)).toBe(true);
  expect(trend?.beyond).toBeCloseTo((375 - 210) / 200, 0);
});

test('what does not fade as far as is known crosses nowhere', () => {
  const level = faded([10, 60, 110, 160], 0, [0.01, -0.012, 0.008, -0.004]);
  expect(ageingTrend(level, overCycles, asNew)?.crossings).toEqual([]);
});

test('two runs tell a trend only where their doubt is known; all at one place tell none', () => {
  const two = faded([0, 100], 0.001);
  expect(ageingTrend(two, overCycles, asNew)).toBeNull();
  const known = two.map((run) => ({ ...run, u: 0.004 }));
  expect(ageingTrend(known, overCycles, asNew)?.crossings[0]).toMatchObject({
    at: expect.closeTo(180, -1.4),
    from95: expect.closeTo(125, -1.7),
  });
  expect(ageingTrend(faded([5, 5, 5, 5], 0.001), overCycles, asNew)).toBeNull();
});

test.each([
  ['rate', (i: number) => ({ rateC: i === 2 ? 1 : 0.2 })],
  ['temperature', (i: number) => ({ rateC: 0.2, temperatureC: i === 2 ? 5 : 22 + i })],
  ['end voltage', (i: number) => ({ endV: i === 2 ? 2.5 : 3 })],
  ['rate, one unknown', (i: number) => (i === 2 ? {} : { rateC: 0.2 })],
])('tests at another %s are another trend', (_, condition) => {
  const runs = faded([0, 50, 100, 150], 0.001).map((run, i) => ({ ...run, ...condition(i) }));
  expect(underOneCondition(runs).map(({ cycle }) => cycle)).toEqual([0, 50, 150]);
  expect(underOneCondition(faded([0, 50], 0.001))).toHaveLength(2);
});

/** Health falls by the square root of the cycles, or by their third power. */
const bent = (power: number): AgedRun[] =>
  [20, 70, 120, 170, 220, 270, 320, 370].map((cycle) => ({
    cycle,
    capacityAh: 2 * (1 - 0.17 * (cycle / 370) ** power),
  }));

test.each([
  ['slows-down', 0.5],
  ['speeds-up', 3],
] as const)('a fade that %s is named, and crosses where its own curve does', (bend, power) => {
  const trend = ageingTrend(bent(power), overCycles, asNew);
  expect(trend?.bend).toBe(bend);
  const [eighty] = trend?.crossings ?? [];
  const truth = 370 * (0.2 / 0.17) ** (1 / power);
  expect(eighty && eighty.from95 <= truth && truth <= (eighty.to95 ?? Infinity)).toBe(true);
});

test('before a knee shows, the interval already leaves room for one', () => {
  const runs = faded([0, 60, 120, 180, 240], 0.0004, [0.002, -0.003, 0.001, 0.002, -0.002]);
  const [eighty] = ageingTrend(runs, overCycles, asNew)?.crossings ?? [];
  // Straight on it would cross after 500; three times as fast from here on, after 327.
  expect(eighty?.from95).toBeLessThan(340);
  expect(eighty?.at).toBeGreaterThan(400);
});

test('every shape runs from 0 at the first run to 1 at the last, and finds its way back', () => {
  const shapes = ageingShapes({ origin: 0, first: 40, last: 300 });
  expect(shapes.reduce((sum, { prior }) => sum + prior, 0)).toBeCloseTo(1, 9);
  for (const { at, where } of shapes) {
    expect([at(40), at(300)]).toEqual([expect.closeTo(0, 9), expect.closeTo(1, 9)]);
    for (const x of [60, 200, 500, 1500]) expect(where(at(x))).toBeCloseTo(x, 6);
  }
});

test('the usable end is 80 % and 70 % of as-new (common practice)', () => {
  const runs = faded([0, 100, 200, 300], 0.001);
  expect(ageingTrend(runs, overCycles, asNew)?.crossings.map(({ health, at }) => [health, Math.round(at)])).toEqual([
    [0.8, 200],
    [0.7, 300],
  ]);
});

test('two discharges within an hour show no trend over time yet; a month apart they do, at any date', () => {
  const now = Date.UTC(2026, 4, 1) / 1000;
  const runs = (apartS: number): AgedRun[] =>
    [0, 1].map((i) => ({ atS: now + i * apartS, capacityAh: 2 - 0.02 * i, u: 0.005 }));
  expect(ageingTrend(runs(3000), ({ atS }) => atS, { asNewAh: 2, leastSpan: 7 * 86_400 })).toBeNull();
  const trend = ageingTrend(runs(30 * 86_400), ({ atS }) => atS, { asNewAh: 2, leastSpan: 7 * 86_400 });
  expect(trend?.healthNow.value).toBeCloseTo(0.99, 3);
  // At a hundredth a month 80 % lies 600 days off, with two readings anything from a few months on.
  const days = (at: number | null | undefined): number => ((at ?? NaN) - now) / 86_400;
  const [eighty] = trend?.crossings ?? [];
  expect(eighty && days(eighty.from95) < 300 && days(eighty.at) > 300 && days(eighty.at) < 900).toBe(true);
});
