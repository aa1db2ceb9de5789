import { looksTurned } from './groupOrder';

test('the order of the columns is doubted only where the last reading tells it', () => {
  const read = [4.14, 4.04, 4.14, 4.09, 3.59];
  expect(looksTurned([3.55, 4.01, 4.1, 3.99, 4.12], read)).toBe(true);
  expect(looksTurned([4.1, 4.0, 4.12, 4.01, 3.56], read)).toBe(false);
  // Balanced meanwhile, or never apart: no conclusion is possible.
  expect(looksTurned([4.1, 4.1, 4.1, 4.1, 4.1], read)).toBe(false);
  expect(looksTurned([4.11, 4.1, 4.12], [4.12, 4.11, 4.11])).toBe(false);
  // Another count is refused elsewhere.
  expect(looksTurned([4.1, 3.6], read)).toBe(false);
  expect(looksTurned([3.55, 4.01, 4.1, null, 4.12], read)).toBe(false);
});
