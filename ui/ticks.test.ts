import { ticksOver } from './ticks';

test('ticks are round, enclose the range and are eight steps at most', () => {
  expect(ticksOver(2.78, 4.19, [0.1, 0.2, 0.5]).map((tick) => Number(tick.toFixed(6)))).toEqual([2.6, 2.8, 3, 3.2, 3.4, 3.6, 3.8, 4, 4.2]);
  expect(ticksOver(0, 7000, [600, 1800, 3600])).toEqual([0, 1800, 3600, 5400, 7200]);
});

test('a range beyond every step is cut in eight', () => {
  expect(ticksOver(0, 80, [1])).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80]);
});
