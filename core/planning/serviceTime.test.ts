import { presetRules } from '../chemistry/houseRules';
import { alarmOf, serviceTime } from './serviceTime';

const rules = presetRules('workshop');
const asked = {
  chemistry: 'lipo' as const,
  capacityAh: { value: 4, u: 0.1 },
  resistanceOhm: null,
  currentA: 12,
  rules,
};

// Common practice: I × t, a fifth is left.
test('four ampere-hours at twelve amperes serve sixteen minutes, then a fifth is left', () => {
  const time = serviceTime(asked);
  expect(time).toMatchObject({ code: 'serves', by: 'reserve', left: 0.2, sagV: null });
  if (time.code !== 'serves') throw new Error('It serves.');
  expect(time.minutes.value).toBeCloseTo(16, 9);
  expect(time.minutes.u).toBeGreaterThan(0.4);
});

test('a pack that sags much meets its alarm before; one that sags too far serves not at all', () => {
  const time = serviceTime({ ...asked, resistanceOhm: { value: 0.02, u: 0.001 } });
  expect(time).toMatchObject({ code: 'serves', by: 'alarm' });
  expect(time.code === 'serves' && time.minutes.value).toBeLessThan(14);
  expect(serviceTime({ ...asked, resistanceOhm: { value: 0.06, u: 0.002 } })).toMatchObject({
    code: 'sags-at-once',
    alarmV: 3.6,
  });
});

test('a current of nought is no use, and a primary cell is none for it', () => {
  expect(() => serviceTime({ ...asked, currentA: 0 })).toThrow();
  expect(serviceTime({ ...asked, chemistry: 'alkaline' })).toEqual({ code: 'never-charged' });
});

// Common practice: 3.6 V gives time to stop; the schools go from 3.5 to 3.7 V.
test('the alarm is a house rule, by what the cells are', () => {
  expect(alarmOf('lipo', rules)).toEqual({ alarmV: 3.6, rule: 'alarmPouchV' });
  expect(alarmOf('lipo', presetRules('careful'))?.alarmV).toBe(3.7);
  expect(alarmOf('lfp', rules)).toEqual({ alarmV: 2.8, rule: null });
  expect(alarmOf('sla', rules)).toBeNull();
});
