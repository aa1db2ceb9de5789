import { refusalOf } from '@/words/impossible';
import { warningText } from '@/words/warnings';
import { momentOf } from './loggedMoment';
import { createLogReader, type Sample } from './logReader';

function readAll(text: string, separator = ',', seriesCells = 1) {
  const samples: Sample[] = [];
  const reader = createLogReader((sample) => samples.push(sample), { series: seriesCells });
  text.split('\n').forEach((line) => reader.push(line.split(separator)));
  const end = reader.finish();
  return { ...end, samples, codes: end.warnings.map((warning) => warning.code) };
}

const many = (line: (i: number) => string, n = 30) => Array.from({ length: n }, (_, i) => line(i)).join('\n');

test('a heading with units', () => {
  const log = readAll(
    `Time (s),Voltage (V),Current (A),Temp\n${many((i) => `${i},${(4 - i / 100).toFixed(3)},0.5,21.4`)}`,
  );
  expect(log.samples).toHaveLength(30);
  expect(log.samples[29]).toEqual({ timeS: 29, voltageV: 3.71, currentA: 0.5, temperatureC: 21.4 });
  expect(log.voltageStepV).toBeCloseTo(0.001, 9);
  expect(log.columns.map((column) => column.field)).toEqual(['time', 'voltage', 'current', 'temperature']);
});

test('semicolons, decimal commas and a row of units in minutes and millivolts', () => {
  const log = readAll(`Zeit;Spannung;Strom\nmin;mV;mA\n${many((i) => `${i},5;${4000 - i},0;500,5`)}`, ';');
  expect(log.samples[1]).toMatchObject({ timeS: 60, voltageV: 3.999, currentA: expect.closeTo(0.5005, 9) });
  expect(log.codes).toEqual([]);
});

test('no heading: the rising column is the time, and all is said', () => {
  const log = readAll(many((i) => `${3950 - i},${i * 2}`));
  expect(log.samples[3]).toMatchObject({ timeS: 6, voltageV: 3.947, currentA: null });
  expect(log.codes).toEqual(['no-header', 'unit-assumed']);
});

test('clocks past midnight, days and dates', () => {
  const clock = readAll(`time,V\n23:59:58,4.1\n23:59:59,4.1\n00:00:00,4.0\n00:00:02,3.9`);
  expect(clock.samples.map(({ timeS }) => timeS)).toEqual([0, 1, 2, 4]);
  expect(clock.codes).toEqual([]);
  const date = readAll(`timestamp,voltage_v\n2026-03-01T10:00:00Z,4.1\n2026-03-01 10:01:30,4.0`);
  expect(date.samples.map(({ timeS }) => timeS)).toEqual([0, 90]);
});

test('a clock that starts again is continued one step later, and the row is named', () => {
  const log = readAll(`t,V\n0,4.1\n10,4.0\n20,3.9\n0,3.8\n10,3.7`);
  expect(log.samples.map(({ timeS }) => timeS)).toEqual([0, 10, 20, 30, 40]);
  const [reset] = log.warnings.filter((warning) => warning.code === 'clock-reset');
  expect(reset && warningText(reset)).toContain('row 5');
  expect(reset?.atS).toEqual([30]);
});

test('unreadable rows are passed over by number; empty ones are not worth a word', () => {
  const log = readAll(`time s,voltage V\n${many((i) => (i === 24 ? 'logger restarted,' : `${i},4.0`))}\n\n`);
  expect(log.samples).toHaveLength(29);
  expect(log.warnings.map(warningText)).toEqual(['1 row passed over as unreadable (row 26).']);
});

describe('times as loggers write them', () => {
  const seconds = (text: string) => readAll(text).samples.map(({ timeS }) => timeS);

  test.each([
    ['day.month.year', 'when,V\n31.10.2026 23:59:58,4.1\n01.11.2026 00:00:03,4.0'],
    ['month/day/year with AM and PM', 'when,V\n10/31/2026 11:59:58 PM,4.1\n11/1/2026 12:00:03 AM,4.0'],
    ['date and clock in two columns', 'Date,Time,V\n31.10.2026,23:59:58,4.1\n01.11.2026,00:00:03,4.0'],
    ['two columns the American way', 'Date,Time,V\n10/31/2026,11:59:58 PM,4.1\n11/01/2026,12:00:03 AM,4.0'],
    ['two columns without a heading', '2026-10-31,23:59:58,4.1\n2026-11-01,00:00:03,4.0'],
  ])('%s', (_, text) => {
    expect(seconds(text.replace('when', 'timestamp'))).toEqual([0, 5]);
  });

  test('day or month first is decided once for a log, and said', () => {
    const rows = (...of: string[]) =>
      readAll(`timestamp,V\n${of.map((one, i) => `${one},${4.1 - i / 100}`).join('\n')}`);
    const over = rows('11/02/2026 22:00:00', '11/02/2026 23:59:50', '11/03/2026 00:00:10', '11/03/2026 02:00:00');
    expect(over.samples.map(({ timeS }) => timeS)).toEqual([0, 7190, 7210, 14_400]);
    expect(over.warnings).toContainEqual({ code: 'date-order', order: 'month-first', isAssumed: false });
    expect(over.endedAt?.atS).toBe(Date.UTC(2026, 10, 3, 2) / 1000);
    const british = rows('02/11/2026 23:59:50', '03/11/2026 00:00:10');
    expect(british.samples.map(({ timeS }) => timeS)).toEqual([0, 20]);
    expect(british.endedAt?.atS).toBe(Date.UTC(2026, 10, 3, 0, 0, 10) / 1000);
    // A date further down that reads one way only decides for all.
    const month = rows('11/02/2026 22:00:00', '11/02/2026 22:10:00', '11/13/2026 00:00:00');
    expect(month.samples.map(({ timeS }) => timeS)).toEqual([0, 600, 10 * 86_400 + 7200]);
    const open = rows('11/02/2026 22:00:00', '11/02/2026 22:10:00');
    expect(open.warnings).toContainEqual({ code: 'date-order', order: 'day-first', isAssumed: true });
    expect(rows('13/02/2026 22:00:00', '13/02/2026 22:10:00').codes).toEqual([]);
  });

  test('a day that is in no calendar is not read', () => {
    const log = readAll(`timestamp,V\n${many((i) => `2026-02-${i === 9 ? '30' : '28'} 10:${10 + i}:00,4.0`)}`);
    expect(log.samples).toHaveLength(29);
    expect(log.codes).toEqual(['row-unreadable']);
  });

  test('a silence longer than the rest of the log is refused with what to do', () => {
    const text = `time s,V\n${many((i) => `${i < 15 ? i * 60 : 200_000 + i * 60},4.0`)}`;
    expect(refusalOf(() => readAll(text))).toContain('Import each part by itself.');
  });

  test('a night between two days is not taken for a clock that starts again', () => {
    expect(seconds('Date,Time,V\n30.10.2026,12:00:00,4.1\n01.11.2026,12:00:00,4.0')).toEqual([0, 2 * 86_400]);
  });

  test('milliseconds without a unit are known by their size or their uneven steps, and said', () => {
    const even = readAll(`time,V\n${many((i) => `${i * 1000},4.0`)}`);
    expect(even.samples[29]?.timeS).toBeCloseTo(29, 9);
    expect(even.codes).toContain('unit-assumed');
    expect(readAll(`time,V\n${many((i) => `${15_234 + i * 100 + (i % 3)},4.0`)}`).samples[29]?.timeS).toBeCloseTo(
      2.902,
      9,
    );
    expect(readAll(`time,V\n${many((i) => `${i * 120},4.0`)}`).samples[29]?.timeS).toBe(29 * 120);
  });

  test('a log that would last for months is refused with what to do', () => {
    expect(refusalOf(() => readAll(`time,V\n${many((i) => `${i * 150_000_000},4.0`)}`))).toContain('would last');
    expect(refusalOf(() => readAll(`time,V\n${many((i) => `${i * 150},4.0`)}\n9000000,3.9`))).toContain(
      'Write the unit into the heading',
    );
  });
});

test('a converter of 4.88 mV written to 0.1 mV has steps of 4.88 mV; a column of current its own', () => {
  const log = readAll(
    `time (s),V,A\n${many((i) => `${i},${(4 - 0.00488 * ((i * 3) % 17)).toFixed(4)},${i % 2 ? '1.0' : '1.1'}`)}`,
  );
  expect(log.voltageStepV).toBeCloseTo(0.00488, 5);
  expect(log.currentStepA).toBeCloseTo(0.1, 9);
});

describe('what is not a log', () => {
  test.each([
    ['', 'empty'],
    ['Dear customer,\nthank you for your letter,\nof last week', 'No columns of time and voltage'],
    ['time,voltage\n1,4.1', 'at least two'],
    [`time,voltage\n${many((i) => (i % 2 ? `${i},4` : 'x,y'))}`, 'could not be read'],
  ])('%j', (text, message) => {
    expect(refusalOf(() => readAll(text))).toContain(message);
  });
});

test('dates tell when a log ended, by their zone or by the clock on the wall; seconds alone tell nothing', () => {
  const volts = (i: number) => (4 - i / 100).toFixed(2);
  const endOf = (time: (i: number) => string, columns = 'time,voltage') =>
    readAll(`${columns}\n${many((i) => `${time(i)},${volts(i)}`)}`).endedAt;
  const two = (i: number) => String(i).padStart(2, '0');
  const atS = Date.UTC(2026, 10, 5, 9, 29) / 1000;
  expect(endOf((i) => `05.11.2026 09:${two(i)}`)).toEqual({ atS, isZoned: false });
  expect(endOf((i) => `2026-11-05T10:${two(i)}:00+01:00`)).toEqual({ atS, isZoned: true });
  expect(endOf((i) => `5.11.2026,09:${two(i)}:00`, 'date,time,voltage')).toEqual({ atS, isZoned: false });
  expect([endOf((i) => String(60 * i)), endOf((i) => `0:${two(i)}:00`)]).toEqual([null, null]);
  expect(momentOf({ atS, isZoned: true })).toEqual(new Date('2026-11-05T09:29:00Z'));
  expect(momentOf({ atS, isZoned: false })).toEqual(new Date(2026, 10, 5, 9, 29));
});
