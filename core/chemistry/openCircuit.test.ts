import fc from 'fast-check';
import { chemistries, chemistryKeys, cRate, currentAtRate } from './chemistries';
import { openCircuitOf, type Rechargeable } from './openCircuit';

const rechargeable = chemistryKeys.filter((key): key is Rechargeable => key !== 'alkaline');

describe.each(rechargeable)('open-circuit curve of %s', (chemistry) => {
  const curve = openCircuitOf(chemistry);

  test('rises everywhere and inverts', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (soc) => {
        expect(curve.slopeAt(soc)).toBeGreaterThan(0);
        expect(curve.socAt({ value: curve.voltageAt(soc), u: 0 }).value).toBeCloseTo(soc, 5);
      }),
    );
  });

  test('lies between the lowest and the full voltage of its chemistry', () => {
    expect(curve.voltageAt(1)).toBeLessThanOrEqual(chemistries[chemistry].fullV);
    expect(curve.voltageAt(0)).toBeGreaterThanOrEqual(chemistries[chemistry].lowestV);
  });
});

describe('common practice: rested pouch lithium', () => {
  const curve = openCircuitOf('lipo');

  test.each([
    [1, 4.2],
    [0.8, 4.02],
    [0.5, 3.84],
    [0.2, 3.73],
    [0, 3.27],
  ])('%d of charge rests at %d V', (soc, volts) => {
    expect(curve.voltageAt(soc)).toBeCloseTo(volts, 9);
  });

  test('10 mV of error cost 2 % of charge or more in the flat middle, far less at the steep end', () => {
    expect(0.01 / curve.slopeAt(0.24)).toBeGreaterThanOrEqual(0.02);
    expect(0.01 / curve.slopeAt(0.37)).toBeGreaterThanOrEqual(0.02);
    expect(0.01 / curve.slopeAt(0.02)).toBeLessThan(0.005);
  });

  test('below the curve the charge is none, and the doubt never exceeds knowing nothing', () => {
    expect(curve.socAt({ value: 2, u: 5 })).toEqual({ value: 0, u: 1 / Math.sqrt(12) });
  });
});

test('cylindrical lithium rests about 0.1 V below pouch lithium in the middle (from memory)', () => {
  const difference = openCircuitOf('lipo').voltageAt(0.5) - openCircuitOf('li-ion').voltageAt(0.5);
  expect(difference).toBeCloseTo(0.13, 2);
});

test('common practice: C-rates and their rounding to a device step', () => {
  expect(currentAtRate(0.2, 4.5)).toBeCloseTo(0.9, 9);
  expect(currentAtRate(1.5, 4)).toBeCloseTo(6, 9);
  expect(currentAtRate(1, 6)).toBeCloseTo(6, 9);
  expect(currentAtRate(1, 5.25, 0.1)).toBeCloseTo(5.3, 9);
  expect(cRate(0.9, 4.5)).toBeCloseTo(0.2, 9);
});
