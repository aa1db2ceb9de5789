import { matches, readQuery } from './query';

const query = (text: string) => {
  const read = readQuery(text);
  return read.ok ? read.query : read.said;
};

test('duty, batch and limits in any order and spelling', () => {
  expect(query('trickle > 2 Ah')).toEqual({ standing: 'trickle', leastAh: 2 });
  expect(query('s1 <60 mΩ >1800mAh')).toEqual({
    batch: 'S1',
    mostOhm: expect.closeTo(0.06, 9),
    leastAh: expect.closeTo(1.8, 9),
  });
  expect(query('< 45')).toEqual({ mostOhm: expect.closeTo(0.045, 9) });
  expect(query('rescue')).toEqual({ standing: 'rescue' });
  expect(query('OUT h1')).toEqual({ standing: 'out', batch: 'H1' });
  expect(query('"blue pack" s1')).toEqual({ note: 'blue pack', batch: 'S1' });
  expect(query('')).toEqual({});
});

test('what is not understood is named', () => {
  expect(query('> soon')).toContain('After >');
  expect(query('4..2')).toContain('"4..2"');
});

test('a limit leaves out cells without that figure', () => {
  const cell = { id: 4, batchCode: 'S1', capacity: null, resistance: { value: 0.05 }, standing: 'ungraded' } as const;
  expect(matches(cell, {})).toBe(true);
  expect(matches(cell, { leastAh: 1 })).toBe(false);
  expect(matches(cell, { mostOhm: 0.06, batch: 'S1' })).toBe(true);
  expect(matches(cell, { standing: 'surge' })).toBe(false);
  expect(matches(cell, { note: 'blue' })).toBe(false);
  expect(matches(cell, { note: 'blue', standing: 'ungraded' }, new Set([4]))).toBe(true);
});
