import { type RoundContext, understandStep } from './entry';

const cell = { code: 'H1-007', chemistry: 'li-ion' } as const;
const resistor: RoundContext = { method: 'resistor', loadResistanceOhm: 1.8, batchMedianOhm: 0.05 };
const ammeter: RoundContext = { method: 'ammeter', loadResistanceOhm: null, batchMedianOhm: null };
const understand = (text: string, round = resistor) => understandStep(text, round, cell, (code) => (code === 'H1-008' ? { ...cell, code } : null));

test('two voltages with a resistor, a third is the level after', () => {
  expect(understand('3.95 3.85')).toMatchObject({ code: 'H1-007', reading: { openV: 3.95, loadedV: 3.85, afterV: null, currentA: null, step: 0.01 }, asks: null });
  expect(understand('h1-8 3,950 3,85 3,945')).toMatchObject({ code: 'H1-008', reading: { afterV: 3.945, step: 0.01 } });
});

test('with an ammeter the current comes third, or anywhere with its unit', () => {
  expect(understand('3.95 3.87 1.62', ammeter)).toMatchObject({ reading: { currentA: 1.62, currentStep: 0.01, afterV: null } });
  expect(understand('1620 mA 3.95 3.87 3.94', ammeter)).toMatchObject({ reading: { currentA: 1.62, afterV: 3.94 }, said: 'H1-007: open 3.950 V, loaded 3.870 V at 1.62 A, after 3.940 V' });
});

test.each([
  ['3.85 3.95', 'swapped'],
  ['39.5 3.85', '3.950 V would fit'],
  ['3.95 3.85 3.85', 'load still on'],
  ['3.95 3.85 3.96', 'still settling'],
  ['3.95 3.05', 'where its batch has'],
])('%s is asked about', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'step', asks: expect.stringContaining(words) });
});

test.each([
  ['3.95', 'expected open, loaded'],
  ['3.95 x', '"x" was not understood'],
  ['3.9 3.8 3.85 3.8 3.7', 'Too much'],
  ['Z9-001 3.9 3.8', 'not among the cells'],
])('%s is refused in words', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(words) });
});

test('a code alone goes there', () => {
  expect(understand('H1-8')).toEqual({ kind: 'go', code: 'H1-008' });
});
