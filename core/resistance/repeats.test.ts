import { repeatsOf } from './repeats';

test('the same figure twice means the cell, another one means the contact', () => {
  expect(repeatsOf([0.0435, 0.0437], 0.0004)).toEqual({ range: expect.closeTo(0.0002, 12), limit: expect.closeTo(0.03 * 0.0436, 12), differ: false });
  expect(repeatsOf([0.0712, 0.0437], 0.0004)?.differ).toBe(true);
});

test('a coarse meter may differ by its own coarseness', () => {
  expect(repeatsOf([0.04, 0.045], 0.002)?.differ).toBe(false);
  expect(repeatsOf([0.04], 0.002)).toBeNull();
});
