import { createPulseFinder, mostEdges, type PulseTools } from './pulses';

/** Perfect tools. */
const tools: PulseTools = { way: 1, voltageDigitV: 1e-9, voltageRelativeU: 0, currentRelativeU: 0, currentDigitA: 0 };

/**
 * A cell of 40 mΩ at once and 20 mΩ more within 5 s, read every `stepS` seconds, loaded with `amps` between two times.
 */
function readEdges({ stepS = 1, amps = 2, from = 20, to = 60, length = 80, driftVPerS = 0, offset = 0 } = {}) {
  const finder = createPulseFinder();
  const slowFraction = (t: number): number => {
    if (t < from) return 0;
    return t < to ? 1 - Math.exp(-(t - from) / 5) : Math.exp(-(t - to) / 5);
  };
  for (let i = 0; i * stepS <= length; i++) {
    const t = i * stepS + offset;
    const on = t >= from && t < to;
    const currentA = on ? amps : 0;
    finder.push(t, 3.9 + driftVPerS * t - 0.04 * currentA - 0.02 * amps * slowFraction(t), currentA);
  }
  return finder.finish(tools);
}

test('both edges of a pulse are found, with the sign of the step', () => {
  expect(readEdges().map(({ atS, deltaCurrentA }) => [atS, deltaCurrentA])).toEqual([
    [20, 2],
    [60, -2],
  ]);
});

const within = (
  edge: ReturnType<typeof readEdges>[number] | undefined,
  horizon: '0.1s' | '1s' | '10s',
  truth: number,
) =>
  expect(Math.abs((edge?.resistanceOhm[horizon] ?? NaN) - truth)).toBeLessThan(
    2 * (edge?.standardUncertaintyOhm[horizon] ?? 0) + 1e-9,
  );

test('the resistance grows from 1 s to 10 s as the branch relaxes, and both edges agree', () => {
  // The step lies anywhere between two samples: here it is halfway.
  const [on, off] = readEdges({ from: 19.5, to: 59.5 });
  within(on, '1s', 0.04 + 0.02 * (1 - Math.exp(-1 / 5)));
  within(on, '10s', 0.04 + 0.02 * (1 - Math.exp(-2)));
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
  const [on] = readEdges({ stepS: 2, from: 19 });
  expect(on?.atS).toBe(20);
  within(on, '1s', 0.04 + 0.02 * (1 - Math.exp(-1 / 5)));
});

test('a fine log gives all four figures and the cell itself', () => {
  const [on] = readEdges({ stepS: 0.02 });
  expect(Object.keys(on?.resistanceOhm ?? {})).toEqual(['0.1s', '1s', '10s', '30s']);
  within(on, '0.1s', 0.04 + 0.02 * (1 - Math.exp(-0.02)));
  expect(on?.relaxation?.ohmicOhm?.value).toBeCloseTo(0.04, 3);
});

test('the drift before the step is taken off', () => {
  const [still] = readEdges({ stepS: 0.1 });
  const [drifting] = readEdges({ stepS: 0.1, driftVPerS: -0.0008 });
  // 8 mV in 10 s would be 4 mΩ; whether the drift slows down is uncertainty.
  within(drifting, '10s', still?.resistanceOhm['10s'] ?? NaN);
  expect(Math.abs((drifting?.resistanceOhm['10s'] ?? 0) - (still?.resistanceOhm['10s'] ?? 0))).toBeLessThan(0.0012);
});

test('a pulse of exactly 10 s gives its 10 s figure, the value just before the next edge', () => {
  const [on] = readEdges({ from: 19.5, to: 29.5 });
  within(on, '10s', 0.04 + 0.02 * (1 - Math.exp(-2)));
  expect(on?.resistanceOhm['10s']).toBeDefined();
  within(readEdges({ from: 19.95, to: 29.95, stepS: 0.1 })[0], '10s', 0.04 + 0.02 * (1 - Math.exp(-2)));
});

test('the step is not taken late: at 1 s in a 1 s log there is no bias over where it lies', () => {
  const places = Array.from(
    { length: 10 },
    (_, i) => readEdges({ from: 19.05 + i / 10, to: 59 })[0]?.resistanceOhm['1s'] ?? NaN,
  );
  const mean = places.reduce((sum, ohm) => sum + ohm, 0) / places.length;
  expect(mean / (0.04 + 0.02 * (1 - Math.exp(-1 / 5)))).toBeCloseTo(1, 2);
});

test('what goes on after an earlier load is carried on as it slows down, or left out where it would swamp the figure', () => {
  const [, off] = readEdges({ from: 19.5, to: 31.5 });
  within(off, '1s', 0.04 + 0.02 * (1 - Math.exp(-1 / 5)));
  const slow = createPulseFinder();
  // Still rising by 10 mV/s from what went before, when a load of 0.2 A comes on.
  for (let t = 0; t < 60; t++)
    slow.push(t, 3.5 + 0.01 * Math.min(t, 20 + t / 5) - (t >= 12 ? 0.01 : 0), t >= 12 ? 0.2 : 0);
  const [edge] = slow.finish(tools);
  expect(edge?.unsettled).toContain('10s');
  expect(edge?.resistanceOhm['10s']).toBeUndefined();
});

test('digits and few samples are doubt: never a figure that claims to be exact', () => {
  const [on] = (() => {
    const finder = createPulseFinder();
    [0, 0, 0, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2].forEach((a, t) =>
      finder.push(t, Math.round((3.9 - 0.05 * a) * 100) / 100, a),
    );
    return finder.finish({ ...tools, voltageDigitV: 0.01 });
  })();
  expect(on?.standardUncertaintyOhm['10s']).toBeGreaterThan(Math.SQRT2 * (0.01 / Math.sqrt(12) / 2) * 0.99);
});

test('digits and accuracy of the current are in the doubt', () => {
  const finder = (digit: number, fraction: number) => {
    const one = createPulseFinder();
    for (let t = 0; t < 40; t++) one.push(t, 3.9 - (t >= 20 ? 0.05 : 0), t >= 20 ? 1 : 0);
    return (
      one.finish({ ...tools, currentDigitA: digit, currentRelativeU: fraction })[0]?.standardUncertaintyOhm['10s'] ?? 0
    );
  };
  expect(finder(0.1, 0)).toBeCloseTo((1.15 * 0.05 * Math.SQRT2 * 0.1) / Math.sqrt(12), 4);
  expect(finder(0, 0.02)).toBeCloseTo(0.001, 6);
});

test('a current that falls under a resistor is followed', () => {
  const finder = createPulseFinder();
  for (let t = 0; t < 60; t++) {
    const amps = t < 20 ? 0 : 2 - 0.01 * (t - 20);
    finder.push(t, 3.9 - 0.05 * amps, amps);
  }
  const [on] = finder.finish(tools);
  expect(Math.abs((on?.resistanceOhm['30s'] ?? 0) - 0.05)).toBeLessThan(2 * (on?.standardUncertaintyOhm['30s'] ?? 0));
});

test('coarse digits alone make no step', () => {
  const finder = createPulseFinder();
  for (let t = 0; t < 300; t++) finder.push(t, 3.9 - 0.02 * (Math.floor(t / 7) % 2), 0.1 * (Math.floor(t / 5) % 2));
  expect(finder.finish({ ...tools, voltageDigitV: 0.02, currentDigitA: 0.1 })).toEqual([]);
});

test('an edge that a sample caught halfway is one step', () => {
  const finder = createPulseFinder();
  const amps = [0, 0, 0, 0, 0, 0, 0.9, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2];
  amps.forEach((a, t) => finder.push(t, 3.9 - 0.05 * a, a));
  const edges = finder.finish(tools);
  expect(edges).toHaveLength(1);
  expect(edges[0]).toMatchObject({ atS: 7, deltaCurrentA: 2, resistanceOhm: { '10s': expect.closeTo(0.05, 9) } });
});

test('noise before the step is the doubt of the figure', () => {
  const finder = createPulseFinder();
  for (let i = 0; i < 600; i++) {
    const a = i < 300 ? 0 : 2;
    finder.push(i / 10, 3.9 - 0.05 * a + (i % 2 ? 0.001 : -0.001), a);
  }
  const [on] = finder.finish(tools);
  expect(on?.standardUncertaintyOhm['10s']).toBeGreaterThan(0);
  expect(Math.abs((on?.resistanceOhm['10s'] ?? 0) - 0.05)).toBeLessThan(
    3 * (on?.standardUncertaintyOhm['10s'] ?? 0) + 0.0005,
  );
});

test('a log without a single step has none', () => {
  expect(readEdges({ amps: 0 })).toEqual([]);
});

test('steps beyond those that are evaluated are counted, not passed over in silence', () => {
  const finder = createPulseFinder();
  for (let t = 0; t < 2100; t++) finder.push(t, 3.9 - (t % 20 >= 10 ? 0.05 : 0), t % 20 >= 10 ? 1 : 0);
  expect(finder.finish(tools)).toHaveLength(mostEdges);
  expect(finder.beyond()).toBe(209 - mostEdges);
});
