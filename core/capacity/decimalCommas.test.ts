import { refusalOf } from '@/words/impossible';
import { createCsvLog } from './csvLog';
import type { Logged } from './logColumns';
import type { Sample } from './logReader';

const read = (text: string, logged?: Logged): Sample[] => {
  const samples: Sample[] = [];
  const log = createCsvLog((sample) => samples.push(sample), logged);
  log.push(text);
  log.finish();
  return samples;
};
const rows = (count: number, row: (i: number) => string): string =>
  Array.from({ length: count }, (_, i) => row(i)).join('\n');

test.each([
  ['with a heading', `time,voltage\n${rows(40, (i) => `${10 * i},4,${100 - i}`)}`],
  ['with a heading, short', `time,voltage\n${rows(5, (i) => `${10 * i},4,${100 + i}`)}`],
  ['with a heading of three', `time,voltage,current\n${rows(40, (i) => `${10 * i},4,${100 + i},0,500`)}`],
  ['without a heading', rows(40, (i) => `${10 * i},4,${100 + i}`)],
])('decimal commas between commas are refused in words: %s', (_, text) => {
  expect(refusalOf(() => read(`${text}\n`))).toMatch(/decimal commas, and commas separate the fields too/);
});

test.each([
  ['an empty last field', `time,voltage\n${rows(40, (i) => `${10 * i},4.1,`)}`],
  ['a remark now and then', `time,voltage\n${rows(40, (i) => `${10 * i},4.1${i === 7 ? ',look' : ''}`)}`],
  ['millivolts and milliamperes', rows(40, (i) => `${10 * i},${4100 - i},1000`)],
  ['decimal points', rows(40, (i) => `${10 * i},4.1,500`)],
])('a log with %s is none of them', (_, text) => {
  expect(read(`${text}\n`)).toHaveLength(40);
});

test('a person who says what each column holds is believed', () => {
  const columns = [
    { field: 'time' as const, index: 0, unit: 's' },
    { field: 'voltage' as const, index: 1, unit: 'V' },
  ];
  const text = `time,voltage\n${rows(40, (i) => `${10 * i},4,${100 + i}`)}\n`;
  const samples = read(text, { series: 1, mapping: { separator: ',', headingRows: 1, columns } });
  expect(samples[0]).toMatchObject({ voltageV: 4 });
});

test.each([200, 10_000])('lines that end with CR alone are lines (portions of %d)', (size) => {
  const text = `time,voltage\r${rows(60, (i) => `${10 * i},${(4.1 - i / 1000).toFixed(3)}`).replaceAll('\n', '\r')}\r`;
  const samples: Sample[] = [];
  const log = createCsvLog((sample) => samples.push(sample));
  for (let at = 0; at < text.length; at += size) log.push(text.slice(at, at + size));
  log.finish();
  expect(samples).toHaveLength(60);
});
