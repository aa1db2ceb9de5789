import { settledBy } from './settled';

const on = (day: number, capacityAh: number) => ({ endedAt: new Date(Date.UTC(2026, 2, day)), capacityAh });

// Common practice: two or three cycles settle it.
test('it has settled once a discharge gives what the one before gave; not by one, nor by one of another month', () => {
  expect(settledBy([on(1, 1.5), on(3, 1.9)])).toEqual({ code: 'rising', lastAh: 1.9, beforeAh: 1.5 });
  expect(settledBy([on(1, 1.5), on(3, 1.9), on(5, 1.94)])?.code).toBe('settled');
  expect(settledBy([on(3, 1.94), on(5, 1.7)])?.code).toBe('falling');
  expect(settledBy([on(1, 1.9)])).toBeNull();
  expect(settledBy([on(1, 1.9), on(28, 1.9)])).toBeNull();
});
