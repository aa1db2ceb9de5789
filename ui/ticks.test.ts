import fc from 'fast-check';
import { ticksOver, tickText, ticksWithin } from './ticks';

test('ticks are round, enclose the range and are eight steps at most', () => {
  expect(ticksOver(2.78, 4.19, [0.1, 0.2, 0.5]).map((tick) => Number(tick.toFixed(6)))).toEqual([
    2.6, 2.8, 3, 3.2, 3.4, 3.6, 3.8, 4, 4.2,
  ]);
  expect(ticksOver(0, 7000, [600, 1800, 3600])).toEqual([0, 1800, 3600, 5400, 7200]);
});

test('a range beyond every step is cut in eight', () => {
  expect(ticksOver(0, 80, [1])).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80]);
});

test('ticks within a range are inside it, eight at most, and evenly apart', () => {
  expect(ticksWithin(3.681, 3.702, [0.001, 0.002, 0.005]).map((tick) => Number(tick.toFixed(6)))).toEqual([
    3.685, 3.69, 3.695, 3.7,
  ]);
  fc.assert(
    fc.property(
      fc.double({ min: -10, max: 10, noNaN: true }),
      fc.double({ min: 0.01, max: 40, noNaN: true }),
      (low, width) => {
        const ticks = ticksWithin(low, low + width, [0.01, 0.1, 1, 5]);
        expect(ticks.length).toBeLessThanOrEqual(8);
        for (const tick of ticks) expect(tick > low - 1e-6 && tick < low + width + 1e-6).toBe(true);
        const gaps = ticks.slice(1).map((tick, i) => tick - (ticks[i] as number));
        for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0] as number, 9);
      },
    ),
    { seed: 7 },
  );
});

test('an axis shows sums of steps without stray digits, and a minus sign', () => {
  expect(ticksOver(-0.35, 0.35, [0.1]).map(tickText)).toEqual([
    '−0.4',
    '−0.3',
    '−0.2',
    '−0.1',
    '0',
    '0.1',
    '0.2',
    '0.3',
    '0.4',
  ]);
});
