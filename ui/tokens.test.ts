import { cellCodeOf, packCodeOf, weldCodesOf, weldText, wordsOf } from './tokens';

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

test('cells welded together are named by both codes, the second one short', () => {
  expect(weldCodesOf('g1-5+4')).toEqual(['G1-004', 'G1-005']);
  expect(weldCodesOf('G1-004+H1-002')).toEqual(['G1-004', 'H1-002']);
  expect([weldCodesOf('G1-004'), weldCodesOf('G1-004+x'), weldCodesOf('4+5')]).toEqual([null, null, null]);
  expect(weldText(['G1-005', 'G1-004'])).toBe('G1-004+005');
  expect(weldText(['H1-002', 'G1-004'])).toBe('G1-004+H1-002');
});
