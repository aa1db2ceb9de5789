import { presetRules, ruleKeys } from '@/core/chemistry/houseRules';
import { type CodeHandbook, codeHandbook, coreFile, pagesIn } from '@/docs/handbook';
import { comesTo } from '@/docs/worked';
import { readFileSync } from 'node:fs';
import { foundIn, pagesOf, saidWithin } from '@/workshop/handbookPages';

let told: CodeHandbook;
let pages: ReturnType<typeof pagesOf>;
beforeAll(async () => {
  told = await codeHandbook();
  pages = pagesOf(told, presetRules('workshop'));
});

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
    expect(JSON.stringify([title, text])).not.toMatch(/: undefined|undefined,|NaN|\[object/);
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

test('a formula has a figure worked by the code itself, or leads to the limits and rules it goes by', () => {
  const without = told.pages.filter(
    ({ kind, worked, goesBy, rules }) => kind === 'formula' && worked.length + goesBy.length + rules.length === 0,
  );
  // Their figures are the words of their text.
  expect(without.map(({ key }) => key)).toEqual(['grading-duty-rescuedOut', 'judging-judgeClinic-repeatedLows']);
  expect(pageOf('resistance-uses-sagV').figures).toEqual([{ name: '20 A through 35 mΩ', figure: '0.700 ± 0.020 V' }]);
  expect(pageOf('judging-judgeSheet-judgeSheet').goesBy.map(({ key }) => key)).toContain(
    'instruments-consensus-consensusOf',
  );
  expect(pageOf('instruments-leads-wireOhm').usedFor.join(' ')).toContain('Both leads of a two-wire instrument');
  expect(
    told.pages.flatMap(({ worked }) => worked).filter(({ figure }) => /nothing|undefined|NaN/.test(figure)),
  ).toEqual([]);
});

test('what an example comes to is written as people read it', () => {
  expect(comesTo(0.020_94, 'Ω')).toBe('0.0209 Ω');
  expect(comesTo(12_345.6, '')).toBe('12350');
  expect(comesTo({ value: 2.204, u: 0.27 }, 'Ah')).toBe('2.20 ± 0.27 Ah');
  expect(comesTo([4.7, 5.1], 'Ω')).toBe('4.7, 5.1 Ω');
  expect(comesTo(true, '')).toBe('yes');
  expect(comesTo(null, 'V')).toBe('nothing can be told');
});

test('a search finds a page by any words of it, in any order; those with them in their title first', () => {
  expect(foundIn(pages, 'alarm pouch')[0]?.key).toBe('alarmPouchV');
  expect(foundIn(pages, '  FILAMENT  colder ').map(({ key }) => key)).toContain('planning-runDown-filament');
  expect(foundIn(pages, 'no such words anywhere')).toEqual([]);
  expect(foundIn(pages, '')).toHaveLength(pages.length);
});

test('a constant tells its name, unit and value, computed where it is a sum; what says no source is an own rule', () => {
  const code = `
    const dayMs = 24 * 3_600_000;
    /** Time of rest. From memory. */
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
    /**
     * Twice as much.
     * @worked Of 3: \`twice(3)\` V
     */
    export const twice = (a: number) => 2 * a;
    /** The same. */
    export const same = (a: number) => a;
  `;
  const { pages, examples } = pagesIn(coreFile('core/hold/x.ts', code));
  const [rest, lines, two, formula, own, ...more] = pages;
  expect(more).toEqual([]);
  expect(own).toMatchObject({ key: 'hold-x-twice', kind: 'formula', source: 'own rule', text: 'Twice as much.' });
  expect(examples.get('hold-x-twice')).toEqual([{ name: 'Of 3', call: 'twice(3)', unit: 'V' }]);
  expect(rest).toMatchObject({
    key: 'hold-x-restMs',
    source: 'from memory',
    title: 'Time of rest',
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

test('what is said leads to the figures named beside it, or the formula that says it; else to all of its room', () => {
  const keysOf = (code: string) => saidWithin(told, code, pages)?.pages.map(({ key }) => key);
  expect(keysOf('load-overrated')).toEqual(['resistance-loadStep-loadStep']);
  expect(keysOf('keeps')).toEqual(['judging-upkeep-lookSays']);
  expect(keysOf('risen')).toEqual(expect.arrayContaining(['judging-endOfLife-heavyRise', 'resistanceRisen']));
  expect(saidWithin(told, 'no-such-sheet', pages)).toMatchObject({ isNamed: false });
  expect(keysOf('no-such-sheet')?.every((key) => key.startsWith('capacity-'))).toBe(true);
  expect(keysOf('charge-shifted')?.every((key) => key.startsWith('packs-'))).toBe(true);
  expect([saidWithin(told, 'nobody-says-this', pages), saidWithin(told, 'constructor', pages)]).toEqual([null, null]);
});
