import type { Question } from '@/core/quantity/question';
import { questionText } from '@/words/questions';
import { beyondLimit } from './limits';

const textOf = (question: Question | null) => question && questionText(question);

test('the figure that was meant stands as it would be typed', () => {
  expect(beyondLimit({ dimension: 'voltage', value: 3710, step: 1 })?.meant).toBe('3.710 V');
  expect(beyondLimit({ dimension: 'voltage', value: -101, step: 1 })?.meant).toBeUndefined();
});

test.each([
  ['voltage', 3712, '3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?'],
  ['voltage', -101, '−101 V: a voltage here lies between −100 V and 100 V.'],
  ['mass', 0, '0 g: a weight here is above zero and at most 99000 g.'],
  ['mass', 150, '150000 g: a weight here is above zero and at most 99000 g. Was it 150 g?'],
  ['current', 4360, '4360 A: a current here is above zero and at most 999 A. Was it 4.36 A?'],
  ['temperature', 1e300, '1e+300 °C: a temperature here lies between −60 °C and 150 °C.'],
] as const)('%s of %d cannot be kept', (dimension, value, said) => {
  expect(textOf(beyondLimit({ dimension, value, step: value === 4360 ? 10 : 1 }))).toBe(said);
});

test.each([
  ['voltage', -100],
  ['voltage', 100],
  ['mass', 0.0001],
  ['resistance', 0],
  ['charge', 1e12],
] as const)('%s of %d can', (dimension, value) => {
  expect(beyondLimit({ dimension, value, step: 1 })).toBeNull();
});
