import { dayIn, readNotebook, understandNotebook } from './notebookTable';

const now = new Date('2026-11-27T12:00:00Z');
const taken = (text: string) =>
  readNotebook(text).columns.map(({ field, unit }) => (unit ? `${field} ${unit}` : field));
const understood = (text: string) => {
  const table = readNotebook(text);
  return understandNotebook(table, table.columns, now);
};

test('headings and units tell what columns are; so do figures where nobody wrote a heading', () => {
  expect(taken('Cell;Voltage (V);Weight g;Capacity mAh;IR mΩ;Date;Remarks\nA1;3,71;44,9;2130;38;3.5.2025;ok')).toEqual([
    'code',
    'voltage V',
    'mass g',
    'capacity mAh',
    'resistance mΩ',
    'date',
    'note',
  ]);
  expect(taken('A1\t3.712\t2130\t2025-05-03\nA2\t3.698\t2090\t2025-05-03')).toEqual([
    'code',
    'voltage V',
    'capacity mAh',
    'date',
  ]);
  expect(taken('id,ocv,ESR\n1,3712,0.038\n2,3698,0.041')).toEqual(['code', 'voltage mV', 'resistance Ω']);
});

test('every figure keeps the last digit it was noted with, decimal commas and units included', () => {
  const { rows, faults } = understood('code;volts;grams;capacity\nB7;3,71;44.9 g;2,13 Ah\nB8;3710mV;;2130 mAh');
  expect(faults).toEqual([]);
  expect(rows).toEqual([
    {
      row: 2,
      code: 'B7',
      voltage: { value: 3.71, step: 0.01 },
      mass: { value: 0.0449, step: 0.0001 },
      capacity: { value: 2.13, step: 0.01 },
    },
    { row: 3, code: 'B8', voltage: { value: 3.71, step: 0.001 }, capacity: { value: 2.13, step: 0.001 } },
  ]);
});

test('days as people write them, the day before the month; none to come', () => {
  for (const text of ['2025-05-03', '3.5.2025', '3/5/2025', '3 May 2025', '3.5.25'])
    expect(dayIn(text)?.toISOString().slice(0, 10)).toBe('2025-05-03');
  for (const text of ['31.2.2025', 'soon', '5', '2025']) expect(dayIn(text)).toBeNull();
  expect(understood('code,date\nA1,2027-01-01').faults).toMatchObject([{ row: 2, column: 2 }]);
});

test('what cannot be read is named by row and column; nothing executes', () => {
  const { rows, faults } = understood('code,volts,note\n<b>x</b>,3.7,"<script>alert(1)</script>"\nA2,full,\nA3,-1,');
  expect(faults.map(({ row, column }) => [row, column])).toEqual([
    [3, 2],
    [4, 2],
  ]);
  expect(rows[0]).toMatchObject({ code: '<b>x</b>', note: '<script>alert(1)</script>' });
});

test('an empty table, and one of a single line, are what they are', () => {
  expect(readNotebook('  \n ')).toMatchObject({ heading: null, rows: [] });
  expect(readNotebook('A1\t3.71')).toMatchObject({ heading: null, rows: [['A1', '3.71']] });
});
