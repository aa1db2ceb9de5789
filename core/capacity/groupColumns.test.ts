import { createDischargeMeter } from './discharge';
import { createLogReader, type Sample } from './logReader';
import { groupNumberIn } from './groupColumns';
import type { Logged } from './logColumns';

/** Groups in the order of their columns, V, at rest; each row a millivolt lower. */
function readLog(heading: string[] | null, firstRow: number[], logged: Logged) {
  const samples: Sample[] = [];
  const reader = createLogReader((sample) => samples.push(sample), logged);
  if (heading) reader.push(heading);
  for (let i = 0; i < 25; i++)
    reader.push([String(i * 10), ...firstRow.map((v) => (v > 0 ? v - 0.001 * i : v).toFixed(3))]);
  const { columns, warnings } = reader.finish();
  return {
    places: columns.filter(({ field }) => field === 'group').map(({ index }) => index),
    terminals: columns.find(({ field }) => field === 'voltage')?.index ?? null,
    codes: warnings.map(({ code }) => code).filter((code) => code !== 'unit-assumed'),
    first: samples[0],
  };
}
const four = { series: 4 };
const fiveGroups = [4.139, 4.041, 4.138, 4.092, 3.587];

describe('headings as loggers write them (common practice)', () => {
  test.each([
    ['Cell 2 (V)', 2],
    ['group_02_v', 2],
    ['U3 [mV]', 3],
    ['V4', 4],
    ['cell1_voltage', 1],
    ['Voltage 6', 6],
    ['voltage_v', null],
    ['Current 1 (A)', null],
    ['temp1', null],
    ['time_s', null],
    ['mV', null],
  ])('%s', (heading, number) => {
    expect(groupNumberIn(heading)).toBe(number);
  });
});

test('a column for each group, with that of the terminals or without', () => {
  const heads = ['Zelle 1', 'Zelle 2', 'Zelle 3', 'Zelle 4'];
  const alone = readLog(['time (s)', ...heads], [3.91, 3.92, 3.9, 3.93], four);
  expect(alone).toMatchObject({ places: [1, 2, 3, 4], terminals: null, codes: [] });
  expect(alone.first?.voltageV).toBeCloseTo(15.66, 9);
  const whole = readLog(['time (s)', 'pack voltage', ...heads], [15.65, 3.91, 3.92, 3.9, 3.93], four);
  expect(whole).toMatchObject({ places: [2, 3, 4, 5], terminals: 1, codes: [] });
  expect(whole.first).toMatchObject({ voltageV: 15.65, groupsV: [3.91, 3.92, 3.9, 3.93] });
});

test('the numbers in the headings count, not the order of the columns; and channels without a group are passed over', () => {
  const heads = ['t', 'cell4', 'cell3', 'cell2', 'cell1', 'cell5', 'cell6'];
  const { places, first } = readLog(heads, [3.94, 3.93, 3.92, 3.91, 0, 0], four);
  expect(places).toEqual([4, 3, 2, 1]);
  expect(first?.groupsV).toEqual([3.91, 3.92, 3.93, 3.94]);
});

test('one column too many is the terminals where it is the sum of the others', () => {
  const heads = ['t', 'u1', 'u2', 'u3', 'u4', 'u5'];
  const { places, terminals, codes } = readLog(heads, [3.91, 3.92, 15.64, 3.9, 3.93], four);
  expect([places, terminals, codes]).toEqual([[1, 2, 4, 5], 3, ['terminals-among-groups']]);
});

test.each([
  [['t', 'u1', 'u2', 'u3', 'u4', 'u5'], fiveGroups, 5],
  [['t', 'u1', 'u2', 'u3'], [3.9, 3.8, 3.9], 3],
])('columns that are not the groups of this pack are refused: %j', (heading, row, columns) => {
  expect(() => readLog(heading, row, four)).toThrow(
    expect.objectContaining({ why: { code: 'group-columns', columns, series: 4 } }),
  );
});

test('taps against the negative terminal, also numbered from the red one', () => {
  const heads = ['t', 'tap1', 'tap2', 'tap3', 'tap4'];
  const rising = readLog(heads, [3.91, 7.83, 11.73, 15.66], four);
  expect(rising.codes).toEqual(['groups-as-taps']);
  const falling = readLog(heads, [15.66, 11.73, 7.83, 3.91], four);
  for (const { first, terminals } of [rising, falling]) {
    expect(first?.groupsV?.map((v) => Number(v.toFixed(3)))).toEqual([3.91, 3.92, 3.9, 3.93]);
    expect(first?.voltageV).toBe(15.66);
    expect(terminals).not.toBeNull();
  }
});

test('without a heading groups are told by how they stand to each other', () => {
  const { places, terminals, codes } = readLog(null, [15.66, 3.91, 3.92, 3.9, 3.93, 1.5], four);
  expect([places, terminals, codes]).toEqual([[2, 3, 4, 5], 1, ['no-header']]);
  expect(readLog(null, [3.9, 1.5], { series: 1 })).toMatchObject({ places: [], terminals: 1 });
  // Two figures that are no pair of groups.
  expect(readLog(null, [7.9, 1.5], { series: 2 })).toMatchObject({ places: [], terminals: 1 });
});

test('said to begin at the positive terminal they are turned', () => {
  const { first } = readLog(['t', 'v1', 'v2', 'v3', 'v4'], [3.91, 3.92, 3.9, 3.93], { series: 4, fromRed: true });
  expect(first?.groupsV).toEqual([3.93, 3.9, 3.92, 3.91]);
});

test('terminals that are not the sum of their groups are told (common practice: 19.7 V against 20.00 V is too little)', () => {
  const heads = ['t', 'pack (V)', 'v1', 'v2', 'v3', 'v4', 'v5'];
  const { codes } = readLog(heads, [18.9, ...fiveGroups], { series: 5 });
  expect(codes).toEqual(['groups-not-sum']);
});

describe('the first group at its cut-off ends the discharge', () => {
  /** Groups of these capacities, each falling straight from 4.1 V to 3.0 V at 1 A, then on. */
  const discharge = (capacitiesAh: number[], restS = 60) => {
    const meter = createDischargeMeter({
      load: { kind: 'current', currentA: 1 },
      tools: { loadTolerance: 0 },
      cutoffPerGroupV: 3,
      seriesCells: capacitiesAh.length,
      groupDigitV: 0.001,
    });
    for (let t = 0; t < 7000; t += 5) {
      const groupsV = capacitiesAh.map((ah) => (t < restS ? 4.15 : 4.1 - (1.1 * (t - restS)) / 3600 / ah));
      if (Math.min(...groupsV) < 2.95) break;
      const voltageV = groupsV.reduce((a, b) => a + b, 0);
      meter.push({ timeS: t, voltageV, currentA: null, temperatureC: null, groupsV });
    }
    return meter.finish(0.001);
  };

  test('whatever the terminals show; the others had something left', () => {
    const { capacityAh, reachedCutoff, groups, endVoltageV } = discharge([1.2, 1, 1.1]);
    expect(capacityAh.value).toBeCloseTo(1, 2);
    expect(reachedCutoff).toBe(true);
    expect(endVoltageV).toBeGreaterThan(9.1);
    expect(groups?.map((group) => group.reachedCutoff)).toEqual([false, true, false]);
    const [most, none, some] = groups?.map(({ leftAh }) => leftAh) ?? [];
    expect(none).toEqual({ value: 0, u: 0 });
    // Had they been charged alike, 0.2 and 0.1 Ah; within the uncertainty.
    expect(Math.abs((most?.value ?? NaN) - 0.2)).toBeLessThan(2 * (most?.u ?? NaN));
    expect(Math.abs((some?.value ?? NaN) - 0.1)).toBeLessThan(2 * (some?.u ?? NaN));
    expect(most?.u).toBeLessThan(0.05);
  });

  test('a log that ends above it is a lower bound, and what is left is not told', () => {
    const meter = createDischargeMeter({
      load: { kind: 'current', currentA: 1 },
      cutoffPerGroupV: 3,
      seriesCells: 2,
    });
    for (let t = 0; t < 1800; t += 5) {
      const groupsV = [4.1 - t / 3600, 4.05 - t / 3600];
      meter.push({ timeS: t, voltageV: 8.15 - t / 1800, currentA: null, temperatureC: null, groupsV });
    }
    const { reachedCutoff, groups } = meter.finish(0.001);
    expect(reachedCutoff).toBe(false);
    expect(groups?.map(({ leftAh, reachedCutoff: met }) => [leftAh, met])).toEqual([
      [null, false],
      [null, false],
    ]);
  });
});
