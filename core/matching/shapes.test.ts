import { refusalOf } from '@/words/impossible';
import { type Job, shapesFor } from './shapes';

const job: Job = {
  curve: null,
  chemistry: 'li-ion',
  series: { from: 7, to: 7 },
  load: { currentA: 10 },
  windowV: null,
  peakA: null,
  minutes: 40,
  energyWh: null,
  cutoffPerGroupV: 3,
  temperatureC: null,
  cell: { capacityAh: 2.2, resistanceOhm: 0.05 },
  atHand: 60,
  room: null,
};

test('the fewest in parallel that carry the load for the time, one fewer that does not, and one more', () => {
  const shapes = shapesFor(job);
  expect(shapes.map(({ series, parallel, short }) => [series, parallel, short])).toEqual([
    [7, 4, null],
    [7, 5, null],
    [7, 3, 'minutes'],
  ]);
  // 10 A for 40 min are 6.7 Ah: more than three cells of 2.2 Ah hold.
  expect(shapes[0]?.minutes).toBeGreaterThan(45);
  expect(shapes[0]?.minutes).toBeLessThan((60 * 4 * 2.2) / 10);
  expect(shapes[0]).toMatchObject({
    cells: 28,
    rateC: expect.closeTo(10 / 4 / 2.2, 6),
    nominalV: expect.closeTo(25.2, 6),
  });
  // Four cells of 2.2 Ah serve longer than is asked for: less of it is enough, and three in the hundred more.
  expect(shapes[0]?.enoughAh).toBeCloseTo((1.03 * 4 * 2.2 * 40) / (shapes[0]?.minutes ?? NaN), 9);
  // 10 A through seven groups of four of 50 mΩ.
  expect(shapes[0]?.peakSagV).toBeCloseTo((7 * 10 * 0.05) / 4, 6);
});

test('a peak may ask for more than the time does, and what is at hand for less', () => {
  const [first] = shapesFor({ ...job, peakA: 120, atHand: 200 });
  // At a fifth left a cell rests at 3.54 V: 0.54 V for 120/p A through 50 mΩ.
  expect(first?.parallel).toBe(Math.ceil((120 * 0.05) / 0.54));
  expect(shapesFor({ ...job, atHand: 27 }).every(({ short }) => short !== null)).toBe(true);
});

test('a power takes fewer amperes from more in series', () => {
  const shapes = shapesFor({ ...job, series: { from: 3, to: 7 }, load: { powerW: 200 } });
  const done = shapes.filter(({ short }) => short === null);
  expect(new Set(done.map(({ series }) => series))).toEqual(new Set([3, 4, 5, 6, 7]));
  const least = (series: number) => Math.min(...done.filter((one) => one.series === series).map((one) => one.parallel));
  expect(least(3)).toBeGreaterThan(least(7));
  expect(done.map(({ cells }) => cells)).toEqual(done.map(({ cells }) => cells).sort((a, b) => a - b));
  done.forEach(({ energyWh }) => expect(energyWh).toBeGreaterThan((200 * 40) / 60));
});

test('a load that no number of these cells carries says so; zero is refused', () => {
  expect(shapesFor({ ...job, load: { currentA: 9000 } }).every(({ short }) => short === 'minutes')).toBe(true);
  expect(refusalOf(() => shapesFor({ ...job, minutes: 0 }))).toContain('above zero');
});

test('an energy in the place of a time: the fewest that give it; of both the one that asks for more', () => {
  const [first] = shapesFor({ ...job, minutes: null, energyWh: 150 });
  expect(first?.energyWh).toBeGreaterThan(150);
  expect(first?.enoughAh).toBeCloseTo((1.03 * (first?.parallel ?? 0) * 2.2 * 150) / (first?.energyWh ?? NaN), 9);
  const shapes = shapesFor({ ...job, minutes: null, energyWh: 150 });
  expect(shapes.filter(({ short }) => short === 'energy').map(({ parallel }) => parallel)).toEqual([
    (first?.parallel ?? 0) - 1,
  ]);
  expect(shapesFor({ ...job, minutes: 40, energyWh: 400 })[0]?.parallel).toBeGreaterThan(4);
  expect(refusalOf(() => shapesFor({ ...job, minutes: null }))).toContain('Enter the minutes');
});

test('a window of volts gives the numbers in series, and where a group must end for it', () => {
  const within = shapesFor({ ...job, series: null, windowV: { low: 22, high: 29.4 } });
  // Seven full are 29.4 V; six are 21.6 V at their nominal voltage, below the window.
  expect(new Set(within.map(({ series }) => series))).toEqual(new Set([7]));
  expect(within[0]?.cutoffPerGroupV).toBeCloseTo(22 / 7, 12);
  expect(within[0]?.minutes).toBeLessThan(shapesFor(job)[0]?.minutes ?? 0);
  expect(shapesFor({ ...job, series: { from: 8, to: 8 }, windowV: { low: 22, high: 29.4 } })[0]?.short).toBe('window');
  expect(refusalOf(() => shapesFor({ ...job, series: null, windowV: { low: 22, high: 23 } }))).toContain('22 to 23 V');
});

test('in the cold a cell resists more and serves less; beyond what its kind bears it is refused', () => {
  const [warm, cold] = [shapesFor(job)[0], shapesFor({ ...job, temperatureC: 0 })[0]];
  expect(cold?.peakSagV).toBeCloseTo(2 * (warm?.peakSagV ?? NaN), 9);
  expect(cold?.minutes).toBeLessThan(warm?.minutes ?? 0);
  expect(shapesFor({ ...job, temperatureC: 35 })[0]?.minutes).toBe(warm?.minutes);
  expect(refusalOf(() => shapesFor({ ...job, temperatureC: -30 }))).toContain('-20 to 60 °C');
});

test('what there is no room for says so', () => {
  expect(shapesFor({ ...job, room: 28 })[0]).toMatchObject({ cells: 28, short: null });
  expect(shapesFor({ ...job, room: 27 }).map(({ short }) => short)).toEqual(['minutes', 'room', 'room']);
});
