import { createEdgeFinder } from './loadEdges';

/** A cell of 40 mΩ at once and 20 mΩ more within 5 s, read every `stepS` seconds, loaded with `amps` between two times. */
function readEdges({ stepS = 1, amps = 2, from = 20, to = 60, length = 80 } = {}) {
  const finder = createEdgeFinder();
  let before: number | null = null;
  for (let t = 0; t <= length; t += stepS) {
    const on = t >= from && t < to;
    const currentA = on ? amps : 0;
    const slow = on ? 0.02 * amps * (1 - Math.exp(-(t - from) / 5)) : t >= to ? 0.02 * amps * Math.exp(-(t - to) / 5) : 0;
    finder.push({ timeS: t, voltageV: 3.9 - 0.04 * currentA - slow, currentA, temperatureC: null }, currentA, before);
    before = currentA;
  }
  return finder.edges();
}

test('both edges of a pulse are found, with the sign of the step', () => {
  expect(readEdges().map(({ atS, deltaCurrentA }) => [atS, deltaCurrentA])).toEqual([[20, 2], [60, -2]]);
});

test('the resistance grows from 1 s to 10 s as the branch relaxes, and both edges agree', () => {
  const [on, off] = readEdges();
  expect(on?.resistanceOhm['1s']).toBeCloseTo(0.04 + 0.02 * (1 - Math.exp(-1 / 5)), 6);
  expect(on?.resistanceOhm['10s']).toBeCloseTo(0.04 + 0.02 * (1 - Math.exp(-2)), 6);
  expect(off?.resistanceOhm['10s']).toBeCloseTo(on?.resistanceOhm['10s'] ?? NaN, 4);
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
