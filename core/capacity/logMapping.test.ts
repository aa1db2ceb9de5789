import { refusalOf } from '@/words/impossible';
import { momentOf } from './loggedMoment';
import { createByteLog } from './logBytes';
import type { Logged } from './logColumns';
import { type LogMapping, mappingOf, shapeOf } from './logMapping';
import type { Sample } from './logReader';

function readAs(text: string, logged: Logged) {
  const samples: Sample[] = [];
  const log = createByteLog((sample) => samples.push(sample), logged);
  log.push(Buffer.from(text));
  return { end: log.finish(), head: log.head(), samples };
}

const rows = (line: (i: number) => string, n = 30): string => Array.from({ length: n }, (_, i) => line(i)).join('\n');
/** Nothing in it says what its columns are. */
const unmapped = `logger 7\n${rows((i) => `${i}|${4100 - i}|${21 + i / 10}|${500 + (i % 3)}`)}`;
const mapped: LogMapping = {
  separator: '|',
  headingRows: 1,
  columns: [
    { index: 0, field: 'time', unit: 'min' },
    { index: 1, field: 'voltage', unit: 'mv' },
    { index: 2, field: 'temperature', unit: 'c' },
    { index: 3, field: 'current', unit: 'ma' },
  ],
};

test('what somebody says of the columns counts, units too', () => {
  const { samples, end } = readAs(unmapped, { series: 1, mapping: mapped });
  expect(samples).toHaveLength(30);
  expect(samples[29]).toEqual({
    timeS: 29 * 60,
    voltageV: expect.closeTo(4.071, 9),
    temperatureC: 23.9,
    currentA: expect.closeTo(0.502, 9),
  });
  expect(end.warnings).toEqual([]);
});

test('without a column of time its samples lie as far apart as was said', () => {
  const { samples } = readAs(`V\n${rows((i) => `${(4 - i / 100).toFixed(2)};x`, 3000)}`, {
    series: 1,
    mapping: { separator: ';', headingRows: 1, columns: [{ index: 0, field: 'voltage', unit: 'v' }], intervalS: 5 },
  });
  expect([samples[0]?.timeS, samples[2999]?.timeS]).toEqual([0, 2999 * 5]);
});

test('a mapping is as good as what it was made of, and the next file of that shape is known', () => {
  const pack = `time;cell1;cell2\n${rows((i) => `${i},5;${(3.9 - i / 50).toFixed(2)};${(3.8 - i / 50).toFixed(2)}`)}`;
  const { head, end, samples } = readAs(pack, { series: 2 });
  const mapping = mappingOf(head, end.columns, false);
  expect(readAs(pack, { series: 2, mapping }).samples).toEqual(samples);
  expect(shapeOf(head)).toBe('3|time|cell1|cell2');
  expect(shapeOf(readAs(pack.replace('3,90', '3,91').replace('Time', 'time'), { series: 2 }).head)).toBe(shapeOf(head));
});

test('taps that were understood stay taps, dates in a column of their own stay theirs', () => {
  const volts = (i: number) => `${(3.9 - i / 99).toFixed(2)},${(7.7 - i / 50).toFixed(2)}`;
  const taps = `date,time,v1,v2\n${rows((i) => `2026-03-01,10:00:${10 + i},${volts(i)}`)}`;
  const { head, end, samples } = readAs(taps, { series: 2 });
  const mapping = mappingOf(head, end.columns, true);
  expect(mapping.columns.map(({ field }) => field).sort()).toEqual(['day', 'tap', 'tap', 'time']);
  const again = readAs(taps, { series: 2, mapping });
  expect(again.samples).toEqual(samples);
  expect(again.end.endedAt).toEqual(end.endedAt);
});

test('the days that a spreadsheet counts are dates', () => {
  const serial = 46_000.75;
  const { samples, end } = readAs(`when,V\n${rows((i) => `${serial + i / 86_400},${4 - i / 100}`)}`, { series: 1 });
  expect(samples[29]?.timeS).toBeCloseTo(29, 3);
  expect(end.endedAt && momentOf(end.endedAt).getTime()).toBeCloseTo(new Date(2025, 11, 9, 18, 0, 29).getTime(), -2);
});

test('what cannot be is said', () => {
  const refused = (change: Partial<LogMapping>, series = 1) =>
    refusalOf(() => readAs(unmapped, { series, mapping: { ...mapped, ...change } }));
  expect(refused({ columns: mapped.columns.slice(1) })).toContain('No column is set to time');
  expect(refused({ columns: mapped.columns.slice(0, 1) })).toContain('set to voltage');
  expect(refused({ columns: [...mapped.columns, { index: 2, field: 'current', unit: 'a' }] })).toContain('Two columns');
  const group = { index: 1, field: 'group', position: 1, unit: 'mv' } as const;
  expect(refused({ columns: [...mapped.columns, group] }, 2)).toContain('voltages of 1 group, the pack has 2');
  expect(refused({ columns: mapped.columns.map((one) => ({ ...one, index: one.index + 9 })) })).toContain('samples');
  expect(refused({ separator: ';' })).not.toBeNull();
});
