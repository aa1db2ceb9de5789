import { presetRules } from '../chemistry/houseRules';
import { type Example, exampleState } from '../state/exampleState';
import { alarmOf, type ServiceRequest, serviceTime } from './serviceTime';

const rules = presetRules('workshop');
const at = (currentA: number, more: Partial<Example> = {}, request: Partial<ServiceRequest> = {}) => {
  const pouch = { chemistry: 'lipo' as const, series: 1, capacityAh: 4, capacityU: 0.1 };
  const label = { labelDischargeA: 100 };
  const state = exampleState({ ...pouch, ...more, more: { ...label, ...more.more } });
  return serviceTime({ state, from: 'full', currentA, rules, ...request });
};

// Common practice: I × t, a fifth is left.
test('four ampere-hours at twelve amperes serve sixteen minutes, then a fifth is left', () => {
  const time = at(12);
  expect(time).toMatchObject({ code: 'serves', by: 'reserve', left: 0.2, sagV: null });
  if (time.code !== 'serves') throw new Error('It serves.');
  expect(time.minutes.value).toBeCloseTo(16, 9);
  expect(time.minutes.u).toBeGreaterThan(0.4);
});

test('a pack that sags much meets its alarm before; one that sags too far serves not at all', () => {
  const time = at(12, { resistancesOhm: [0.02] });
  expect(time).toMatchObject({ code: 'serves', by: 'alarm' });
  expect(time.code === 'serves' && time.minutes.value).toBeLessThan(14);
  expect(at(12, { resistancesOhm: [0.06] })).toMatchObject({ code: 'sags-at-once', alarmV: 3.6 });
  // A peak meets the alarm where the mean does not.
  expect(at(4, { resistancesOhm: [0.02] }, { peakA: 12 })).toMatchObject({ by: 'alarm' });
});

test('the weakest group ends it, and from now on only what is left counts', () => {
  const pack = { series: 3, groupsV: [4.1, 4.1, 3.84], groupCapacitiesAh: [4, 4, 4] };
  expect(at(4, pack)).toMatchObject({ code: 'serves', position: 1 });
  const now = at(4, pack, { from: 'now' });
  expect(now).toMatchObject({ code: 'serves', position: 3 });
  // From half full to a fifth: 0.3 × 4 Ah at 4 A.
  expect(now.code === 'serves' && now.minutes.value).toBeCloseTo(18, 0);
  expect(at(4, { ...pack, groupCapacitiesAh: [4, 2, 4] })).toMatchObject({ position: 2 });
  expect(at(4, { ...pack, groupsV: [4.1, 4.1, 3.6] }, { from: 'now' })).toEqual({ code: 'empty', position: 3 });
  expect(at(4, {}, { from: 'now' })).toEqual({ code: 'charge-not-known' });
});

test('a pack too small for the current is not listed with a minute or two', () => {
  expect(at(12, { more: { labelDischargeA: 8 } })).toEqual({ code: 'too-small', mostA: 8, by: 'label' });
  expect(at(12, { capacityAh: 0.5, more: { labelDischargeA: null } })).toMatchObject({ code: 'too-small', by: 'sag' });
});

// Peukert: less the faster it is drawn; half stays in it.
test('lead-acid by its relation', () => {
  const lead = { chemistry: 'sla' as const, series: 6, capacityAh: 7.2 };
  const slow = at(0.36, lead);
  expect(slow.code === 'serves' && slow.minutes.value).toBeCloseTo(600, 0);
  const fast = at(3.6, lead);
  expect(fast.code === 'serves' && fast.minutes.value).toBeLessThan(0.75 * 60);
});

test('a current of zero is no use, and a primary cell is none for it', () => {
  expect(() => at(0)).toThrow();
  expect(at(1, { chemistry: 'alkaline' })).toEqual({ code: 'never-charged' });
});

// Common practice: 3.6 V gives time to stop; the schools go from 3.5 to 3.7 V.
test('the alarm is a house rule for each kind of cell', () => {
  expect(alarmOf('lipo', rules)).toEqual({ alarmV: 3.6, rule: 'alarmPouchV' });
  expect(alarmOf('lipo', presetRules('careful'))?.alarmV).toBe(3.7);
  expect(alarmOf('lfp', rules)).toEqual({ alarmV: 2.8, rule: null });
  expect(alarmOf('sla', rules)).toBeNull();
});
