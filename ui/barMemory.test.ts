import { draftText } from './barMemory';

test.each([
  ['3.7', 'S1-004', 'S1-004', '3.7'],
  ['3.7', 'S1-004', 'S1-005', 'S1-004 3.7'],
  ['S1-002 3.7', 'S1-004', 'S1-005', 'S1-002 3.7'],
  ['s1-2+3 3.7', 'S1-004', null, 's1-2+3 3.7'],
  ['PF1 3.95', 'PX1', null, 'PF1 3.95'],
  ['DM1 3.7', 'B2', 'B1', 'B2 DM1 3.7'],
  ['B2 DM1', 'B1', 'B3', 'B2 DM1'],
  ['3.7', null, 'S1-004', '3.7'],
  ['', 'S1-004', 'S1-005', ''],
])('"%s" typed for %s, found again at %s, is "%s"', (text, current, shown, expected) => {
  expect(draftText({ text, current }, shown)).toBe(expected);
});
