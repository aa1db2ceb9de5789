import { refusalOf } from '@/words/impossible';
import { exact, read } from '../quantity/quantity';
import { loadStep } from './loadStep';
import { twoCurrentStep } from './twoCurrents';

const codes = (warnings: { code: string }[]) => warnings.map((warning) => warning.code);

describe('common practice: worked values of the trade', () => {
  test('preloaded step with droop on four cells', () => {
    const step = loadStep({
      openV: exact(14.87),
      loadedV: exact(14.66),
      droopV: exact(0.02),
      seriesCells: 4,
      load: { kind: 'ammeter', currentA: exact(4.36) },
    });
    expect(step.resistance.value).toBeCloseTo(0.0436, 4);
    expect(step.perCellOhm.value).toBeCloseTo(0.0109, 4);
  });

  test('2.2 Ω on a cylindrical lithium cell, read in 10 mV steps', () => {
    const step = loadStep({
      openV: read(4.03, 0.01),
      loadedV: read(3.91, 0.01),
      load: { kind: 'resistor', resistanceOhm: exact(2.2), powerRatingW: 5 },
    });
    expect(step.currentA.value).toBeCloseTo(1.777, 3);
    expect(step.resistance.value).toBeCloseTo(0.0675, 4);
    expect(step.resistance.u).toBeCloseTo(0.0023, 4);
    expect(step.loadPowerW).toBeCloseTo(6.95, 2);
    expect(codes(step.warnings)).toContain('load-overrated');
  });

  test('2.2 Ω on an alkaline cell', () => {
    const step = loadStep({
      openV: exact(1.54),
      loadedV: exact(1.35),
      load: { kind: 'resistor', resistanceOhm: exact(2.2) },
    });
    expect(step.currentA.value).toBeCloseTo(0.614, 3);
    expect(step.resistance.value).toBeCloseTo(0.31, 2);
    expect(step.warnings).toEqual([]);
  });

  test('lamp and ammeter on a lead-acid block', () => {
    const step = loadStep({
      openV: exact(12.52),
      loadedV: exact(12.37),
      load: { kind: 'ammeter', currentA: exact(1.79) },
    });
    expect(step.resistance.value).toBeCloseTo(0.0838, 4);
  });
});

test('hand-worked: the uncertainty of an ammeter step and its budget', () => {
  const step = loadStep({
    openV: { value: 4, u: 0.003 },
    loadedV: { value: 3.8, u: 0.004 },
    load: { kind: 'ammeter', currentA: { value: 2, u: 0.02 } },
  });
  // (0.2 V)/(2 A): u² = (0.003/2)² + (0.004/2)² + (0.1·0.02/2)²
  expect(step.resistance.u).toBeCloseTo(Math.hypot(0.0015, 0.002, 0.001), 6);
  expect(step.resistance.budget.map((fraction) => fraction.input)).toEqual([
    'loaded voltage',
    'open voltage',
    'load current',
  ]);
});

test('the gain of the meter counts with an ammeter and cancels with a resistor', () => {
  const volts = { openV: exact(4), loadedV: exact(3.8), gainU: 0.01 };
  expect(loadStep({ ...volts, load: { kind: 'ammeter', currentA: exact(2) } }).resistance.u).toBeCloseTo(0.001, 9);
  expect(loadStep({ ...volts, load: { kind: 'resistor', resistanceOhm: exact(2) } }).resistance.u).toBe(0);
});

test('the two-current method divides the differences', () => {
  const step = twoCurrentStep({
    lowCurrentA: exact(0.5),
    highCurrentA: exact(2.5),
    atLowV: exact(3.9),
    atHighV: exact(3.8),
    seriesCells: 2,
  });
  expect(step.resistance.value).toBeCloseTo(0.05, 12);
  expect(step.perCellOhm.value).toBeCloseTo(0.025, 12);
  expect(step.loadPowerW).toBeCloseTo(9.5, 12);
});

describe('what it says of bad readings', () => {
  const ammeter = { kind: 'ammeter', currentA: exact(1) } as const;

  test('a drop near the meter step is not resolved', () => {
    const step = loadStep({ openV: read(3.95, 0.01), loadedV: read(3.93, 0.01), load: ammeter });
    expect(codes(step.warnings)).toEqual(['drop-not-resolved']);
  });

  test('the readings in the wrong order are refused with what was read', () => {
    expect(refusalOf(() => loadStep({ openV: exact(3.7), loadedV: exact(3.9), load: ammeter }))).toContain(
      'Loaded 3.900 V, open 3.700 V',
    );
    expect(
      refusalOf(() => loadStep({ openV: exact(3.9), loadedV: exact(3.8), droopV: exact(0.2), load: ammeter })),
    ).toContain('200 mV of droop');
  });

  test('a load of nothing is refused', () => {
    expect(
      refusalOf(() =>
        loadStep({ openV: exact(4), loadedV: exact(3.9), load: { kind: 'resistor', resistanceOhm: exact(0) } }),
      ),
    ).toContain('loadResistanceOhm');
    expect(
      refusalOf(() =>
        twoCurrentStep({ lowCurrentA: exact(2), highCurrentA: exact(1), atLowV: exact(4), atHighV: exact(3.9) }),
      ),
    ).toContain('must exceed');
  });
});
