import { createLogReader, type Sample } from './logReader';

function readAll(text: string, separator = ',', seriesCells = 1) {
  const samples: Sample[] = [];
  const reader = createLogReader((sample) => samples.push(sample), seriesCells);
  text.split('\n').forEach((line) => reader.push(line.split(separator)));
  const end = reader.finish();
  return { ...end, samples, codes: end.warnings.map((warning) => warning.code) };
}

const many = (line: (i: number) => string, n = 30) => Array.from({ length: n }, (_, i) => line(i)).join('\n');

test('a heading with units', () => {
  const log = readAll(`Time (s),Voltage (V),Current (A),Temp\n${many((i) => `${i},${(4 - i / 100).toFixed(3)},0.5,21.4`)}`);
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
  expect(log.warnings.find((warning) => warning.code === 'clock-reset')?.message).toContain('row 5');
});

test('unreadable rows are passed over by number; empty ones are not worth a word', () => {
  const log = readAll(`time s,voltage V\n${many((i) => (i === 24 ? 'logger restarted,' : `${i},4.0`))}\n\n`);
  expect(log.samples).toHaveLength(29);
  expect(log.warnings.map((warning) => warning.message)).toEqual(['1 row passed over as unreadable (row 26).']);
});

describe('what is not a log', () => {
  test.each([
    ['', 'empty'],
    ['Dear customer,\nthank you for your letter,\nof last week', 'No columns of time and voltage'],
    ['time,voltage\n1,4.1', 'at least two'],
    [`time,voltage\n${many((i) => (i % 2 ? `${i},4` : 'x,y'))}`, 'could not be read'],
  ])('%j', (text, message) => {
    expect(() => readAll(text)).toThrow(message);
  });
});
