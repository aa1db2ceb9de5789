import { coverageOf, type Population } from './coverage';
import { batchPopulations } from './batches';
import { dischargePopulations } from './discharges';
import { instrumentPopulations } from './instruments';
import { packRunPopulations } from './packRuns';
import { packPopulations } from './packs';
import { pulsePopulations, relaxationPopulations } from './pulses';
import { readingPopulations } from './readings';

/**
 * Quick rounds of `npm run coverage`: simulated cases whose truth is known, by a model that is not the one under test.
 * Of this many cases 95 of 100 are met within three deviations by this share.
 */
const leastHeld = (cases: number): number => 0.95 - 3 * Math.sqrt((0.95 * 0.05) / cases);

const named = (populations: readonly Population[], ...words: string[]): [string, Population][] =>
  words.map((word) => {
    const found = populations.find(({ made, figures }) => `${figures.join(' ')} ${made}`.includes(word));
    if (!found) throw new Error(`There is no population "${word}".`);
    return [`${found.figures[0]}: ${found.made}`, found];
  });

test.each([
  ...named(
    dischargePopulations,
    'rest of 10 min before',
    'every 60 s, the log ends',
    'resistor ± 1 %, 30 s',
    '12 mA of noise',
  ),
  ...named(
    pulsePopulations,
    'at 1s column, 1 s',
    'exactly 10 s, 1 s',
    'steps of 0.1 A',
    'steps of 10 mV',
    'told current',
    'release after 35',
  ),
])('%s', (_, population) => {
  const cases = 40;
  const [coverage] = coverageOf(population, cases, 11);
  expect(coverage?.told).toBeGreaterThanOrEqual(0.85);
  expect(coverage?.held).toBeGreaterThanOrEqual(leastHeld(cases));
  expect(coverage?.errorOverU).toBeLessThan(1.2);
});

test.each([
  ...named(readingPopulations, 'resistor ± 5 %', '± 5 counts', 'after 50 to 70 s', 'two wires', 'four wires'),
  ...named(instrumentPopulations, 'one level', 'gain from three levels', 'five meters and one', 'fine one 6 mV'),
  ...named(
    batchPopulations,
    'batch of 5 ',
    'batch of 40',
    'than 8, differences of one size',
    'than 8, differences that grow',
    'than 6',
    'pouch cell from 20',
    'cylindrical',
  ),
  ...named(packPopulations, 'four groups of three', 'shared out'),
])('%s', (_, population) => {
  const cases = 300;
  for (const coverage of coverageOf(population, cases, 12)) {
    expect(coverage.told).toBeGreaterThanOrEqual(0.9);
    expect(coverage.held).toBeGreaterThanOrEqual(leastHeld(cases));
  }
});

test.each(named(packRunPopulations, 'four groups logged', 'three groups logged'))('%s', (_, population) => {
  const cases = 60;
  for (const coverage of coverageOf(population, cases, 14)) {
    expect(coverage.told).toBeGreaterThanOrEqual(0.9);
    expect(coverage.held).toBeGreaterThanOrEqual(leastHeld(cases));
  }
});

test('what comes at once and later, of cells with one, two and three branches', () => {
  for (const [, population] of named(
    relaxationPopulations,
    '1 branch, pulse of 60 s, every 0.1',
    '2 branches, pulse of 30 s, every 0.1',
    '3 branches, pulse of 60 s, every 0.1',
    '3 branches, pulse of 60 s, every 1 s',
  )) {
    for (const coverage of coverageOf(population, 30, 13))
      if (coverage.told > 0.3)
        expect({ ...coverage, held: coverage.held >= leastHeld(30) }).toMatchObject({ held: true });
  }
});
