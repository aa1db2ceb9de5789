import { presetRules, ruleKeys } from '@/core/chemistry/houseRules';
import { codeHandbook, pagesIn, sourceFile } from '@/docs/handbook';
import { readFileSync } from 'node:fs';
import { foundIn, pagesOf, saidWithin } from './pages';

const told = codeHandbook();
const pages = pagesOf(told, presetRules('workshop'));
const pageOf = (key: string) => {
  const page = pages.find((one) => one.key === key);
  if (!page) throw new Error(`There is no page ${key}.`);
  return page;
};

test('what ships is what the code says now; otherwise run npm run handbook', () => {
  expect(JSON.parse(readFileSync('docs/handbook.json', 'utf8'))).toEqual(told);
});

test('a page for each: no key stands twice, nothing is without a title, a text and a source', () => {
  expect(new Set(pages.map(({ key }) => key)).size).toBe(pages.length);
  for (const { key, title, text, source } of pages) {
    expect({ key, isFull: title !== '' && text !== '' && source !== '' }).toEqual({ key, isFull: true });
    expect(JSON.stringify([title, text])).not.toMatch(/undefined|NaN|\[object/);
  }
  expect(ruleKeys.every((key) => pages.some((page) => page.key === key))).toBe(true);
});

test('the figures are those that compute: a rule with its schools, a table, a limit with what uses it', () => {
  expect(pageOf('lowestPouchV')).toMatchObject({
    kind: 'house rule',
    figures: [
      { name: 'in force here', figure: '3 V' },
      { name: 'careful', figure: '3.2 V' },
      { name: 'workshop', figure: '3 V' },
      { name: 'thrifty', figure: '3 V' },
    ],
  });
  expect(pageOf('curve-lipo').figures).toContainEqual({ name: '50 %', figure: '3.84 V' });
  expect(pageOf('planning-chargerSheet-temperatureLimitC')).toMatchObject({
    kind: 'limit',
    source: 'common practice',
    figures: [{ figure: '49' }],
  });
  expect(pageOf('judging-upkeep-lookSays').rules).toContain('holdDriftV');
  expect(pageOf('spreadOutV').usedFor.join(' ')).toContain('as a pack comes back');
});

test('a search finds a page by any words of it, in any order; those with them in their title first', () => {
  expect(foundIn(pages, 'alarm pouch')[0]?.key).toBe('alarmPouchV');
  expect(foundIn(pages, '  FILAMENT  colder ').map(({ key }) => key)).toContain('planning-runDown-filament');
  expect(foundIn(pages, 'no such words anywhere')).toEqual([]);
  expect(foundIn(pages, '')).toHaveLength(pages.length);
});

test('a constant tells its name, unit and value, reckoned where it is a sum; what says no source is an own rule', () => {
  const code = `
    const dayMs = 24 * 3_600_000;
    /** So long it rests. From memory. */
    const restMs = 2 * dayMs;
    /** How many lines are read, and letters of each. */
    const mostLines = 7;
    const mostLetters = 80;

    const untold = 5;
    /** How it is written. */
    const dayForm = /\\d+/;
    /** Two of them, V. Common practice. */
    const [lowV, highV] = [1.5, -(2 + 1)];
    /** What it comes to by then. Source: Ohm's law. */
    export function restOf(a: number) { return a * restMs; }
  `;
  const [rest, lines, two, formula, ...more] = pagesIn(sourceFile('core/hold/x.ts', code));
  expect(more).toEqual([]);
  expect(rest).toMatchObject({
    key: 'hold-x-restMs',
    source: 'from memory',
    title: 'So long it rests',
    values: [{ name: 'rest', value: 172_800_000, unit: 'ms' }],
    usedFor: ['What it comes to by then.'],
  });
  expect(lines).toMatchObject({ key: 'hold-x-mostLines', source: 'own rule', also: ['mostLetters'] });
  expect(lines?.values.map(({ value }) => value)).toEqual([7, 80]);
  expect(two?.values.map(({ name, value, unit }) => [name, value, unit])).toEqual([
    ['low', 1.5, 'V'],
    ['high', -3, 'V'],
  ]);
  expect(formula).toMatchObject({ kind: 'formula', source: 'published', room: 'hold' });
});

test('what is said leads to the figures named beside it; where none is, to all of its room', () => {
  const keysOf = (code: string) => saidWithin(told, code, pages)?.pages.map(({ key }) => key);
  expect(keysOf('load-overrated')).toContain('resistance-loadStep-resolvedShare');
  expect(keysOf('risen')).toEqual(expect.arrayContaining(['judging-endOfLife-heavyRise', 'resistanceRisen']));
  expect(saidWithin(told, 'wild-samples', pages)).toMatchObject({ isNamed: false });
  expect(keysOf('wild-samples')?.every((key) => key.startsWith('capacity-'))).toBe(true);
  expect(keysOf('charge-shifted')?.every((key) => key.startsWith('packs-'))).toBe(true);
  expect([saidWithin(told, 'nobody-says-this', pages), saidWithin(told, 'constructor', pages)]).toEqual([null, null]);
});
