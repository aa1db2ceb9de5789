import { warningText } from '@/words/warnings';
import { directResistance } from './direct';

const fine = { resolution: 0.00001, accuracyShare: 0.005, accuracyCounts: 3 };

test('four wires: last digit and the maker’s promise', () => {
  const { resistance, warnings } = directResistance({
    resistanceOhm: 0.0214,
    stepOhm: 0.0001,
    range: fine,
    wires: 4,
    leads: null,
    zeroTaken: null,
  });
  expect(resistance.u).toBeCloseTo(Math.hypot(0.0001 / Math.sqrt(12), (0.0214 * 0.005 + 0.0003) / Math.sqrt(3)), 9);
  expect(resistance.budget.map((fraction) => fraction.input)).toEqual(['accuracy', 'last digit']);
  expect(warnings).toEqual([]);
});

test('two wires of thin lead swamp a big lead-acid battery (common practice: 8 mΩ)', () => {
  const { resistance, warnings } = directResistance({
    resistanceOhm: 0.061,
    stepOhm: 0.001,
    range: null,
    wires: 2,
    leads: { gauge: 22, lengthM: 0.5 },
    zeroTaken: null,
  });
  expect(resistance.budget[0]?.input).toBe('leads and clips');
  expect(resistance.u).toBeGreaterThan(0.03);
  expect(warnings.map(warningText)).toEqual([expect.stringContaining('58.0 mΩ are in this figure of 61.0 mΩ')]);
});

test('a reading below zero keeps its value', () => {
  expect(
    directResistance({ resistanceOhm: -0.0004, stepOhm: 0.0001, range: fine, wires: 4, leads: null, zeroTaken: null })
      .resistance.value,
  ).toBe(-0.0004);
});

test('a zero takes the leads off, not the clips; without one the round is warned of', () => {
  const reading = {
    resistanceOhm: 0.061,
    stepOhm: 0.001,
    range: null,
    wires: 2 as const,
    leads: { gauge: 22, lengthM: 0.5 },
  };
  const zeroed = directResistance({ ...reading, zeroTaken: true });
  expect(zeroed.warnings).toEqual([]);
  expect(zeroed.resistance.u).toBeCloseTo(Math.hypot(0.001 / Math.sqrt(12), 0.005 / Math.sqrt(3)), 9);
  expect(directResistance({ ...reading, resistanceOhm: 0.02, zeroTaken: true }).warnings.map(warningText)).toEqual([
    expect.stringContaining('clips of about 5.0 mΩ'),
  ]);
  expect(directResistance({ ...reading, wires: 4, zeroTaken: false }).warnings.map((warning) => warning.code)).toEqual([
    'zero-not-taken',
  ]);
  expect(directResistance({ ...reading, wires: 4, zeroTaken: true }).warnings).toEqual([]);
});
