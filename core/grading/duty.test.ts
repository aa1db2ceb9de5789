import { dutyReasonText } from '@/words/duty';
import fc from 'fast-check';
import { presetRules } from '../chemistry/houseRules';
import { type DutyFacts, duties, gradeDuty, guarded, rateAtSag } from './duty';

const rules = presetRules('workshop');
const q = (value: number, relative = 0.01) => ({ value, u: value * relative });
const facts = (capacityAh: number, resistanceOhm: number, change: Partial<DutyFacts> = {}): DutyFacts => ({
  chemistry: 'li-ion',
  asNewCapacityAh: 2.4,
  asNewIs: 'rated',
  capacityAh: q(capacityAh),
  capacityIsAtLeast: false,
  rescues: 0,
  holdAsked: false,
  resistanceOhm: q(resistanceOhm),
  safety: [],
  ...change,
});

test('hand-worked: 5 % of 3.6 V across 30 mΩ is 6 A, 2.5 C of 2.4 Ah', () => {
  const rate = rateAtSag(3.6, 0.05, { value: 0.03, u: 0.0003 }, { value: 2.4, u: 0.024 });
  expect(rate.value).toBeCloseTo(2.5, 9);
  expect(rate.u).toBeCloseTo(2.5 * Math.hypot(0.01, 0.01), 4);
});

describe('the ladder of duties', () => {
  test.each([
    [2.3, 0.02, 'surge'],
    [2.3, 0.05, 'steady'],
    [1.75, 0.02, 'steady'],
    [2.3, 0.118, 'light'],
    [1.3, 0.05, 'light'],
    [1.0, 0.05, 'retire'],
    [2.3, 0.9, 'retire'],
  ])('%d Ah with %d Ω is %s', (capacity, resistance, duty) => {
    expect(gradeDuty(facts(capacity, resistance), rules).duty).toBe(duty);
  });

  test('a strong cell with a high resistance is a light cell, and it says why', () => {
    expect(dutyReasonText(gradeDuty(facts(2.3, 0.118), rules).because)).toContain('Holds 96 %, but its rate');
  });

  test('a rescue costs one class, two end it (common practice)', () => {
    const once = gradeDuty(facts(2.3, 0.02, { rescues: 1 }), rules);
    expect(once.duty).toBe('steady');
    expect(dutyReasonText(once.because)).toContain('figures are those of surge');
    expect(gradeDuty(facts(1.3, 0.05, { rescues: 1 }), rules).duty).toBe('light');
    expect(gradeDuty(facts(2.3, 0.02, { rescues: 1, holdAsked: true }), rules)).toMatchObject({
      duty: null,
      because: { code: 'hold-first' },
    });
    const twice = gradeDuty(facts(2.3, 0.02, { rescues: 2 }), rules);
    expect(twice.duty).toBe('retire');
    expect(dutyReasonText(twice.because)).toBe('Safety finding: rescued twice');
  });

  test('stricter rules never raise a duty', () => {
    const careful = presetRules('careful');
    fc.assert(
      fc.property(
        fc.double({ min: 0.8, max: 2.6, noNaN: true }),
        fc.double({ min: 0.01, max: 0.5, noNaN: true }),
        (capacity, resistance) => {
          const rank = (set: typeof rules) =>
            duties.indexOf(gradeDuty(facts(capacity, resistance), set).duty ?? 'retire');
          expect(rank(careful)).toBeGreaterThanOrEqual(rank(rules));
        },
      ),
    );
  });
});

describe('guard bands', () => {
  test('a value within k·u of the limit is uncertain, on either side', () => {
    expect(guarded({ value: 1.05, u: 0.02 }, 1, 1.64)).toBe('met');
    expect(guarded({ value: 1.02, u: 0.02 }, 1, 1.64)).toBe('uncertain');
    expect(guarded({ value: 0.98, u: 0.02 }, 1, 1.64)).toBe('uncertain');
    expect(guarded({ value: 0.9, u: 0.02 }, 1, 1.64)).toBe('missed');
  });

  test('what cannot be told gets the lower class and names the measurement that would settle it', () => {
    const byResistance = gradeDuty(facts(2.3, 0.076, { resistanceOhm: q(0.076, 0.1) }), rules);
    expect(byResistance).toMatchObject({ duty: 'light', measureAgain: { duty: 'steady', what: 'resistance' } });
    const byCapacity = gradeDuty(facts(1.7, 0.03, { capacityAh: q(1.7, 0.03) }), rules);
    expect(byCapacity).toMatchObject({ duty: 'light', measureAgain: { duty: 'steady', what: 'capacity' } });
  });

  test('where the better class is missed for certain, measuring again would not help', () => {
    expect(gradeDuty(facts(2.3, 0.118), rules).measureAgain).toBeNull();
  });
});

describe('a capacity that is a lower bound', () => {
  const atLeast = (capacityAh: number, resistanceOhm: number) =>
    gradeDuty(facts(capacityAh, resistanceOhm, { capacityIsAtLeast: true }), rules);

  test('never retires a cell: a log cut short at 0.25 Ah tells nothing yet, and what would', () => {
    expect(atLeast(0.25, 0.03)).toMatchObject({ duty: null, isAtLeast: true, missing: [] });
    expect(dutyReasonText(atLeast(0.25, 0.03).because)).toContain('Discharge it to the cut-off');
    expect(gradeDuty(facts(0.25, 0.03, { capacityIsAtLeast: true, resistanceOhm: null }), rules).duty).toBeNull();
  });

  test('may show that it is at least of a duty, computed at the rate it would have with its capacity when new', () => {
    expect(atLeast(1.8, 0.03)).toMatchObject({ duty: 'steady', isAtLeast: true });
    expect(atLeast(2.2, 0.02)).toMatchObject({ duty: 'surge' });
    expect(atLeast(1.8, 0.03).rateC?.value).toBeCloseTo(0.18 / 0.03 / 2.4, 9);
  });

  test('a resistance too high for any capacity still retires it', () => {
    expect(atLeast(1.8, 0.9).duty).toBe('retire');
  });
});

describe('what is missing or unsafe', () => {
  test('without resistance there is no duty, unless the capacity alone retires it', () => {
    expect(gradeDuty(facts(2.3, 0.05, { resistanceOhm: null }), rules)).toMatchObject({
      duty: null,
      missing: ['resistance'],
    });
    expect(gradeDuty(facts(0.6, 0.05, { resistanceOhm: null }), rules).duty).toBe('retire');
  });

  test('a safety finding overrides the best numbers', () => {
    const swollen = { code: 'finding', finding: 'swollen' } as const;
    const { duty, because } = gradeDuty(facts(2.4, 0.02, { safety: [swollen] }), rules);
    expect(duty).toBe('retire');
    expect(dutyReasonText(because)).toBe('Safety finding: swollen or soft');
  });
});
