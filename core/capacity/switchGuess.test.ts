import { createDischargeMeter } from './discharge';
import type { Sample } from './logReader';
import { createSwitchGuess } from './switchGuess';

const sample = (timeS: number, voltageV: number): Sample => ({ timeS, voltageV, currentA: null, temperatureC: null });

/** A log of one second steps: at rest, under a load of 1 A from `on` to `off`, at rest again; 60 mΩ, falling by 0.1 mV a second. */
const logged = (on: number, off: number, length: number, noiseV = 0): Sample[] =>
  Array.from({ length }, (_, t) => sample(t, 3.9 - t / 10_000 - (t >= on && t < off ? 0.06 : 0) + (t % 2 ? noiseV : -noiseV)));

const levels = (samples: Sample[], seriesCells = 1, loadA = 1) => {
  const guess = createSwitchGuess(seriesCells);
  return samples.map((one) => guess.currentA(one, loadA));
};

test('a drop is the load going on, a rise is it going off; only steps mean something', () => {
  const seen = levels(logged(20, 50, 80));
  expect((seen[20] ?? 0) - (seen[19] ?? 0)).toBe(1);
  expect((seen[50] ?? 0) - (seen[49] ?? 0)).toBe(-1);
  expect(new Set(seen).size).toBe(2);
});

test.each([
  ['noise of a coarse logger', logged(999, 999, 120, 0.005)],
  ['a steady fall', logged(999, 999, 120)],
  ['a knee that grows step by step', Array.from({ length: 60 }, (_, t) => sample(t, 3.4 - 0.0002 * t ** 1.6))],
  ['a jump over a gap', [...logged(999, 999, 30), sample(200, 3.6), sample(201, 3.6)]],
])('%s is no switching', (_, samples) => {
  expect(new Set(levels(samples)).size).toBe(1);
});

test('what counts as a jump grows with the cells in series', () => {
  const stack = logged(20, 50, 80).map((one) => sample(one.timeS, one.voltageV * 2));
  expect(new Set(levels(stack, 2)).size).toBe(2);
  expect(new Set(levels(stack, 10)).size).toBe(1);
});

test('a log of voltage alone with a known current shows the resistance of its first load', () => {
  const meter = createDischargeMeter({ load: { kind: 'current', currentA: 1 } });
  logged(20, 500, 500).forEach(meter.push);
  const { edges } = meter.finish(0.001);
  expect(edges).toHaveLength(1);
  expect(edges[0]).toMatchObject({ atS: 20, deltaCurrentA: 1 });
  expect(edges[0]?.resistanceOhm['10s']).toBeCloseTo(0.06, 3);
});

test('a milliampere shown at rest does not turn the sign of a discharge', () => {
  const meter = createDischargeMeter({ load: { kind: 'column' } });
  logged(20, 60, 60).forEach((one) => meter.push({ ...one, currentA: one.timeS < 20 ? -0.001 : 1 }));
  const { capacityAh, warnings } = meter.finish(0.001);
  expect(capacityAh.value).toBeCloseTo(39 / 3600, 3);
  expect(warnings.map((warning) => warning.code)).not.toContain('current-negated');
});
