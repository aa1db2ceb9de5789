import { isForLamp, lampFor } from './runDown';

// Common practice: two to four in series, with a car's lamp.
test('a lamp is for two to four lithium groups', () => {
  expect([1, 2, 4, 5].map((series) => isForLamp('lipo', series))).toEqual([false, true, true, false]);
  expect(isForLamp('nimh', 4)).toBe(false);
});

// By hand: three full groups of 4 Ah at 11.5 V in the mean draw about 1.7 A from a lamp of 12 V and 21 W: 2.3 h.
test('it takes as long as the current of its filament asks for, less where it is half empty', () => {
  const full = lampFor('lipo', 3, 4, null);
  expect(full).toMatchObject({ ratedV: 12, ratedW: 21 });
  expect(full.beginsA).toBeCloseTo(1.79, 1);
  expect(full.hours).toBeGreaterThan(2.2);
  expect(full.hours).toBeLessThan(2.7);
  expect(full.mostHours).toBeGreaterThan(full.hours);
  expect(lampFor('lipo', 3, 4, [3.84, 3.84, 3.84]).hours).toBeLessThan(0.65 * full.hours);
  // Four full groups would burn a lamp of 12 V out.
  expect(lampFor('lipo', 4, 4, null).ratedV).toBe(24);
});
