import { noLampFor, retirePhase, type RetireStep } from './retiring';

const at = (hour: number): Date => new Date(Date.UTC(2026, 5, 1, hour));
const step = (act: RetireStep['act'], hour: number, more: Partial<RetireStep> = {}): RetireStep => ({
  act,
  at: at(hour),
  voltageV: null,
  toWhom: null,
  ...more,
});

test('run down, a day later flat or not, taped, gone', () => {
  expect(retirePhase([], 3, null)).toEqual({ code: 'decide' });
  const lamp = step('run-down', 10);
  expect(retirePhase([lamp], 3, null)).toEqual({ code: 'running-down', beganAt: at(10) });
  expect(retirePhase([lamp], 3, at(13))).toEqual({ code: 'resting', readAt: at(37) });
  const high = step('flat', 40, { voltageV: 1.9 });
  expect(retirePhase([lamp, high], 3, at(13))).toMatchObject({ code: 'not-flat', voltageV: 1.9 });
  // Again on the lamp: that it came off the first time does not count.
  expect(retirePhase([lamp, high, step('run-down', 41)], 3, at(13))).toMatchObject({ code: 'running-down' });
  const flat = step('flat', 70, { voltageV: 0.4 });
  expect(retirePhase([lamp, flat], 3, at(13))).toEqual({ code: 'to-tape', isFlat: true });
  expect(retirePhase([step('as-it-is', 9)], 3, null)).toEqual({ code: 'to-tape', isFlat: false });
  expect(retirePhase([lamp, flat, step('taped', 71)], 3, at(13))).toEqual({ code: 'to-hand-over' });
  expect(retirePhase([step('gone', 72, { toWhom: 'the yard' })], 3, null)).toEqual({
    code: 'gone',
    at: at(72),
    toWhom: 'the yard',
  });
});

test('nothing damaged goes on a lamp, nor what nobody runs flat by one', () => {
  const sound = { chemistry: 'lipo' as const, series: 3, isDamaged: false };
  expect(noLampFor(sound)).toBeNull();
  expect(noLampFor({ ...sound, isDamaged: true })).toEqual({ code: 'damaged' });
  expect(noLampFor({ ...sound, series: 7 })).toEqual({ code: 'count', series: 7 });
  expect(noLampFor({ ...sound, chemistry: 'sla' })).toEqual({ code: 'chemistry' });
  expect(noLampFor({ ...sound, chemistry: 'alkaline' })).toEqual({ code: 'primary' });
});
