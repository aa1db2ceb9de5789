import { refusalOf } from '@/words/impossible';
import { read } from '../quantity/quantity';
import { contradictionText } from '@/words/packs';
import { chemistries } from '../chemistry/chemistries';
import { buildFromLabel, contradictionOf, weighClaim } from './label';

test('common practice: 47 Wh at 10.8 V of 2.2 Ah cells is 4.35 Ah, three in series, two in parallel', () => {
  const build = buildFromLabel(47, 10.8, 3.6, 2.2);
  expect(build.capacityAh).toBeCloseTo(4.35, 2);
  expect(build).toMatchObject({ series: 3, parallel: 2 });
});

test('common practice: a label is compared with itself and with the count of its groups', () => {
  const label = { energyWh: 47, packV: 10.8, capacityAh: 4.35, series: 3 };
  const cell = chemistries['li-ion'];
  expect(contradictionOf(label, cell)).toBeNull();
  // Sold by the voltage of a full pack.
  expect(contradictionOf({ ...label, energyWh: null, packV: 12.6 }, cell)).toBeNull();
  expect(contradictionOf({ energyWh: 47, packV: null, capacityAh: 9, series: 3 }, cell)).toBeNull();
  const energy = contradictionOf({ ...label, capacityAh: 5.2 }, cell);
  expect(energy?.code).toBe('label-energy');
  const count = contradictionOf({ ...label, series: 4 }, cell);
  expect(count).toMatchObject({ code: 'label-count', wouldBe: 3 });
  expect([energy, count].map((one) => one && contradictionText(one))).toEqual([
    'Its label contradicts itself: 47 Wh at 10.8 V would be 4.35 Ah, not 5.20 Ah. Read it again.',
    '10.8 V would be 3 in series, not 4. Count its groups, or read its label again.',
  ]);
});

describe('common practice: weight follows capacity', () => {
  test('3.0 Ah in 27.8 g would be 399 Wh/kg: impossible', () => {
    const verdict = weighClaim(3, 3.7, read(0.0278, 0.0001), 280);
    expect(verdict.specificEnergyWhPerKg).toBeCloseTo(399, 0);
    expect(verdict.claim).toBe('impossible');
    expect(verdict.mostAh).toBeLessThan(2.2);
  });

  test.each([
    [2, 0.043],
    [2.2, 0.0455],
  ])('%d Ah in %d kg is genuine', (claimedAh, mass) => {
    expect(weighClaim(claimedAh, 3.7, read(mass, 0.0001), 280).claim).toBe('possible');
  });
});

test('a coarse scale cannot condemn a cell at the border', () => {
  expect(weighClaim(3.4, 3.6, read(0.0435, 0.0001), 280).claim).toBe('doubtful');
  expect(weighClaim(3.4, 3.6, read(0.043, 0.005), 280).claim).toBe('possible');
});

test('no weight is refused', () => {
  expect(refusalOf(() => weighClaim(3, 3.7, read(0, 0.0001), 280))).toContain('massKg');
});

test('just beyond the best cells asks for a look at the label; half the weight is a fake', () => {
  expect(weighClaim(3.5, 3.6, read(0.0425, 0.0001), 300).claim).toBe('possible');
  expect(weighClaim(3.6, 3.6, read(0.0425, 0.0001), 300).claim).toBe('doubtful');
  expect(weighClaim(3.6, 3.6, read(0.0215, 0.0001), 300).claim).toBe('impossible');
});
