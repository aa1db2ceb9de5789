import type { Question } from '@/core/quantity/question';
import { questionText } from '@/words/questions';
import { display } from '../quantity/format';
import {
  askAboutDigitsOf,
  askAboutMass,
  askAboutResistance,
  askAboutVoltage,
  askAgainstOthers,
  misread,
} from './plausibility';

const textOf = (question: Question | null) => question && questionText(question);
/** What is asked, and the figure that was probably meant. */
const questionIn = (question: Question | null) => ({ text: textOf(question), meant: question?.meant });

/** A figure as it was typed, in the SI unit. */
const typed = (text: string, unit = 1) => ({
  value: Number(text) * unit,
  step: 10 ** -(text.split('.')[1] ?? '').length * unit,
});
const grams = (text: string) => typed(text, 1e-3);
const milliohm = grams;

test.each([
  ['37', 'li-ion', '3.7 V'],
  ['3712', 'li-ion', '3.712 V'],
  ['371.0', 'li-ion', '3.710 V'],
  ['14.87', 'nimh', '1.487 V'],
] as const)('%s V of one %s cell is asked about, and %s is what was meant', (text, chemistry, meant) => {
  expect(questionIn(askAboutVoltage(typed(text), chemistry))).toEqual({
    text: expect.stringContaining(`Was it ${meant}?`),
    meant,
  });
});

test.each([
  ['-0.2', 'li-ion', 'reversed'],
  ['5.5', 'lfp', 'at most 3.65 V'],
] as const)('%s V of one %s cell is asked about', (text, chemistry, words) => {
  expect(questionIn(askAboutVoltage(typed(text), chemistry))).toEqual({
    text: expect.stringContaining(words),
    meant: undefined,
  });
});

test('plausible and merely bad voltages are not asked about', () => {
  expect(['3.71', '0.02', '4.21'].map((text) => askAboutVoltage(typed(text), 'li-ion'))).toEqual([null, null, null]);
});

test('weights are compared with the model; two at once are asked about as a pair', () => {
  expect(askAboutMass(grams('452'), 0.0452)?.meant).toBe('45.2 g');
  expect(askAboutMass(grams('30'), 0.0452)).toBeNull();
  expect(textOf(askAboutMass(typed('20'), null))).toContain('for one cell');
  expect(textOf(askAboutMass(grams('90'), 0.0452))).toContain('a pair, welded together?');
  expect(askAboutMass(grams('90'), 0.0452, 2)).toBeNull();
  expect(askAboutMass(grams('44'), null)).toBeNull();
});

test('a resistance five times off its batch is asked about, once there is a batch', () => {
  expect(askAboutResistance(milliohm('430'), 0.045)?.meant).toBe('43.0 mΩ');
  expect(textOf(askAboutResistance(typed('7.77'), 0.045))).toContain('bad contact');
  expect(askAboutResistance(milliohm('90'), 0.045)).toBeNull();
  expect(askAboutResistance(milliohm('430'), null)).toBeNull();
});

test('of a resistance that was computed nobody can say what was meant', () => {
  expect(questionIn(askAboutResistance({ value: 0.43, step: null }, 0.045))).toEqual({
    text: expect.stringContaining('bad contact'),
    meant: undefined,
  });
});

describe('digits swapped or dropped', () => {
  test.each([
    ['18.7', 14.9, 0.3, 14.87],
    ['3.17', 3.72, 0.06, 3.71],
    ['2.46', 3.72, 0.06, undefined],
  ])('%s among %f was %f', (text, expected, within, meant) => {
    const found = misread(typed(text), expected, within)?.value;
    if (meant === undefined) expect(found).toBeUndefined();
    else expect(Math.abs((found ?? NaN) - expected)).toBeLessThanOrEqual(Math.abs(meant - expected) + 0.03);
  });

  test('a voltage far from its neighbours is asked about where a swap explains it, and a weak cell is not', () => {
    expect(questionIn(askAboutVoltage(typed('3.17'), 'li-ion', 3.72))).toEqual({
      text: expect.stringContaining('Was it 3.71 V?'),
      meant: '3.71 V',
    });
    expect(askAboutVoltage(typed('2.46'), 'li-ion', 3.72)).toBeNull();
    expect(askAboutVoltage(typed('3.66'), 'li-ion', 3.72)).toBeNull();
  });

  test('a resistance below zero is asked about even in an empty batch', () => {
    expect(textOf(askAboutResistance(milliohm('-2'), null))).toContain('above zero');
  });
});

test('on one battery, one that reads far off is asked about', () => {
  expect(askAgainstOthers(typed('37.1'), 3.712)?.meant).toBe('3.71 V');
  expect(questionIn(askAgainstOthers(typed('2.9'), 3.712))).toEqual({
    text: expect.stringContaining('the same battery'),
    meant: undefined,
  });
  expect(askAgainstOthers(typed('3.7'), 3.712)).toBeNull();
});

test('a figure with finer digits than its instrument shows is asked about, and one with fewer', () => {
  const meter = { code: 'DM1', resolution: 0.01, as: display.voltage };
  expect(textOf(askAboutDigitsOf(typed('3.801'), meter))).toContain('DM1 does not show digits that fine');
  expect(questionIn(askAboutDigitsOf(typed('3.8'), meter))).toEqual({
    text: expect.stringContaining('Was it 3.80 V?'),
    meant: '3.80 V',
  });
  expect(askAboutDigitsOf(typed('3.80'), meter)).toBeNull();
  expect(askAboutDigitsOf(milliohm('21'), { code: 'RM1', resolution: 0.0001, as: display.resistance })?.meant).toBe(
    '21.0 mΩ',
  );
  expect(askAboutDigitsOf(typed('3.8'), null)).toBeNull();
});

test('digits of a coarser range that is noted are not asked about', () => {
  const ranged = { code: 'DM1', resolution: 0.001, coarser: [0.01], as: display.voltage };
  expect(askAboutDigitsOf(typed('3.80'), ranged)).toBeNull();
  expect(askAboutDigitsOf(typed('3.8'), ranged)).not.toBeNull();
});

test('beyond its counts a meter shows fewer digits: its next range', () => {
  const meter = { code: 'DM1', resolution: 0.001, as: display.voltage };
  expect(askAboutDigitsOf(typed('12.34'), meter)).toBeNull();
  expect(askAboutDigitsOf(typed('12.3'), meter)?.meant).toBe('12.30 V');
  expect(askAboutDigitsOf(typed('4.15'), meter)?.meant).toBe('4.150 V');
});
