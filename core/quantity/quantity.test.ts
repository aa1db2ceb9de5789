import { refusalOf } from '@/words/impossible';
import fc from 'fast-check';
import { mean, sampleCorrelation, sampleStandardDeviation } from 'simple-statistics';
import { exact, propagate, read, rectangular } from './quantity';

/** JCGM 100:2008 annex H.2: five simultaneous sets of voltage, current and phase. */
const voltsV = [5.007, 4.994, 5.005, 4.99, 4.999];
const currentsA = [19.663, 19.639, 19.64, 19.685, 19.678].map((milli) => milli / 1000);
const phasesRad = [1.0456, 1.0438, 1.0468, 1.0428, 1.0433];
const sets = { V: voltsV, I: currentsA, phi: phasesRad };
type Name = keyof typeof sets;

const ofMean = (xs: number[]) => ({ value: mean(xs), u: sampleStandardDeviation(xs) / Math.sqrt(xs.length) });
const inputs = { V: ofMean(voltsV), I: ofMean(currentsA), phi: ofMean(phasesRad) };
const fromSets = (a: Name, b: Name) => sampleCorrelation(sets[a], sets[b]);

describe('propagate', () => {
  test('published: GUM H.2, resistance, reactance and impedance with correlated inputs', () => {
    const resistance = propagate(({ V, I, phi }) => (V / I) * Math.cos(phi), inputs, fromSets);
    expect(resistance.value).toBeCloseTo(127.732, 3);
    expect(resistance.u).toBeCloseTo(0.071, 3);

    const reactance = propagate(({ V, I, phi }) => (V / I) * Math.sin(phi), inputs, fromSets);
    expect(reactance.value).toBeCloseTo(219.847, 3);

    const impedance = propagate(({ V, I }) => V / I, inputs, fromSets);
    expect(impedance.value).toBeCloseTo(254.26, 2);
    expect(impedance.u).toBeCloseTo(0.236, 3);
  });

  test('leaving the correlations out of GUM H.2 gives another uncertainty', () => {
    const resistance = propagate(({ V, I, phi }) => (V / I) * Math.cos(phi), inputs);
    expect(Math.abs(resistance.u - 0.071)).toBeGreaterThan(0.05);
  });

  test('the budget names the largest share first and leaves exact inputs out', () => {
    const { budget } = propagate(({ a, b, c }) => a + 10 * b + c, { a: read(1, 0.1), b: read(1, 0.1), c: exact(4) });
    expect(budget.map((fraction) => fraction.input)).toEqual(['b', 'a']);
    expect(budget[0]?.u).toBeCloseTo(10 * rectangular(0.1), 12);
  });

  test('a linear model obeys the closed form for any input', () => {
    const finite = fc.double({ min: -1e3, max: 1e3, noNaN: true });
    const uncertainty = fc.double({ min: 0, max: 10, noNaN: true });
    fc.assert(
      fc.property(finite, uncertainty, finite, uncertainty, (a, ua, b, ub) => {
        const sum = propagate((x) => 2 * x.a - 3 * x.b, { a: { value: a, u: ua }, b: { value: b, u: ub } });
        expect(sum.u).toBeCloseTo(Math.hypot(2 * ua, 3 * ub), 6);
      }),
    );
  });

  test('refuses a model without a finite value', () => {
    expect(refusalOf(() => propagate(({ a, b }) => a / b, { a: exact(1), b: exact(0) }))).toContain('no finite result');
  });
});

test('published: GUM 4.3.7, half-width a gives a / √3', () => {
  expect(rectangular(2)).toBeCloseTo(1 / Math.sqrt(3), 12);
});
