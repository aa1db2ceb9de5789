import { matches, readQuery } from './query';

const query = (text: string) => {
  const read = readQuery(text);
  return read.ok ? read.query : read.said;
};

test('duty, batch and limits in any order and spelling', () => {
  expect(query('light > 2 Ah')).toEqual({ standing: 'light', leastAh: 2 });
  // As earlier versions called it.
  expect(query('trickle > 2 Ah')).toEqual({ standing: 'light', leastAh: 2 });
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

test('packs and cells, builds, chemistries and health', () => {
  expect(query('packs > 80 % 4s')).toEqual({ kind: 'pack', leastHealth: 0.8, series: 4 });
  expect(query('4s2p lipo <72,5%')).toEqual({ series: 4, parallel: 2, chemistry: 'lipo', mostHealth: 0.725 });
  expect(query('cells li-ion surge')).toEqual({ kind: 'cell', chemistry: 'li-ion', standing: 'surge' });
});

test('a pack of that build and health is found, and a cell is none', () => {
  const common = { chemistry: 'lipo', capacity: null, resistance: null, standing: 'steady' } as const;
  const health = (value: number) => ({ health: { value } });
  const pack = { ...common, id: 1, series: 4, parallel: 1, duty: health(0.86) };
  const cell = { ...common, id: 2, batchCode: 'S1', duty: health(0.86) };
  const query = { kind: 'pack', leastHealth: 0.8, series: 4 } as const;
  expect([matches(pack, query), matches(cell, query), matches({ ...pack, duty: health(0.7) }, query)]).toEqual([
    true,
    false,
    false,
  ]);
  expect([matches(pack, { batch: 'S1' }), matches(cell, { kind: 'cell', batch: 'S1' })]).toEqual([false, true]);
});

test('what is not understood is named', () => {
  expect(query('> soon')).toContain('After >');
  expect(query('4..2')).toContain('"4..2"');
});

test('a limit leaves out cells without that figure', () => {
  const cell = {
    id: 4,
    chemistry: 'li-ion',
    batchCode: 'S1',
    capacity: null,
    resistance: { value: 0.05 },
    duty: { health: null },
    standing: 'ungraded',
  } as const;
  expect(matches(cell, {})).toBe(true);
  expect(matches(cell, { leastAh: 1 })).toBe(false);
  expect(matches(cell, { mostOhm: 0.06, batch: 'S1' })).toBe(true);
  expect(matches(cell, { standing: 'surge' })).toBe(false);
  expect(matches(cell, { note: 'blue' })).toBe(false);
  expect(matches(cell, { note: 'blue', standing: 'ungraded' }, new Set([4]))).toBe(true);
});
