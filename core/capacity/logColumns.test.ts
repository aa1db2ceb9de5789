import { type LogField, understandColumns } from './logColumns';
import { timeFormOf } from './timeText';

const table = (heading: string[] | null, rows: string[][]) => [...(heading ? [heading] : []), ...rows];
const seen = (rows: string[][], seriesCells = 1) =>
  Object.fromEntries(
    (understandColumns(rows, { series: seriesCells })?.columns ?? []).map((column) => [
      column.field,
      [column.index, column.unit, column.assumed],
    ]),
  ) as Partial<Record<LogField, [number, string, boolean]>>;

describe('headings as loggers write them', () => {
  const rows = [
    ['0', '4.1', '0.5', '21'],
    ['1', '4.09', '0.5', '21'],
    ['2', '4.08', '0.5', '21'],
  ];

  test.each([
    [['Time (s)', 'Voltage (V)', 'Current (A)', 'Temp (°C)']],
    [['time_s', 'voltage_v', 'current_a', 'temperature_c']],
    [['t [s]', 'U [V]', 'I [A]', 'Temperature']],
    [['Zeit s', 'Spannung V', 'Strom A', 'Temp °C']],
    [['elapsed seconds', 'volts', 'amps', 'temp']],
  ])('%j', (heading) => {
    const columns = seen(table(heading, rows));
    expect([columns.time?.[0], columns.voltage?.[0], columns.current?.[0], columns.temperature?.[0]]).toEqual([
      0, 1, 2, 3,
    ]);
  });

  test('columns in any order are found by their names', () => {
    const columns = seen(
      table(
        ['Current mA', 'Voltage mV', 'Time min'],
        [
          ['500', '4100', '0'],
          ['500', '4090', '1'],
        ],
      ),
    );
    expect(columns).toEqual({ time: [2, 'min', false], voltage: [1, 'mv', false], current: [0, 'ma', false] });
  });
});

test('of two times the one of the whole counts; cycles and steps are told apart from it', () => {
  const heading = ['Cycle Index', 'Step Index', 'Step Time (s)', 'Test Time (s)', 'Current (A)', 'Voltage (V)'];
  const columns = seen(
    table(heading, [
      ['1', '2', '0', '100', '0.5', '4.1'],
      ['1', '2', '1', '101', '0.5', '4.09'],
    ]),
  );
  expect(columns).toMatchObject({ cycle: [0, '', false], step: [1, '', false], time: [3, 's', false] });
  expect([columns.current?.[0], columns.voltage?.[0]]).toEqual([4, 5]);
  expect(seen(table(['Step Time (s)', 'Voltage (V)'], [['0', '4.1']]))).toEqual({
    time: [0, 's', false],
    voltage: [1, 'v', false],
  });
});

describe('without a heading', () => {
  test('a whole number that stays is a step of its program, not its voltage', () => {
    const rows = [
      ['0', '3', '4.10', '1'],
      ['5', '3', '4.08', '1'],
      ['10', '3', '4.07', '1'],
    ];
    const columns = seen(rows);
    expect([columns.time?.[0], columns.voltage?.[0], columns.current?.[0]]).toEqual([0, 2, 3]);
  });

  test('the column that rises is the time, wherever it stands', () => {
    const rows = [
      ['4.10', '0'],
      ['4.08', '5'],
      ['4.07', '10'],
      ['4.01', '15'],
    ];
    expect(seen(rows)).toEqual({ time: [1, 's', true], voltage: [0, 'v', true] });
  });

  test('units follow from the size of the figures: millivolts, milliamperes, and a stack is no millivolts', () => {
    const rows = [
      ['0', '3950', '480'],
      ['1', '3949', '480'],
      ['2', '3948', '481'],
    ];
    expect(seen(rows)).toMatchObject({ voltage: [1, 'mv', true], current: [2, 'ma', true] });
    expect(
      seen(
        [
          ['0', '145.2'],
          ['1', '145.1'],
          ['2', '145.0'],
        ],
        36,
      ).voltage?.[1],
    ).toBe('v');
  });
});

test('rows before the samples are counted: title, heading, units', () => {
  const layout = understandColumns(
    [['discharge of 3 March'], ['time', 'voltage'], ['s', 'V'], ['0', '4.1'], ['1', '4.0']],
    { series: 1 },
  );
  expect(layout?.headingRows).toBe(3);
  expect(layout?.columns.map((column) => column.unit)).toEqual(['s', 'v']);
});

test.each([
  ['12.5', 'number'],
  ['12,5', 'number'],
  ['00:01:30', 'clock'],
  ['1:30', 'clock'],
  ['2 03:04:05', 'clock'],
  ['2026-11-01T10:00:00Z', 'date'],
  ['2026-11-01 10:00', 'date'],
  ['1.11.2026 10:00:05', 'date'],
  ['11/1/2026 2:05:10 PM', 'date'],
  ['2:05:10 pm', 'clock'],
  ['01.11.2026', 'day'],
  ['2026-11-01', 'day'],
  ['noon', null],
  ['', null],
])('%j is written as %s', (text, form) => {
  expect(timeFormOf(text)).toBe(form);
});

test('what has no two columns of figures is no log', () => {
  expect(
    understandColumns(
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
      { series: 1 },
    ),
  ).toBeNull();
  expect(understandColumns([['3.7'], ['3.6']], { series: 1 })).toBeNull();
  expect(understandColumns([], { series: 1 })).toBeNull();
});
