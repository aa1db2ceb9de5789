import { agreementOf, isApart } from './agreement';
import { currentsAsked, judgeRatio, showsTenSeconds } from './methods';

const large = [494, 395, 516, 434, 476, 557, 413, 442, 650, 433, 417, 656, 267, 478, 178, 423, 427];
const mini = [512, 430, 520, 428, 500, 600, 364, 380, 658, 445, 432, 626, 260, 477, 259, 350, 451];

test('Bland and Altman 1986: peak flow by two meters', () => {
  const found = agreementOf(large.map((first, i) => ({ first, second: mini[i] as number })));
  expect(found?.bias.value).toBeCloseTo(-2.1, 1);
  expect(found?.spread).toBeCloseTo(38.8, 1);
  // The paper's limits are ± 2 standard deviations; ours, for 17 subjects, ± 2.18.
  const [bias, deviation] = [found?.bias.value ?? NaN, found?.spread ?? NaN];
  expect(bias - 2 * deviation).toBeCloseTo(-79.6, 1);
  expect(bias + 2 * deviation).toBeCloseTo(75.4, 1);
  expect(((found?.high ?? NaN) - bias) / deviation).toBeCloseTo(2.12 * Math.sqrt(1 + 1 / 17), 2);
  // The paper's standard errors: 9.4 of the bias, 16.3 of either limit; t with 16 degrees 2.12.
  expect(found?.bias.u).toBeCloseTo(9.4, 1);
  expect(found?.limitU).toBeCloseTo(2.12 * 16.3, 0);
});

test('differences that grow with the size are told: there the ratio says more', () => {
  const pairs = [20, 25, 30, 35, 40, 60, 80, 110].map((first) => ({ first, second: 1.6 * first }));
  expect(agreementOf(pairs)).toMatchObject({ growing: true, ratio: expect.closeTo(1.6, 9) });
  expect(agreementOf(large.map((first, i) => ({ first, second: mini[i] as number })))?.growing).toBe(false);
  expect(agreementOf(large.map(() => ({ first: 1, second: 1 })))?.growing).toBe(false);
});

test('the odd one is odd by the ratio where differences grow, by the difference elsewhere', () => {
  const chance = [0.02, -0.03, 0.01, 0.04, -0.02, 0.03, -0.01, -0.04, 0.02, 0];
  const pairs = [20, 25, 30, 35, 40, 60, 80, 110, 150, 200].map((first, i) => ({
    first,
    second: first * 1.6 * (1 + (chance[i] as number)),
  }));
  const found = agreementOf(pairs);
  if (!found) throw new Error('nothing found');
  expect(found.ratioLow).toBeGreaterThan(1.45);
  expect(found.ratioHigh).toBeLessThan(1.75);
  expect(isApart({ first: 300, second: 480 }, found)).toBe(false);
  expect(isApart({ first: 30, second: 60 }, found)).toBe(true);
});

test('a handful of cells says nothing', () => {
  expect(agreementOf(large.slice(0, 7).map((first) => ({ first, second: first })))).toBeNull();
});

test.each([
  ['ac-meter', 'ammeter', 1.6, true],
  ['ac-meter', 'ammeter', 3.1, false],
  ['resistor', 'ac-meter', 0.6, true],
  ['resistor', 'ac-meter', 1.4, false],
  ['resistor', 'preload', 1.03, true],
  ['resistor', 'two-current', 0.8, true],
  ['told', 'resistor', 2, null],
] as const)('%s to %s: a ratio of %f is usual: %s (common practice)', (first, second, ratio, isUsual) => {
  expect(judgeRatio(first, second, ratio)).toMatchObject({ isUsual, why: expect.any(String) });
});

test.each([
  ['resistor', 10, true],
  ['preload', 8, true],
  ['ammeter', 1, false],
  ['resistor', 60, false],
  ['pulse', 1, true],
  ['two-current', 10, false],
  ['ac-meter', 10, false],
  ['told', 10, false],
] as const)('%s read after %s s grades a cell: %s', (method, holdS, grades) => {
  expect(showsTenSeconds(method, holdS)).toBe(grades);
});

test('common practice: two currents are a fifth of the rated capacity, then all of it; a rate is a share of it too', () => {
  expect(currentsAsked('two-current', 2.45, null)).toEqual([expect.closeTo(0.49, 9), 2.45]);
  expect(currentsAsked('told', 2.4, 1.5)).toEqual([expect.closeTo(3.6, 9)]);
  expect(currentsAsked('resistor', 2.4, null)).toEqual([]);
});
