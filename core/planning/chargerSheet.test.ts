import fc from 'fast-check';
import { type HouseRules, presetRules } from '../chemistry/houseRules';
import {
  type ChargerLimits,
  type ChargerSheet,
  chargerSheet,
  sheetGoals,
  type SheetGoal,
  type SheetPack,
} from './chargerSheet';

const rules = presetRules('workshop');
const pouch: SheetPack = {
  chemistry: 'lipo',
  series: 4,
  capacityAh: 5.25,
  measuredV: 15.2,
  groupsV: null,
  isCounted: false,
  isLabelRead: false,
  rescues: 0,
};
const large: ChargerLimits = { maxA: 20, maxW: 400, dischargeMaxW: 60, stepA: 0.1, bleedA: 0.3 };
interface Asked {
  pack?: Partial<SheetPack>;
  charger?: Partial<ChargerLimits>;
  rules?: Partial<HouseRules>;
  loadOhm?: number;
}
const ask = (goal: SheetGoal, { pack, charger, rules: changed, loadOhm }: Asked = {}) =>
  chargerSheet({
    pack: { ...pouch, ...pack },
    charger: { ...large, ...charger },
    goal,
    rules: { ...rules, ...changed },
    loadOhm: loadOhm ?? null,
  });
const sheet = (goal: SheetGoal, asked: Asked = {}): ChargerSheet => {
  const { sheet: found, refusal } = ask(goal, asked);
  if (!found) throw new Error(refusal.code);
  return found;
};
const refused = (goal: SheetGoal, asked: Asked = {}) => ask(goal, asked).refusal?.code ?? null;

describe('common practice: currents, rounding, timer, storage', () => {
  test.each([
    ['4.5 Ah lead-acid at 0.2C', { chemistry: 'sla', series: 6, capacityAh: 4.5, measuredV: 12.6 }, {}, 0.9],
    ['4 Ah at 1.5C', { capacityAh: 4 }, { chargePouchC: 1.5 }, 6],
    ['6 Ah at 1C', { capacityAh: 6 }, {}, 6],
    ['5.25 Ah at 1C on 0.1 A steps', {}, {}, 5.3],
  ] as [string, Partial<SheetPack>, Partial<HouseRules>, number][])('%s', (_, pack, changed, amperes) => {
    expect(sheet('charge', { pack, rules: changed })).toMatchObject({ chargeA: amperes, limitedBy: 'rate' });
  });

  test('a full balanced charge at 1C takes 80 to 90 minutes; the timer is set to 120', () => {
    const full = sheet('charge', { pack: { capacityAh: 5, measuredV: null } });
    expect(full.expectedMin).toBeGreaterThanOrEqual(75);
    expect(full.expectedMin).toBeLessThanOrEqual(90);
    expect(full.timerMin).toBe(120);
    expect(full).toMatchObject({ endV: 16.8, temperatureLimitC: 49, series: 4 });
  });

  test('four cells stored at 3.85 V each stand at 15.4 V', () => {
    const stored = sheet('storage', { pack: { measuredV: 16.7 }, rules: { storageLithiumV: 3.85 } });
    expect(stored.dischargeEndV).toBeCloseTo(15.4, 1);
    expect(stored.main).toBe('discharge');
  });

  test('sixteen hours at a tenth put 160 % into a nickel pack', () => {
    const slow = sheet('charge', { pack: { chemistry: 'nimh', series: 8, capacityAh: 2, measuredV: 9.8 } });
    expect(slow).toMatchObject({ chargeA: 0.2, seen: { movedAh: 3.2 }, expectedMin: 960 });
  });
});

test('watts at this voltage and amperes hold the current down, and no step goes above them', () => {
  expect(sheet('charge', { charger: { maxW: 50 } })).toMatchObject({ chargeA: 2.9, limitedBy: 'watts' });
  expect(sheet('charge', { charger: { maxA: 3.55 } })).toMatchObject({ chargeA: 3.5, limitedBy: 'amps' });
  // The balance connector is thin: half to one ampere. Common practice.
  expect(sheet('charge', { charger: { plugA: 0.84 } })).toMatchObject({ chargeA: 0.8, limitedBy: 'plug' });
  expect(sheet('charge', { charger: { plugA: 3 } })).toMatchObject({ chargeA: 1, limitedBy: 'plug' });
  expect(sheet('charge', { pack: { rescues: 1 } })).toMatchObject({ chargeA: 2.1, limitedBy: 'rescued' });
  expect(refused('charge', { pack: { capacityAh: 0.04 } })).toBe('step-too-coarse');
});

test('to storage by the few watts of a charger, or by a load of its own', () => {
  const asked = { pack: { measuredV: 16.8, capacityAh: 5 }, charger: { dischargeMaxW: 25 } };
  const slow = sheet('storage', { ...asked, loadOhm: 5 });
  const [step] = slow.steps;
  expect(step).toMatchObject({ kind: 'discharge', currentA: 1.4 });
  // By hand: the charge down to its storage over the current.
  expect(step?.minutes).toBeCloseTo(((step?.chargeAh ?? 0) / 1.4) * 60, 9);
  expect(slow.load?.watts).toBeCloseTo(16.8 ** 2 / 5, 1);
  expect(slow.load?.minutes).toBeCloseTo(((step?.chargeAh ?? 0) / (16.8 / 5)) * 60, 1);
  expect(sheet('storage', { pack: { measuredV: 14.6 } }).main).toBe('charge');
  expect(sheet('storage', { pack: { chemistry: 'sla', series: 6, measuredV: 12.4 } })).toMatchObject({ endV: 14.7 });
});

test('a cycle from storage is charged first, then discharged, then back to storage', () => {
  const { steps, restMin, cycles } = sheet('cycle');
  expect(steps.map(({ kind }) => kind)).toEqual(['charge', 'rest', 'discharge', 'rest', 'charge']);
  expect([restMin, cycles]).toEqual([30, 1]);
  const nickel = { series: 8, capacityAh: 2, measuredV: null };
  expect(sheet('cycle', { pack: { ...nickel, chemistry: 'nicd' } }).cycles).toBe(5);
  expect(sheet('cycle', { pack: { ...nickel, chemistry: 'nimh' } }).cycles).toBe(3);
  expect(refused('cycle', { pack: { chemistry: 'sla', series: 6, measuredV: 12.6 } })).toBe('cycling-harms');
});

describe('before the start: count and chemistry against the measured voltage', () => {
  test('a count that cannot be is refused, with what it could be', () => {
    const { refusal } = ask('charge', { pack: { series: 3 } });
    expect(refusal).toMatchObject({ code: 'not-its-voltage', couldBe: [{ chemistry: 'lipo', series: 4 }, {}, {}, {}] });
  });

  test('one that stands so low that fewer could be full is asked to be counted', () => {
    const { refusal } = ask('charge', { pack: { measuredV: 12.5 } });
    expect(refusal).toMatchObject({ code: 'perhaps-fewer', couldBe: [{ series: 3 }, { series: 4 }] });
    expect(refused('charge', { pack: { measuredV: 12.5, isCounted: true } })).toBeNull();
    expect(refused('charge', { pack: { measuredV: 12.5, groupsV: [3.12, 3.13, 3.12, 3.13] } })).toBeNull();
    expect(refused('charge', { pack: { groupsV: [3.8, 3.8, 3.8] } })).toBe('group-count');
    expect(refused('charge', { pack: { groupsV: [3.8, 3.8, 3.8, 3.0] } })).toBe('sum-apart');
  });

  test('what could be iron phosphate is not charged as cobalt before its label is read', () => {
    const low = { chemistry: 'li-ion' as const, series: 4, measuredV: 13.2, isCounted: true };
    expect(refused('charge', { pack: low })).toBe('perhaps-iron-phosphate');
    expect(refused('charge', { pack: { ...low, isLabelRead: true } })).toBeNull();
  });

  test('a group above full, one below its floor', () => {
    expect(refused('charge', { pack: { measuredV: null, groupsV: [4.1, 4.3, 4.1, 4.1] } })).toBe('group-above-full');
    expect(refused('charge', { pack: { measuredV: null, groupsV: [3.7, 2.4, 3.7, 3.7] } })).toBe('below-floor');
  });
});

test('goals that are not for it: rescues by the house rules, balancing of nickel, flat by a lamp', () => {
  const low = { measuredV: null, groupsV: [2.4, 2.4, 2.5, 2.4] };
  expect(sheet('rescue', { pack: low })).toMatchObject({ chargeA: 0.5, endV: 12, timerMin: 180 });
  expect(refused('rescue', { pack: low, rules: { rescuesAllowed: 0 } })).toBe('rescue-forbidden');
  expect(refused('rescue', { pack: { ...low, rescues: 1 } })).toBe('rescue-forbidden');
  expect(refused('rescue', { pack: { ...low, groupsV: [1.2, 2.4, 2.4, 2.4] } })).toBe('too-low-for-rescue');
  expect(refused('rescue')).toBe('not-below-floor');
  expect(refused('rescue', { pack: { measuredV: null } })).toBe('measure-first');
  expect(refused('balance', { pack: { chemistry: 'nimh', series: 8, measuredV: 9.6 } })).toBe('balanced-otherwise');
  expect(refused('balance', { charger: { bleedA: 0 } })).toBe('does-not-balance');
  expect(refused('charge', { charger: { modes: ['4.35', 'nickel'] } })).toBe('no-mode');
  expect(refused('charge', { charger: { modes: ['4.20'] } })).toBeNull();
  expect(refused('discharge', { charger: { modes: ['nickel'] } })).toBeNull();
  expect(refused('run-down', { pack: { series: 7, measuredV: 26.6 } })).toBe('run-down-elsewhere');
  for (const dischargeMaxW of [0, 0.5])
    for (const goal of ['capacity', 'storage', 'run-down'] as const)
      expect(refused(goal, { pack: { measuredV: 16.6 }, charger: { dischargeMaxW } })).toBe('cannot-discharge');
  expect(refused('storage', { pack: { measuredV: 14.8 }, charger: { dischargeMaxW: 0 } })).toBeNull();
});

test('balancing costs time: a slow one more than a quick one', () => {
  const { balancing, isBalanced } = sheet('balance', { pack: { measuredV: null, groupsV: [3.9, 3.9, 3.85, 3.9] } });
  expect(isBalanced).toBe(true);
  expect(balancing?.slowMin).toBeGreaterThanOrEqual(balancing?.quickMin ?? Infinity);
  expect(sheet('charge').isBalanced).toBe(false);
  expect(sheet('charge', { rules: { balanceAlways: 1 } }).isBalanced).toBe(true);
});

test('whatever is asked, no setting lies above what charger and rates allow, and all figures are figures', () => {
  const chemistry = fc.constantFrom('li-ion', 'lipo', 'lihv', 'lfp', 'nimh', 'nicd', 'sla' as const);
  const asked = fc.record({
    chemistry,
    series: fc.integer({ min: 1, max: 14 }),
    capacityAh: fc.double({ min: 0.1, max: 60, noNaN: true }),
    maxA: fc.double({ min: 0.5, max: 30, noNaN: true }),
    maxW: fc.double({ min: 5, max: 800, noNaN: true }),
    stepA: fc.constantFrom(0, 0.01, 0.1, 0.5),
    goal: fc.constantFrom(...sheetGoals),
  });
  fc.assert(
    fc.property(asked, ({ chemistry: of, series, capacityAh, maxA, maxW, stepA, goal }) => {
      const pack = { ...pouch, chemistry: of as SheetPack['chemistry'], series, capacityAh, measuredV: null };
      const found = chargerSheet({ pack, charger: { ...large, maxA, maxW, stepA }, goal, rules, loadOhm: null });
      if (!found.sheet) return;
      const { chargeA, dischargeA, endV, expectedMin, attendedMin } = found.sheet;
      if (chargeA !== null && goal !== 'rescue') {
        expect(chargeA).toBeLessThanOrEqual(maxA + 1e-6);
        expect(chargeA * endV).toBeLessThanOrEqual(maxW + 1e-3 + chargeA * endV * 1e-6);
      }
      for (const figure of [chargeA ?? 0, dischargeA ?? 0, endV, expectedMin, attendedMin])
        expect(Number.isFinite(figure) && figure >= 0).toBe(true);
      expect(attendedMin).toBeLessThanOrEqual(expectedMin);
    }),
    { numRuns: 25 },
  );
});
