import fc from 'fast-check';
import { type HouseRules, presetRules } from '../chemistry/houseRules';
import { type Example, exampleState } from '../state/exampleState';
import type { SubjectFacts } from '../state/facts';
import { chargerSheet } from './chargerSheet';
import { type ChargerLimits, type ChargerSheet, nothingWanted, type SheetGoal, sheetGoals, type Wanted } from './sheet';

const rules = presetRules('workshop');
interface Pack extends Omit<Example, 'more' | 'rules' | 'terminalV'>, Partial<Pick<SubjectFacts, 'rescues'>> {
  measuredV: number | null;
  isCounted: boolean;
  isLabelRead: boolean;
  facts?: Partial<SubjectFacts>;
}
const pouch: Pack = {
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
interface SheetCase {
  pack?: Partial<Pack>;
  charger?: Partial<ChargerLimits>;
  rules?: Partial<HouseRules>;
  wanted?: Partial<Wanted>;
  loadOhm?: number;
}
const ask = (goal: SheetGoal, { pack, charger, rules: changed, wanted, loadOhm }: SheetCase = {}) => {
  const { measuredV, isCounted, isLabelRead, facts, rescues = 0, ...example } = { ...pouch, ...pack };
  const inForce = { ...rules, ...changed };
  return chargerSheet({
    state: exampleState({ ...example, terminalV: measuredV, rules: inForce, more: { rescues, ...facts } }),
    measured: { measuredV, groupsV: example.groupsV ?? null, isCounted, isLabelRead },
    charger: { ...large, ...charger },
    goal,
    wanted: { ...nothingWanted, ...wanted },
    rules: inForce,
    loadOhm: loadOhm ?? null,
  });
};
const sheet = (goal: SheetGoal, request: SheetCase = {}): ChargerSheet => {
  const { sheet: found, refusal } = ask(goal, request);
  if (!found) throw new Error(refusal.code);
  return found;
};
const refused = (goal: SheetGoal, request: SheetCase = {}) => ask(goal, request).refusal?.code ?? null;

describe('common practice: currents, rounding, timer, storage', () => {
  test.each([
    ['4.5 Ah lead-acid at 0.2C', { chemistry: 'sla', series: 6, capacityAh: 4.5, measuredV: 12.6 }, {}, 0.9],
    ['4 Ah at 1.5C', { capacityAh: 4 }, { chargePouchC: 1.5 }, 6],
    ['6 Ah at 1C', { capacityAh: 6 }, {}, 6],
    ['5.25 Ah at 1C on 0.1 A steps', {}, {}, 5.3],
  ] as [string, Partial<Pack>, Partial<HouseRules>, number][])('%s', (_, pack, changed, amperes) => {
    expect(sheet('charge', { pack, rules: changed })).toMatchObject({ chargeA: amperes, limitedBy: 'house' });
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
  expect(sheet('charge', { charger: { maxW: 50 } })).toMatchObject({ chargeA: 2.9, limitedBy: 'power' });
  expect(sheet('charge', { charger: { maxA: 3.55 } })).toMatchObject({ chargeA: 3.5, limitedBy: 'charger' });
  // The balance connector is thin: half to one ampere. Common practice.
  expect(sheet('charge', { charger: { plugA: 0.84 } })).toMatchObject({ chargeA: 0.8, limitedBy: 'plug' });
  expect(sheet('charge', { charger: { plugA: 3 } })).toMatchObject({ chargeA: 1, limitedBy: 'plug' });
  expect(sheet('charge', { pack: { rescues: 1 } })).toMatchObject({ chargeA: 2.1, limitedBy: 'rescued' });
  expect(refused('charge', { pack: { capacityAh: 0.04 } })).toBe('step-too-coarse');
});

test('to storage by the few watts of a charger, or by a load of its own', () => {
  const request = { pack: { measuredV: 16.8, capacityAh: 5 }, charger: { dischargeMaxW: 25 } };
  const slow = sheet('storage', { ...request, loadOhm: 5 });
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
  expect(refused('rescue', { pack: { measuredV: null, groupsV: [3.8, 3.8, 3.8, 3.8] } })).toBe('not-below-floor');
  // A rescue asks for each group, whatever the terminals show.
  expect(refused('rescue')).toBe('measure-first');
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
  const request = fc.record({
    chemistry,
    series: fc.integer({ min: 1, max: 14 }),
    capacityAh: fc.double({ min: 0.1, max: 60, noNaN: true }),
    maxA: fc.double({ min: 0.5, max: 30, noNaN: true }),
    maxW: fc.double({ min: 5, max: 800, noNaN: true }),
    stepA: fc.constantFrom(0, 0.01, 0.1, 0.5),
    goal: fc.constantFrom(...sheetGoals),
  });
  fc.assert(
    fc.property(request, ({ chemistry: of, series, capacityAh, maxA, maxW, stepA, goal }) => {
      const pack = { chemistry: of as Example['chemistry'], series, capacityAh, measuredV: null };
      const found = ask(goal, { pack, charger: { maxA, maxW, stepA } });
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

describe('each group decides (common practice)', () => {
  const five = { series: 5, capacityAh: 5, measuredV: null, groupsV: [4.12, 4.1, 4.13, 4.09, 3.62] };

  test('a low group ends a discharge, and forbids storage and a capacity test until it is balanced', () => {
    const out = sheet('discharge', { pack: five });
    expect(out).toMatchObject({ weakest: 5, limitedBy: 'weakest-group' });
    // At 3.62 V a pouch cell holds about 6 % of its charge.
    expect(out.steps.reduce((sum, { chargeAh }) => sum + chargeAh, 0)).toBeLessThan(0.07 * 5);
    expect(out.groupsBetween.lowestV).toBeGreaterThan(3);
    expect(out.capacityLimitAh).toBeLessThan(0.35);
    for (const goal of ['storage', 'capacity', 'cycle'] as const)
      expect(ask(goal, { pack: five }).refusal).toMatchObject({ code: 'balance-first', lowest: 5 });
  });

  test('a full group among others is charged with balancing, or not at all; the lowest decides the charge', () => {
    const pack = { measuredV: null, groupsV: [4.19, 3.95, 3.95, 3.95], capacityAh: 5 };
    const balanced = sheet('charge', { pack });
    expect(balanced.isBalanced).toBe(true);
    // From 70 % to full.
    expect(balanced.forecast.charge.value).toBeGreaterThan(0.27 * 5);
    expect(balanced.groupsBetween.highestV).toBeLessThan(4.215);
    expect(refused('charge', { pack, charger: { bleedA: 0 } })).toBe('balance-first');
    expect(refused('charge', { pack: { ...pack, facts: { balanceConnector: false } } })).toBe('balance-first');
    const unread = { measuredV: 16, facts: { balanceConnector: true } };
    expect(refused('charge', { pack: unread })).toBe('measure-first');
  });

  test('after a minute by the measured resistance, never above the end; a current that falls already', () => {
    const pack = { series: 3, capacityAh: 2, measuredV: null, groupsV: [4.12, 4.12, 4.12] };
    const worn = sheet('charge', { pack: { ...pack, resistancesOhm: [0.2, 0.2, 0.2] } });
    expect(worn.forecast.afterMinuteV).toBeLessThanOrEqual(12.6);
    expect(worn.forecast.afterMinuteA).toBeLessThan(0.6 * (worn.chargeA ?? 0));
    const fresh = sheet('charge', { pack: { ...pack, groupsV: [3.8, 3.8, 3.8], resistancesOhm: [0.02, 0.02, 0.02] } });
    expect(fresh.forecast.afterMinuteA).toBe(fresh.chargeA);
    expect(fresh.forecast.afterMinuteV).toBeGreaterThan(11.4 + 2 * 3 * 0.018);
  });

  test('a weak group sets the rates, since it gets the whole current', () => {
    const pack = { measuredV: null, groupsV: [3.8, 3.8, 3.8, 3.8], groupCapacitiesAh: [5, 5, 3, 5] };
    expect(sheet('charge', { pack })).toMatchObject({ chargeA: 3, limitedBy: 'weakest-group' });
  });
});

describe('limits that hold', () => {
  test('nearly empty lithium starts at a quarter up to 3.6 V a cell (common practice)', () => {
    const low = { series: 6, capacityAh: 10, measuredV: null, groupsV: new Array<number>(6).fill(3.08) };
    const started = sheet('charge', { pack: low });
    expect(started.steps[0]).toMatchObject({ kind: 'charge', currentA: 2.5 });
    expect(started).toMatchObject({ limitedBy: 'gentle-start', chargeA: 10 });
    expect(started.steps[0]?.untilV).toBeGreaterThanOrEqual(6 * 3.6 - 1e-6);
    expect(sheet('charge', { pack: { ...low, groupsV: new Array<number>(6).fill(3.7) } }).gentle).toBeNull();
  });

  test('a capacity test starts gently, too, and what was just emptied is charged gently to storage', () => {
    const low = { series: 2, capacityAh: 4, measuredV: null, groupsV: [3.2, 3.2], isLabelRead: true };
    const test = sheet('capacity', { pack: low });
    expect(test.steps[0]).toMatchObject({ kind: 'charge', currentA: 1 });
    expect(test.steps.at(-1)).toMatchObject({ kind: 'charge', currentA: 1 });
    expect(sheet('storage', { pack: low }).steps[0]).toMatchObject({ kind: 'charge', currentA: 1 });
  });

  test('label, wish and rescue are never rounded up; a charger that cannot go so low is refused', () => {
    const label = { facts: { labelChargeA: 2.37, labelDischargeA: 1.19 } };
    expect(sheet('charge', { pack: label })).toMatchObject({ chargeA: 2.3, limitedBy: 'label' });
    expect(sheet('capacity', { pack: label }).dischargeA).toBe(1.1);
    expect(sheet('charge', { wanted: { currentA: 1.98 } })).toMatchObject({ chargeA: 1.9, limitedBy: 'wanted' });
    const tiny = { series: 1, capacityAh: 0.6, measuredV: 2.4 };
    expect(refused('rescue', { pack: tiny })).toBe('step-too-coarse');
    expect(sheet('rescue', { pack: tiny, charger: { stepA: 0.01 } }).chargeA).toBe(0.06);
  });

  test('an end of one’s own, within the limits', () => {
    const up = sheet('charge', { wanted: { cutoffPerGroupV: 4.1 } });
    expect(up.endV).toBeCloseTo(16.4, 9);
    expect(up.forecast.charge.value).toBeLessThan(sheet('charge').forecast.charge.value);
    expect(sheet('charge', { wanted: { untilChargeAh: 0.5 } }).forecast.charge.value).toBeCloseTo(0.5, 2);
    expect(sheet('discharge', { wanted: { cutoffPerGroupV: 3.6 } }).dischargeEndV).toBeCloseTo(14.4, 6);
    expect(refused('charge', { wanted: { cutoffPerGroupV: 4.3 } })).toBe('end-beyond-limits');
    expect(refused('discharge', { wanted: { cutoffPerGroupV: 2.9 } })).toBe('end-beyond-limits');
  });

  test('a charger’s own limits: the pack it recognises, the groups it balances', () => {
    expect(refused('charge', { charger: { lowestPackV: 15.4 } })).toBe('charger-blind');
    expect(refused('charge', { charger: { lowestPackV: 15 } })).toBeNull();
    const five = { series: 5, measuredV: null, groupsV: [3.9, 3.9, 3.9, 3.9, 3.8] };
    expect(refused('balance', { pack: five, charger: { balanceChannels: 4 } })).toBe('too-few-channels');
    expect(sheet('balance', { pack: five, charger: { balanceChannels: 6 } }).isBalanced).toBe(true);
  });

  test('dead terminals before live groups are a board that has cut off; alone they say nothing', () => {
    const groupsV = [3.6, 3.6, 3.6, 3.6];
    expect(refused('charge', { pack: { measuredV: 0.12, groupsV } })).toBe('board-cut-off');
    expect(refused('charge', { pack: { measuredV: 0.12, isCounted: true, isLabelRead: true } })).toBe('dead-terminals');
  });

  test('the voltage of two cells is not that of the three which were measured', () => {
    const pack = { series: 3, measuredV: 7.6, groupsV: [3.8, 3.8, 3.8], isCounted: true };
    expect(refused('charge', { pack })).toBe('sum-apart');
    expect(refused('rescue', { pack: { ...pack, groupsV: null } })).toBe('measure-first');
  });

  test('primary cells are never charged', () => {
    expect(refused('charge', { pack: { chemistry: 'alkaline', series: 1, measuredV: 1.3 } })).toBe('primary-cell');
  });
});

describe('chemistries', () => {
  const nickel = { chemistry: 'nimh' as const, series: 8, capacityAh: 2, measuredV: 9.8 };

  test('nickel: a quick charge where it is wanted; its timer stays within its charge limit', () => {
    const slow = sheet('charge', { pack: nickel });
    expect((slow.timerMin / 60) * (slow.chargeA ?? 0)).toBeLessThanOrEqual(slow.capacityLimitAh);
    expect(slow.timerMin).toBeGreaterThanOrEqual(slow.expectedMin);
    const quick = sheet('charge', { pack: nickel, wanted: { currentA: 0.8 } });
    // A quick charge may end after about 115 %.
    expect(quick).toMatchObject({ chargeA: 0.8, seen: { movedAh: 2.3 } });
    expect(sheet('charge', { pack: nickel, wanted: { currentA: 2 } }).chargeA).toBe(1);
  });

  test('nickel is stored at about 80 %: a fifth out after full, never run down', () => {
    const stored = sheet('storage', { pack: nickel });
    expect(stored.steps.map(({ kind }) => kind)).toEqual(['charge', 'rest', 'discharge']);
    expect(stored.steps[2]).toMatchObject({ untilV: null });
    expect(stored.steps[2]?.chargeAh).toBeCloseTo(0.4, 6);
    const full = { ...nickel, facts: { moves: [{ at: new Date(1), kind: 'charged' as const }] } };
    expect(sheet('storage', { pack: full }).steps.map(({ kind }) => kind)).toEqual(['discharge']);
  });

  test('lithium is cycled at half its capacity an hour at most', () => {
    expect(sheet('cycle').chargeA).toBe(2.6);
  });

  test('lead-acid: half stays in it, and less comes out the faster it is drawn', () => {
    const lead = { chemistry: 'sla' as const, series: 6, capacityAh: 7.2, measuredV: 12.8 };
    const request = { pack: lead, charger: { dischargeMaxW: 200 }, rules: { testDischargeC: 0.2 } };
    const out = sheet('discharge', request);
    expect(out.steps[0]?.chargeAh).toBeLessThan(3.6);
    expect(out.steps[0]?.chargeAh).toBeGreaterThan(2);
    // Peukert: 7.2 Ah in 20 h are about 5.8 Ah in 4 h.
    const all = sheet('capacity', request).steps[2]?.chargeAh ?? NaN;
    expect(all).toBeGreaterThan(5);
    expect(all).toBeLessThan(6.2);
  });

  test('storage ends by charge, and rests where it should; the flat curve of iron phosphate too', () => {
    for (const [chemistry, from, restV] of [
      ['lipo', 4.15, 3.8],
      ['lfp', 3.34, 3.27],
    ] as const) {
      const pack = { chemistry, series: 4, measuredV: null, groupsV: new Array<number>(4).fill(from) };
      const stored = sheet('storage', { pack });
      expect(stored).toMatchObject({ isByCharge: true, main: 'discharge' });
      expect(stored.forecast.endRestV / 4).toBeCloseTo(restV, 2);
      expect(stored.endV / 4).toBeCloseTo(restV, 2);
      expect(stored.capacityLimitAh).toBeCloseTo(stored.steps[0]?.chargeAh ?? NaN, 2);
    }
  });
});
