import { meanOfRepeats, repeatsOf, taughtNoise } from './repeats';

test('the same figure twice means the cell, another one means the contact', () => {
  expect(repeatsOf([0.0435, 0.0437], 0.0004)).toEqual({
    range: expect.closeTo(0.0002, 12),
    limit: expect.closeTo(0.03 * 0.0436, 12),
    differ: false,
  });
  expect(repeatsOf([0.0712, 0.0437], 0.0004)?.differ).toBe(true);
});

test('a coarse meter may differ by its own coarseness', () => {
  expect(repeatsOf([0.04, 0.045], 0.002)?.differ).toBe(false);
  expect(repeatsOf([0.04], 0.002)).toBeNull();
});

test('a cell has the mean of its repeats, no surer than they scatter', () => {
  const twice = meanOfRepeats([0.271, 0.277], { u: 0.0006, randomU: 0.0003 });
  expect(twice.value).toBeCloseTo(0.274, 9);
  expect(twice.u).toBeGreaterThanOrEqual(0.003);
  expect(meanOfRepeats([0.271], { u: 0.0006, randomU: 0.0003 })).toEqual({
    value: 0.271,
    u: expect.closeTo(0.0006, 9),
  });
  // What the tools are off by stays, however often it is measured.
  const often = meanOfRepeats(new Array<number>(500).fill(0.271), { u: 0.005, randomU: 0.0003 });
  expect(often.u).toBeCloseTo(0.005, 4);
});

test('four presses teach the noise, with Student’s factor for so few; three do not', () => {
  expect(taughtNoise([0.02, 0.021, 0.0205])).toBeNull();
  // Deviation 0.5774 mΩ, t(3) 3.182 over 1.960.
  expect(taughtNoise([0.02, 0.021, 0.02, 0.021])).toBeCloseTo((0.0005774 * 3.1824) / 1.96, 6);
});
