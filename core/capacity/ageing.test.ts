import { ageingTrend, type AgedRun, atOneRate } from './ageing';

const overCycles = ({ cycle }: AgedRun) => cycle;
const faded = (cycles: number[], perCycle: number, scatter: number[] = []): AgedRun[] =>
  cycles.map((cycle, i) => ({ cycle, capacityAh: 2 * (1 - perCycle * cycle + (scatter[i] ?? 0)) }));

test('an even fade crosses where it must, with an interval around it', () => {
  const runs = faded([10, 60, 110, 160, 210], 0.0008, [0.002, -0.003, 0.001, 0.002, -0.002]);
  const trend = ageingTrend(runs, overCycles, 2);
  expect(trend?.slope.value).toBeCloseTo(-0.0008, 4);
  expect(trend?.healthNow.value).toBeCloseTo(1 - 0.0008 * 210, 2);
  const [eighty, seventy] = trend?.crossings ?? [];
  expect(eighty?.at).toBeCloseTo(250, -1);
  expect(seventy?.at).toBeCloseTo(375, -1.2);
  for (const crossing of [eighty, seventy])
    expect(crossing && crossing.from95 < crossing.at && crossing.at < (crossing.to95 ?? Infinity)).toBe(true);
  expect(trend?.beyond).toBeCloseTo((375 - 210) / 200, 0);
});

test('what does not fade as far as is known crosses nowhere', () => {
  const level = faded([10, 60, 110, 160], 0, [0.01, -0.012, 0.008, -0.004]);
  expect(ageingTrend(level, overCycles, 2)?.crossings).toEqual([]);
});

test('two runs tell a trend only where their doubt is known; all at one place tell none', () => {
  const two = faded([0, 100], 0.001);
  expect(ageingTrend(two, overCycles, 2)).toBeNull();
  const known = two.map((run) => ({ ...run, u: 0.004 }));
  expect(ageingTrend(known, overCycles, 2)?.crossings[0]).toMatchObject({ at: expect.closeTo(200, 6) });
  expect(ageingTrend(faded([5, 5, 5, 5], 0.001), overCycles, 2)).toBeNull();
});

test('runs are compared at the rate that most share', () => {
  const runs = faded([0, 50, 100, 150], 0.001).map((run, i) => ({ ...run, rateC: i === 2 ? 1 : 0.2 }));
  expect(atOneRate(runs).map(({ cycle }) => cycle)).toEqual([0, 50, 150]);
  expect(atOneRate(faded([0, 50], 0.001))).toHaveLength(2);
});

test('the usable end is 80 % and 70 % of as-new (common practice)', () => {
  const runs = faded([0, 100, 200, 300], 0.001);
  expect(ageingTrend(runs, overCycles, 2)?.crossings.map(({ health, at }) => [health, Math.round(at)])).toEqual([
    [0.8, 200],
    [0.7, 300],
  ]);
});

test('two discharges within an hour show no trend over time yet; a month apart they do, at any date', () => {
  const now = Date.UTC(2026, 4, 1) / 1000;
  const runs = (apartS: number): AgedRun[] =>
    [0, 1].map((i) => ({ atS: now + i * apartS, capacityAh: 2 - 0.02 * i, u: 0.005 }));
  expect(ageingTrend(runs(3000), ({ atS }) => atS, 2, 7 * 86_400)).toBeNull();
  const trend = ageingTrend(runs(30 * 86_400), ({ atS }) => atS, 2, 7 * 86_400);
  expect(trend?.healthNow.value).toBeCloseTo(0.99, 6);
  // From full to 80 % at a hundredth a month.
  expect(((trend?.crossings[0]?.at ?? NaN) - now) / 86_400).toBeCloseTo(600, 3);
});
