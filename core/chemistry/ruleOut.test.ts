import { unknownChemistryText } from '@/words/chemistry';
import { leftByVoltage } from './ruleOut';

// Common practice: the limits of the chemistries.
test.each([
  [4.31, ['lihv'], []],
  [3.9, ['li-ion', 'lipo', 'lihv'], []],
  [3.3, ['li-ion', 'lipo', 'lihv', 'lfp'], []],
  [2.1, ['sla'], ['li-ion', 'lipo', 'lihv', 'lfp']],
  [1.32, ['nimh', 'nicd', 'alkaline'], ['li-ion', 'lipo', 'lihv', 'lfp', 'sla']],
])('%d V a group', (perGroupV, possible, runDown) => {
  expect(leftByVoltage(perGroupV)).toEqual({ possible, runDown });
});

test('what is left is said, and what to do', () => {
  expect(unknownChemistryText(4.31)).toContain('It can be Lithium pouch, 4.35 V.');
  expect(unknownChemistryText(2.1)).toContain('run down below its floor');
  expect(unknownChemistryText(null)).toContain('Measure the terminals');
  expect(unknownChemistryText(5)).toContain('no chemistry fits');
});
