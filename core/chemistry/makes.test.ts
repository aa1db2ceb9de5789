import { type FullDischarge, makeByDesignation, makesAfter, makesByDesignation } from './makes';
import { curveFrom, curveOfMake, curveOfMakes, type Make, makes, openCircuitOf, usualMakes } from './openCircuit';

/** A discharge from full of a cell of that make, as a logger shows it. */
function dischargeOf(make: Make, lagV: number, offV = 0): FullDischarge {
  const curve = curveOfMake(make);
  const endSoc = curve.socAt({ value: 3 + lagV, u: 0 }).value;
  const socs = Array.from({ length: 200 }, (_, i) => endSoc + ((i + 0.5) / 200) * (1 - endSoc));
  const meanV = socs.reduce((sum, soc) => sum + curve.voltageAt(soc), 0) / 200 - lagV + offV;
  return { meanV: { value: meanV, u: 0.01 }, lagV: { value: lagV, u: 0.3 * lagV }, cutoffV: 3 };
}

test.each([
  ['ICR19/66', 'cobalt'],
  ['INR18650-25', 'mixed-oxide'],
  ['Fenwick IMR 18650', 'manganese'],
  ['Quillon Q18', null],
  ['NICR18', null],
  [null, null],
])('the designation %s names %s (IEC 61960-3, from memory)', (model, make) => {
  expect(makeByDesignation(model)).toBe(make);
});

test.each(makes)('a discharge of a cell of %s cells makes that make likelier than before', (make) => {
  const after = makesAfter(usualMakes, [dischargeOf(make, 0.05)]);
  expect(after[make]).toBeGreaterThan(usualMakes[make]);
  expect(makes.reduce((sum, one) => sum + after[one], 0)).toBeCloseTo(1, 12);
});

test('a discharge decides between mixed oxide and cobalt; with the designation it decides for manganese, too', () => {
  expect(makesAfter(usualMakes, [dischargeOf('mixed-oxide', 0.05)])['mixed-oxide']).toBeGreaterThan(0.9);
  expect(makesAfter(usualMakes, [dischargeOf('cobalt', 0.05)])['mixed-oxide']).toBeLessThan(0.1);
  expect(makesAfter(makesByDesignation('IMR18650'), [dischargeOf('manganese', 0.05)]).manganese).toBeGreaterThan(0.9);
});

test('without a discharge the designation counts, and without that the usual numbers', () => {
  expect(makesAfter(makesByDesignation('ICR18650'), []).cobalt).toBe(0.9);
  expect(makesByDesignation('Q18')).toEqual(usualMakes);
});

test('cobalt cells rest about 130 mV above mixed oxide at half charge; an unknown make has an uncertainty for that', () => {
  const [mixed, cobalt, unknown] = [curveOfMake('mixed-oxide'), curveOfMake('cobalt'), openCircuitOf('li-ion')];
  expect(cobalt.voltageAt(0.5) - mixed.voltageAt(0.5)).toBeCloseTo(0.13, 2);
  const volts = { value: cobalt.voltageAt(0.3), u: 0.002 };
  expect(mixed.socAt(volts).value).toBeGreaterThan(0.5);
  const { value, u } = unknown.socAt(volts);
  expect(value).toBe(mixed.socAt(volts).value);
  expect(Math.abs(value - 0.3)).toBeLessThan(1.96 * u);
  // Both ways through the same curve.
  expect(unknown.voltageAt(value)).toBeCloseTo(volts.value, 6);
});

test('the likeliest make gives the values, and plain data makes the same curve again', () => {
  const curve = curveOfMakes({ 'mixed-oxide': 0.2, cobalt: 0.7, manganese: 0.1 });
  expect(curve.voltageAt(0.5)).toBe(curveOfMake('cobalt').voltageAt(0.5));
  const again = curveFrom(curve.plain);
  const volts = { value: 3.8, u: 0.005 };
  expect(again.socAt(volts)).toEqual(curve.socAt(volts));
  expect(again.uAt(0.5)).toBe(curve.uAt(0.5));
});

test('iron phosphate and nickel remember which way they came: 5 to 20 mV of it are in the uncertainty', () => {
  for (const chemistry of ['lfp', 'nimh', 'nicd'] as const) {
    const u = openCircuitOf(chemistry).uAt(0.5);
    expect(u).toBeGreaterThan(0.01 / Math.sqrt(3));
    expect(u).toBeLessThan(0.03);
  }
});
