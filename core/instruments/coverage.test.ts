import { seededChance } from '../statistics/random';
import { calibrate, corrected, errorInterval } from './calibration';
import { consensusOf, differenceFrom } from './consensus';

/** Simulated benches, many times over: what is stated as uncertainty must hold as often as it says. */
const benches = 400;
const chance = seededChance(77);

test('of benches without a bad instrument about one in twenty loses a good one (chi-square at 95 %)', () => {
  let lost = 0;
  for (let n = 0; n < benches; n++) {
    const found = consensusOf(
      Array.from({ length: 6 }, (_, i) => ({
        of: `m${i}`,
        instrument: `m${i}`,
        reading: { value: 3.7 + chance.normal(0, 0.002), u: 0.002 },
      })),
    );
    if (found.kind !== 'agreed' || found.apart.length > 0) lost += 1;
  }
  expect(lost / benches).toBeLessThan(0.09);
  expect(lost / benches).toBeGreaterThan(0.015);
});

test('the reference lies within two of its uncertainties of the truth in nineteen of twenty benches', () => {
  let held = 0;
  for (let n = 0; n < benches; n++) {
    const found = consensusOf([
      ...[0.001, 0.002, 0.002, 0.003, 0.004].map((u, i) => ({
        of: `m${i}`,
        instrument: `m${i}`,
        reading: { value: 3.7 + chance.normal(0, u), u },
      })),
      { of: 'bad', instrument: 'bad', reading: { value: 3.64, u: 0.002 } },
    ]);
    if (found.kind === 'agreed' && Math.abs(found.reference.value - 3.7) < 2 * found.reference.u) held += 1;
  }
  expect(held / benches).toBeGreaterThan(0.91);
});

test('a member differs from its own reference by less than its doubt says alone', () => {
  const squares: number[] = [];
  for (let n = 0; n < benches; n++) {
    const opinions = Array.from({ length: 5 }, (_, i) => ({
      of: `m${i}`,
      instrument: `m${i}`,
      reading: { value: 3.7 + chance.normal(0, 0.002), u: 0.002 },
    }));
    const found = consensusOf(opinions);
    if (found.kind !== 'agreed' || found.apart.length > 0) continue;
    const [first] = opinions;
    if (!first) throw new Error('no opinion');
    const difference = differenceFrom(found.reference, first.reading, true);
    squares.push((difference.value / difference.u) ** 2);
  }
  const mean = squares.reduce((a, b) => a + b, 0) / squares.length;
  expect(mean).toBeGreaterThan(0.7);
  expect(mean).toBeLessThan(1.2);
});

test('a corrected reading holds the truth also where the reference is off by the same at every level', () => {
  let [truths, corrections] = [0, 0];
  for (let n = 0; n < benches; n++) {
    const referenceError = chance.normal(0, 0.001);
    const show = (trueV: number) => trueV - 0.03 + chance.normal(0, 0.0003);
    const points = [3.2, 3.6, 3.9, 4.15].map((trueV) => ({
      reading: { value: show(trueV), u: 0.0003 },
      reference: { value: trueV + referenceError, u: 0.001 },
    }));
    const verdict = calibrate('offset', points, { resolution: 0.001, statedU: 0.02 });
    if (!verdict.ok) continue;
    corrections += 1;
    const now = corrected({ value: show(3.75), u: 0.0003 }, verdict.correction);
    if (Math.abs(now.value - 3.75) < 2 * now.u) truths += 1;
  }
  expect(corrections).toBeGreaterThan(0.98 * benches);
  expect(truths / corrections).toBeGreaterThan(0.92);
  // Nor is it said to be much less sure than it is.
  expect(truths / corrections).toBeLessThan(0.99);
});

test('a corrected reading holds the truth, and the next error lies in its interval, in nineteen of twenty benches', () => {
  let [truths, errors, corrections] = [0, 0, 0];
  for (let n = 0; n < benches; n++) {
    const [offset, gain] = [chance.normal(-0.03, 0.005), chance.normal(0.004, 0.001)];
    const show = (trueV: number) => trueV + offset + gain * trueV + chance.normal(0, 0.0006);
    const points = [3.2, 3.6, 3.9, 4.15].map((trueV) => ({
      reading: { value: show(trueV), u: 0.0006 },
      reference: { value: trueV + chance.normal(0, 0.0004), u: 0.0004 },
    }));
    const verdict = calibrate('line', points, { resolution: 0.001, statedU: 0.02 });
    if (!verdict.ok) continue;
    corrections += 1;
    const shown = show(3.75);
    const now = corrected({ value: shown, u: 0.0006 }, verdict.correction);
    if (Math.abs(now.value - 3.75) < 2 * now.u) truths += 1;
    const { low, high } = errorInterval(verdict.correction, shown, 0.0006);
    if (shown - 3.75 > low && shown - 3.75 < high) errors += 1;
  }
  expect(corrections).toBeGreaterThan(0.98 * benches);
  expect(truths / corrections).toBeGreaterThan(0.92);
  expect(errors / corrections).toBeGreaterThan(0.92);
});
