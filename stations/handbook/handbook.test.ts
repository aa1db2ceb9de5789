import { presetRules, ruleKeys } from '@/core/chemistry/houseRules';
import { handbookEntries } from '@/core/handbook/book';
import { pageExplaining } from '@/words/explained';
import { foundIn, handbookPages, isInHandbook } from '@/workshop/handbookPages';
import katex from 'katex';

const pages = handbookPages(presetRules('workshop'));
const keys = pages.map(({ key }) => key);
const pageOf = (key: string) => pages.find((page) => page.key === key) ?? fail(`There is no page ${key}.`);
const fail = (message: string): never => {
  throw new Error(message);
};

test('every page has its own address, a title, a text and a source', () => {
  expect(new Set(keys).size).toBe(keys.length);
  for (const { key, title, text, sources } of pages) {
    expect({ key, isFull: title !== '' && text.length > 0 && sources.length > 0 }).toEqual({ key, isFull: true });
    expect(isInHandbook(key)).toBe(true);
  }
  expect(isInHandbook('nothing')).toBe(false);
});

test('every related page, house rule and explained code leads to a page', () => {
  const linked = [
    ...pages.flatMap(({ see, rules }) => [...see, ...rules]),
    ...Object.values(pageExplaining),
    ...ruleKeys,
  ];
  expect(linked.filter((key) => !keys.includes(key))).toEqual([]);
});

test('a page can be reached from another: none is found only by searching', () => {
  const reached = new Set([...handbookEntries.flatMap(({ see = [] }) => see), ...Object.values(pageExplaining)]);
  expect(handbookEntries.filter(({ key }) => !reached.has(key)).map(({ key }) => key)).toEqual([]);
});

test('every formula and every symbol is TeX that can be set', () => {
  const formulas = handbookEntries.flatMap((entry) => entry.formulas ?? []);
  for (const { tex, where } of formulas)
    for (const one of [tex, ...where.map(([symbol]) => symbol)]) expect(katex.renderToString(one)).toContain('katex');
  // A formula without its symbols explains nothing.
  expect(formulas.filter(({ where }) => where.length === 0)).toEqual([]);
});

test('every figure is computed and has a value that a person can read', () => {
  const all = pages.flatMap(({ key, figures }) => figures.map(({ name, figure }) => `${key}: ${name} = ${figure}`));
  expect(all.filter((line) => /= $|NaN|undefined|null|\[object|Infinity/.test(line))).toEqual([]);
  expect(pageOf('lowestPouchV').figures).toEqual([
    { name: 'in force here', figure: '3 V' },
    { name: 'careful', figure: '3.2 V' },
    { name: 'workshop', figure: '3 V' },
    { name: 'thrifty', figure: '3 V' },
  ]);
  expect(pageOf('sag-and-heat').figures[0]).toEqual({
    name: 'Sag: 20 A through 35 mΩ',
    figure: '0.700 ± 0.020 V',
  });
  expect(pageOf('chemistry-lipo').table?.rows).toContainEqual(['50 %', '3.84 V']);
  expect(pageOf('chemistry-li-ion').table?.head).toHaveLength(4);
});

test('hand-worked: what a worked example says is what its formula gives', () => {
  const figure = (key: string, start: string) => pageOf(key).figures.find(({ name }) => name.startsWith(start))?.figure;
  // 1 / (1/40 + 1/40 + 1/60) = 15; 4.5 / 3 = 1.5; 3.6 · 0.1 / 0.04 / 2.4 = 3.75; √(3² + 4²) = 5; 0.1 / 0.02 = 5.
  expect(figure('parallel-cells', '40, 40')).toBe('15 mΩ');
  expect(figure('c-rate', '4.5 A')).toBe('1.5 C');
  expect(figure('rate-at-sag', '3.6 V')).toMatch(/^3\.75 ± /);
  expect(figure('uncertainty', '3 mΩ')).toBe('5 mΩ');
  expect(figure('incremental-capacity', '0.1 Ah')).toBe('5 Ah/V');
  // 2^((25 − 5)/25) = 1.741; 0.127 mm · 92^(18/39) = 1.024 mm across, 0.823 mm².
  expect(figure('cold', 'Factor at 5')).toBe('1.74');
  expect(figure('lead-resistance', 'Cross-section')).toBe('0.823 mm²');
});

test('a search finds a page by any words of it, in any order; those with them in their title first', () => {
  expect(foundIn(pages, 'alarm pouch')[0]?.key).toBe('alarmPouchV');
  expect(foundIn(pages, '  LAMP  filament ').map(({ key }) => key)).toContain('retire');
  expect(foundIn(pages, 'no such words anywhere')).toEqual([]);
  expect(foundIn(pages, '')).toHaveLength(pages.length);
});

test('a house rule names the pages that it changes', () => {
  expect(pageOf('holdDriftV').see).toContain('self-discharge');
  expect(pageOf('spreadOutV').see).toContain('imbalance');
});
