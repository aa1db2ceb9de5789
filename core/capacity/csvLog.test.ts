import { refusalOf } from '@/words/impossible';
import fc from 'fast-check';
import { createCsvLog } from './csvLog';
import type { Sample } from './logReader';

function readInPortions(text: string, size: number) {
  const samples: Sample[] = [];
  const log = createCsvLog((sample) => samples.push(sample));
  for (let i = 0; i < text.length; i += size) log.push(text.slice(i, i + size));
  log.finish();
  return samples;
}

const lines = (line: (i: number) => string) => Array.from({ length: 40 }, (_, i) => line(i)).join('\r\n');

test('the portions in which a file arrives do not matter', () => {
  const text = `\uFEFF"Time (s)","Voltage (V)"\r\n${lines((i) => `${i},${(4 - i / 50).toFixed(2)}`)}`;
  const whole = readInPortions(text, text.length);
  expect(whole).toHaveLength(40);
  fc.assert(fc.property(fc.integer({ min: 1, max: 300 }), (size) => expect(readInPortions(text, size)).toEqual(whole)));
});

test('semicolons win over decimal commas, tabs over nothing', () => {
  expect(
    readInPortions(
      lines((i) => `${i},0;3,${900 - i}`),
      64,
    )[2],
  ).toMatchObject({ timeS: 2, voltageV: 3.898 });
  expect(
    readInPortions(
      lines((i) => `${i}\t3.${900 - i}`),
      64,
    )[2],
  ).toMatchObject({ timeS: 2, voltageV: 3.898 });
});

test('a file that is not text is refused as such', () => {
  expect(refusalOf(() => readInPortions('\u0000\u0001'.repeat(60_000), 8192))).toContain('not a text table');
  expect(refusalOf(() => readInPortions('', 10))).toContain('empty');
});
