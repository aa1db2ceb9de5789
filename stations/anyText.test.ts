import { createCsvLog } from '@/core/capacity/csvLog';
import type { Sample } from '@/core/capacity/logReader';
import { ImpossibleInput } from '@/core/impossibleInput';
import { display } from '@/core/quantity/format';
import { parseQuantity } from '@/core/quantity/parse';
import fc from 'fast-check';
import { needOf, needOfText } from './builds/need';
import { understandGroups } from '@/stations/clinic/packLine';
import { understandSheetLine } from '@/stations/instruments/sheetLine';
import { parseIntakeLine } from '@/stations/intake/intakeLine';
import { understandReading } from '@/stations/resistance/roundLine';
import { readQuery } from './shelf/query';

/** Hands slip in every way: letters, signs and figures as they may fall on a keyboard. */
const keys = [...'0123456789.,-+=<>/ VAmΩgkshdlrwpPS1μ\t"', 'NaN', '1e9', 'Infinity', 'S1-001', 'PF1', ' 3.7 '];
const typed = fc.array(fc.constantFrom(...keys), { maxLength: 14 }).map((parts) => parts.join(''));

const cell = {
  code: 'S1-001',
  chemistry: 'li-ion',
  modelMassKg: 0.045,
  missing: ['voltage', 'weight', 'inspection'],
  has: {},
  times: 0,
  weldedTo: [],
  series: 1,
} as const;
const noNaN = (value: unknown) =>
  expect(
    JSON.stringify(value, (_, one: unknown) => (typeof one === 'number' && !Number.isFinite(one) ? 'not finite' : one)),
  ).not.toContain('not finite');

const parsers: Record<string, (text: string) => unknown> = {
  'a figure': (text) => parseQuantity(text, { dimension: 'voltage', factor: 1 }),
  'a line of the intake': (text) => parseIntakeLine(text, cell, () => cell),
  'a step with a resistor': (text) =>
    understandReading(
      text,
      { method: 'resistor', loadResistanceOhm: 2, batchMedianOhm: 0.05 },
      cell,
      () => cell,
      () => null,
    ),
  'a step with an ammeter': (text) =>
    understandReading(
      text,
      { method: 'ammeter', loadResistanceOhm: null, batchMedianOhm: null },
      cell,
      () => null,
      () => null,
    ),
  'a reading of an AC meter': (text) =>
    understandReading(
      text,
      { method: 'ac-meter', loadResistanceOhm: null, batchMedianOhm: 0.04 },
      cell,
      () => cell,
      () => null,
    ),
  'two currents': (text) =>
    understandReading(
      text,
      { method: 'two-current', loadResistanceOhm: null, batchMedianOhm: null },
      cell,
      () => cell,
      () => null,
    ),
  'group voltages': (text) => understandGroups(text, { code: 'PF1', chemistry: 'lfp', series: 2 }, () => null),
  'a line of a cross-check': (text) =>
    understandSheetLine(text, 1, [{ code: 'DM', channels: 3, resolution: 0.001, as: display.voltage }], 2, {
      othersV: () => null,
      standing: () => null,
      corrects: false,
      isPack: false,
    }),
  'a line of a cross-check on a pack': (text) =>
    understandSheetLine(text, 1, [{ code: 'DM', channels: 3, resolution: 0.001, as: display.voltage }], 2, {
      othersV: () => null,
      standing: () => null,
      corrects: false,
      isPack: true,
    }),
  'a filter of the shelf': readQuery,
  'a pack': needOfText,
  'an address of a match': (text) => needOf({ series: text, parallel: text, enoughAh: text }),
};

test.each(Object.entries(parsers))('%s: any text gives an answer, and no figure that is none', (_, parse) => {
  fc.assert(
    fc.property(fc.oneof(typed, fc.string({ maxLength: 30 })), (text) => noNaN(parse(text))),
    { numRuns: 400, examples: [[`3.7${'0'.repeat(150)}1`]] },
  );
});

test('a log of any text is read or refused as what it is', () => {
  const line = fc.array(fc.constantFrom('1', '2.5', '3,7', 'x', '', '-4', '00:01:02', '2026-01-01T00:00:00Z'), {
    minLength: 1,
    maxLength: 4,
  });
  const file = fc
    .tuple(fc.array(line, { maxLength: 40 }), fc.constantFrom(',', ';', '\t'))
    .map(([lines, separator]) => lines.map((cells) => cells.join(separator)).join('\n'));
  fc.assert(
    fc.property(file, (text) => {
      const samples: Sample[] = [];
      const log = createCsvLog((sample) => samples.push(sample));
      try {
        log.push(text);
        log.finish();
        noNaN(samples);
        samples.slice(1).forEach((sample, i) => expect(sample.timeS).toBeGreaterThanOrEqual(samples[i]?.timeS ?? NaN));
      } catch (error) {
        expect(error).toBeInstanceOf(ImpossibleInput);
      }
    }),
    { numRuns: 400 },
  );
});
