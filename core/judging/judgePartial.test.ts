import { bareBench } from './equipment';
import type { PartialCharged } from './facts';
import { capacityOf, judgePartial } from './judgePartial';

const day = (n: number) => new Date(Date.UTC(2026, 2, n));
const charged = (given: Partial<PartialCharged> = {}): PartialCharged => ({
  entry: '7d0cf1a6-6d8e-4dd7-9d3a-0a6f5d1a4a11',
  takenAt: day(10),
  startVoltagesV: [3.73],
  step: 0.001,
  chargeAh: 2.291,
  chargeLimit: 0.01,
  endVoltageV: null,
  instrumentId: null,
  channel: null,
  ...given,
});
const judge = (given: Partial<PartialCharged> = {}, chemistry: 'lipo' | 'alkaline' = 'lipo') =>
  judgePartial(charged(given), { chemistry }, bareBench);
const run = (endedAt: Date, reachedCutoff: boolean) => ({ endedAt, capacityAh: 2, capacityU: 0.01, reachedCutoff });

test('2291 mAh from a rested 3.73 V to full is 2864 mAh (common practice), with where its doubt comes from', () => {
  const judged = judge();
  expect(judged?.capacityAh.value).toBeCloseTo(2.864, 3);
  expect(judged?.curveBasis).toEqual({ by: 'table' });
  // The table of the chemistry is the largest of all uncertainties; together they are the whole.
  expect(judged?.budget[0]?.input).toBe('curve');
  const whole = Math.hypot(...(judged?.budget.map(({ u }) => u) ?? []));
  expect(whole / (judged?.capacityAh.u ?? NaN)).toBeCloseTo(1, 1);
});

test('what begins near full, or is never charged, tells nothing', () => {
  expect(judge({ startVoltagesV: [4.18] })).toBeNull();
  expect(judge({}, 'alkaline')).toBeNull();
});

test('of a discharge, a partial charge and a noted capacity the newest counts; one that ended early never before them', () => {
  const partial = judge();
  const noted = { takenAt: day(5), capacityAh: 2.1, step: 0.01 };
  const by = (...given: Parameters<typeof capacityOf>) => capacityOf(...given).capacityBy;
  expect(by(run(day(9), true), partial, noted)).toBe('partial');
  expect(by(run(day(11), true), partial, noted)).toBe('discharge');
  expect(by(run(day(11), false), partial, noted)).toBe('partial');
  expect(by(run(day(11), false), null, noted)).toBe('noted');
  expect(capacityOf(run(day(11), false), null, null)).toMatchObject({
    capacityBy: 'discharge',
    capacityIsAtLeast: true,
  });
  expect(capacityOf(null, null, null)).toMatchObject({ capacity: null, capacityBy: null });
});
