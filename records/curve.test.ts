import fc from 'fast-check';
import { reducedCurve } from './curve';
import type { Sample } from '@/core/capacity/logReader';

const sampleOf = (timeS: number, voltageV: number, currentA: number | null = null): Sample => ({
  timeS,
  voltageV,
  currentA,
  temperatureC: null,
});

test('of a stretch its ends stay and whatever stands highest or lowest, in the order of time', () => {
  const currents = [1, 1, 1, -1, 1, 9, 1];
  const samples = [4, 3.9, 4.2, 3.9, 3.1, 3.5, 3.6].map((v, i) => sampleOf(i, v, currents[i]));
  expect(reducedCurve(samples, 1).map(({ timeS }) => timeS)).toEqual([0, 2, 3, 4, 5, 6]);
});

test('a spike of one group is not lost in the whole', () => {
  const samples = [1, 2, 3, 4, 5].map((timeS) => ({
    ...sampleOf(timeS, 8),
    groupsV: timeS === 3 ? [4.5, 3.5] : [4, 4],
  }));
  expect(reducedCurve(samples, 1).map(({ timeS }) => timeS)).toContain(3);
});

const logs = fc
  .array(fc.tuple(fc.double({ min: 0.01, max: 100, noNaN: true }), fc.double({ min: 2, max: 5, noNaN: true })), {
    minLength: 1,
    maxLength: 400,
  })
  .map((steps) => {
    let timeS = 0;
    return steps.map(([stepS, v]) => sampleOf((timeS += stepS), v));
  });

test('a reduced curve keeps the order, invents nothing, keeps every extreme and stays small', () => {
  fc.assert(
    fc.property(logs, fc.integer({ min: 1, max: 20 }), (samples, stretches) => {
      const few = reducedCurve(samples, stretches);
      expect(few.every((one) => samples.includes(one))).toBe(true);
      expect(few.every((one, i) => i === 0 || one.timeS > (few[i - 1] as Sample).timeS)).toBe(true);
      const [of, all] = [few, samples].map((them) => them.map(({ voltageV }) => voltageV)) as [number[], number[]];
      expect([Math.min(...of), Math.max(...of)]).toEqual([Math.min(...all), Math.max(...all)]);
      expect([few[0], few.at(-1)]).toEqual([samples[0], samples.at(-1)]);
      expect(few.length).toBeLessThanOrEqual(Math.max(2 * stretches, 4 * (stretches + 1)));
    }),
  );
});
