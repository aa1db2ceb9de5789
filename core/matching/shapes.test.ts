import { refusalOf } from '@/words/impossible';
import { type Job, shapesFor } from './shapes';

const job: Job = {
  chemistry: 'li-ion',
  series: { from: 7, to: 7 },
  load: { currentA: 10 },
  peakA: null,
  minutes: 40,
  cutoffPerGroupV: 3,
  cell: { capacityAh: 2.2, resistanceOhm: 0.05 },
  atHand: 60,
};

test('the fewest in parallel that carry it for so long, the one below that does not, and one more', () => {
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

test('a load that no number of these cells carries says so; nought is refused', () => {
  expect(shapesFor({ ...job, load: { currentA: 9000 } }).every(({ short }) => short === 'minutes')).toBe(true);
  expect(refusalOf(() => shapesFor({ ...job, minutes: 0 }))).toContain('above zero');
});
