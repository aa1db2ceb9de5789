import { typedVolts } from './typedVolts';

test('of the whole or of each group, with either decimal sign', () => {
  expect(typedVolts(' 15,2 V ', 4)).toEqual({ measuredV: 15.2, groupsV: null });
  expect(typedVolts('15,2V', 4)).toEqual({ measuredV: 15.2, groupsV: null });
  expect(typedVolts('3.81 3.80 3,79', 3)).toEqual({ measuredV: null, groupsV: [3.81, 3.8, 3.79] });
  expect(typedVolts('', 4)).toEqual({ error: 'What does a meter show, V?' });
  expect(typedVolts('15.2 volts', 4)).toEqual({ error: 'Volts, such as 15.2.' });
});
