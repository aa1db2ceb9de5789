import { createPulseFinder } from './pulses';

/** A cell of 40 mΩ at once and 20 mΩ more within 5 s, read every `stepS` seconds, loaded with `amps` between two times. */
function readEdges({ stepS = 1, amps = 2, from = 20, to = 60, length = 80, driftVPerS = 0, offset = 0 } = {}) {
  const finder = createPulseFinder();
  for (let i = 0; i * stepS <= length; i++) {
    const t = i * stepS + offset;
    const on = t >= from && t < to;
    const currentA = on ? amps : 0;
    const slow = on ? 0.02 * amps * (1 - Math.exp(-(t - from) / 5)) : t >= to ? 0.02 * amps * Math.exp(-(t - to) / 5) : 0;
    finder.push(t, 3.9 + driftVPerS * t - 0.04 * currentA - slow, currentA);
  }
  return finder.finish();
}

test('both edges of a pulse are found, with the sign of the step', () => {
  expect(readEdges().map(({ atS, deltaCurrentA }) => [atS, deltaCurrentA])).toEqual([[20, 2], [60, -2]]);
});

test('the resistance grows from 1 s to 10 s as the branch relaxes, and both edges agree', () => {
  const [on, off] = readEdges();
  expect(on?.resistanceOhm['1s']).toBeCloseTo(0.04 + 0.02 * (1 - Math.exp(-1 / 5)), 6);
  expect(on?.resistanceOhm['10s']).toBeCloseTo(0.04 + 0.02 * (1 - Math.exp(-2)), 6);
  // Off after 40 s of load: what was left of the relaxation drifts on a little.
  expect(off?.resistanceOhm['10s']).toBeCloseTo(on?.resistanceOhm['10s'] ?? NaN, 3);
});

test('a pulse shorter than the horizon gives no figure there', () => {
  const [on] = readEdges({ to: 25 });
  expect(on?.resistanceOhm['1s']).toBeDefined();
  expect(on?.resistanceOhm['10s']).toBeUndefined();
});

test('a log too coarse for an edge shows none, and small ripples are no steps', () => {
  expect(readEdges({ stepS: 5 })).toEqual([]);
  expect(readEdges({ amps: 0.04 })).toEqual([]);
});

test('a reading between two samples is interpolated', () => {
  const [on] = readEdges({ stepS: 2 });
  expect(on?.atS).toBe(20);
  expect(on?.resistanceOhm['1s']).toBeCloseTo(0.04 + 0.01 * (1 - Math.exp(-2 / 5)), 6);
});

test('a fine log gives all four figures and the cell itself', () => {
  const [on] = readEdges({ stepS: 0.02 });
  expect(Object.keys(on?.resistanceOhm ?? {})).toEqual(['0.1s', '1s', '10s', '30s']);
  expect(on?.resistanceOhm['0.1s']).toBeCloseTo(0.04 + 0.02 * (1 - Math.exp(-0.02)), 4);
  expect(on?.relaxation).toMatchObject({ ohmicOhm: { value: expect.closeTo(0.04, 4) }, branches: [{ resistanceOhm: { value: expect.closeTo(0.02, 4) }, timeConstantS: { value: expect.closeTo(5, 1) } }] });
});

test('the drift before the step is taken off', () => {
  const [still] = readEdges({ stepS: 0.1 });
  const [drifting] = readEdges({ stepS: 0.1, driftVPerS: -0.0008 });
  expect(drifting?.resistanceOhm['10s']).toBeCloseTo(still?.resistanceOhm['10s'] ?? NaN, 5);
});

test('an edge that a sample caught halfway is one step', () => {
  const finder = createPulseFinder();
  const amps = [0, 0, 0, 0, 0, 0, 0.9, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2];
  amps.forEach((a, t) => finder.push(t, 3.9 - 0.05 * a, a));
  const edges = finder.finish();
  expect(edges).toHaveLength(1);
  expect(edges[0]).toMatchObject({ atS: 7, deltaCurrentA: 2, resistanceOhm: { '10s': expect.closeTo(0.05, 9) } });
});

test('noise before the step is the doubt of the figure', () => {
  const finder = createPulseFinder();
  for (let i = 0; i < 600; i++) {
    const a = i < 300 ? 0 : 2;
    finder.push(i / 10, 3.9 - 0.05 * a + (i % 2 ? 0.001 : -0.001), a);
  }
  const [on] = finder.finish();
  expect(on?.standardUncertaintyOhm['10s']).toBeGreaterThan(0);
  expect(Math.abs((on?.resistanceOhm['10s'] ?? 0) - 0.05)).toBeLessThan(3 * (on?.standardUncertaintyOhm['10s'] ?? 0) + 0.0005);
});

test('a log without a single step has none', () => {
  expect(readEdges({ amps: 0 })).toEqual([]);
});
