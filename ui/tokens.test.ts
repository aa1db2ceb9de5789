import { cellCodeOf, packCodeOf, wordsOf } from './tokens';

test('a unit joins the figure before it, nothing else does', () => {
  expect(wordsOf(' L2-014  43,5 mΩ s ', ['mΩ'])).toEqual(['L2-014', '43,5mΩ', 's']);
  expect(wordsOf('s s', ['s'])).toEqual(['s', 's']);
});

test('codes are read in any case and with short numbers', () => {
  expect(cellCodeOf('s1-14')).toBe('S1-014');
  expect(cellCodeOf('3.71')).toBeNull();
  expect(packCodeOf('pf1')).toBe('PF1');
  expect(packCodeOf('4.1')).toBeNull();
});
