import fc from 'fast-check';
import { createSegmenter, cyclesOf, type Segment, type Way } from './segments';

interface Part {
  forS: number;
  /** Voltage and current at a share of it. */
  at(fraction: number): [voltageV: number, currentA: number];
  /** As the device numbered it. */
  numbered?: { cycle?: number; step?: number };
}

function cut(parts: readonly Part[], stepS = 1, discharging: 1 | -1 = 1) {
  const segmenter = createSegmenter(null);
  let fromS = 0;
  for (const { forS, at, numbered } of parts) {
    for (let s = 0; s < forS; s += stepS) {
      const [voltageV, currentA] = at(s / forS);
      segmenter.push(fromS + s, voltageV, currentA, Math.sign(currentA) as Way, numbered);
    }
    fromS += forS;
  }
  return segmenter.finish(discharging).segments;
}

const rest = (forS: number, voltageV = 3.9): Part => ({ forS, at: () => [voltageV, 0] });
const kinds = (segments: readonly Segment[]) => segments.map(({ kind, mode }) => `${kind} ${mode}`);

test('a charge at constant current, its taper, a rest, a discharge: each with what it moved', () => {
  const segments = cut([
    { forS: 3000, at: (x) => [3.6 + 0.6 * x, -1] },
    { forS: 1500, at: (x) => [4.2, -Math.exp(-3 * x)] },
    rest(600, 4.18),
    { forS: 3600, at: (x) => [4.1 - 1.1 * x, 0.8] },
    rest(300, 3.2),
  ]);
  expect(kinds(segments)).toEqual([
    'charge constant-current',
    'charge constant-voltage',
    'rest other',
    'discharge constant-current',
    'rest other',
  ]);
  expect(segments[0]?.chargeAh).toBeCloseTo(3000 / 3600, 2);
  expect(segments[1]?.chargeAh).toBeCloseTo((500 * (1 - Math.exp(-3))) / 3600, 2);
  expect(segments[3]).toMatchObject({ chargeAh: expect.closeTo(0.8, 3), startVoltageV: 4.1, fromS: 5099.5 });
  const [cycle, ...more] = cyclesOf(segments);
  expect(more).toEqual([]);
  expect(cycle?.dischargedAh).toBeCloseTo(0.8, 3);
  expect(cycle?.chargedAh).toBeCloseTo(0.965, 2);
});

test.each<[string, Part['at']]>([
  ['discharge resistor', (x) => [4.1 - x, (4.1 - x) / 4]],
  ['discharge power', (x) => [4.1 - x, 3 / (4.1 - x)]],
  ['discharge other', (x) => [4.1 - x, 0.5 + 0.4 * Math.sin(40 * x)]],
])('%s is distinguished from a constant current', (kind, at) => {
  expect(kinds(cut([{ forS: 4000, at }]))).toEqual([kind]);
});

test('pulses are told, a step to another current is another segment, one stray sample is none', () => {
  expect(kinds(cut([rest(120), { forS: 10, at: () => [3.7, 2] }, rest(120)]))).toEqual([
    'rest other',
    'discharge pulse',
    'rest other',
  ]);
  const steps = cut([
    { forS: 600, at: (x) => [4 - x / 10, 0.2] },
    { forS: 600, at: (x) => [3.8 - x / 10, 1] },
  ]);
  expect(steps.map(({ chargeAh }) => Number(chargeAh.toFixed(3)))).toEqual([0.033, 0.167]);
  const stray = cut([{ forS: 300, at: (x) => [4 - x / 10, x === 0.5 ? 0 : 1] }]);
  expect(kinds(stray)).toEqual(['discharge constant-current']);
});

test("the device's own numbers cut where no current changes, and number the cycles", () => {
  const half = (step: number, from: number): Part => ({
    forS: 600,
    at: (x) => [from - x / 10, 1],
    numbered: { cycle: 7, step },
  });
  const again: Part = { forS: 300, at: (x) => [3.6 - x / 10, 1], numbered: { cycle: 8, step: 2 } };
  const segments = cut([half(2, 4), half(3, 3.9), again]);
  expect(segments.map(({ kind, cycle, step, fromS }) => [kind, cycle, step, fromS])).toEqual([
    ['discharge', 7, 2, 0],
    ['discharge', 7, 3, 599.5],
    ['discharge', 8, 2, 1199.5],
  ]);
  expect(cyclesOf(segments).map(({ number, dischargedAh }) => [number, dischargedAh?.toFixed(3)])).toEqual([
    [7, '0.333'],
    [8, '0.083'],
  ]);
});

test('a log that counts a discharge as negative is cut alike', () => {
  expect(kinds(cut([{ forS: 900, at: (x) => [4 - x / 10, -1] }, rest(60)], 1, -1))[0]).toBe(
    'discharge constant-current',
  );
});

test('charge adds up over any cut: the segments together are the whole', () => {
  const part = fc.record({ forS: fc.integer({ min: 2, max: 400 }), amps: fc.constantFrom(-1, -0.3, 0, 0.4, 1.5) });
  fc.assert(
    fc.property(fc.array(part, { minLength: 1, maxLength: 8 }), fc.integer({ min: 1, max: 7 }), (parts, stepS) => {
      const points: [number, number][] = [];
      let fromS = 0;
      for (const { forS, amps } of parts) {
        for (let s = 0; s < forS; s += stepS) points.push([fromS + s, amps]);
        fromS += forS;
      }
      const segmenter = createSegmenter(null);
      points.forEach(([timeS, amps]) => segmenter.push(timeS, 3.7, amps, Math.sign(amps) as Way));
      const { segments } = segmenter.finish(1);
      const whole = points.slice(1).reduce((sum, [timeS, amps], i) => {
        const [beforeS, beforeA] = points[i] as [number, number];
        return sum + ((timeS - beforeS) * (Math.abs(amps) + Math.abs(beforeA))) / 2;
      }, 0);
      expect(segments.reduce((sum, one) => sum + one.chargeAh, 0) * 3600).toBeCloseTo(whole, 6);
      expect(segments.every((one, i) => i === 0 || one.fromS === segments[i - 1]?.toS)).toBe(true);
    }),
  );
});

test('what flowed before the load shows what its column calls nothing is a rest', () => {
  const segmenter = createSegmenter(null);
  // The zero of the column is 4 mA; only beside a load of 1 A is that known to be nothing.
  for (let t = 0; t < 900; t++) {
    const isLoaded = t >= 600;
    const zeroA = t % 7 === 0 ? -0.002 : 0.004;
    const currentA = isLoaded ? 1 : zeroA;
    segmenter.push(t, isLoaded ? 3.8 : 4.1, currentA, Math.sign(currentA) as Way);
    segmenter.forgetBelow(isLoaded ? 0.02 : 0);
  }
  const { segments } = segmenter.finish(1);
  expect(kinds(segments)).toEqual(['rest other', 'discharge constant-current']);
  expect(segments[0]).toMatchObject({ fromS: 0, toS: 599.5, chargeAh: 0, endVoltageV: 4.1 });
});
