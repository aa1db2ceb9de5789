import { noLoadText, type PackContext, understandGroups } from './packLine';

const pack: PackContext = { code: 'PL1', chemistry: 'li-ion', series: 3 };
const packs: PackContext[] = [pack, { code: 'PF1', chemistry: 'lfp', series: 2 }];
const understand = (text: string, shown: PackContext | null = pack) =>
  understandGroups(text, shown, (code) => packs.find((one) => one.code === code) ?? null);

test('one voltage a group, the terminals after =', () => {
  expect(understand('3.95 3,94 3.96 = 11.85')).toMatchObject({
    kind: 'groups',
    groups: [{ value: 3.95, step: 0.01 }, { value: 3.94, step: 0.01 }, { value: 3.96 }],
    terminal: { value: 11.85, step: 0.01 },
    asks: null,
    said: 'PL1: 3 groups, spread 20 mV, terminals 11.85 V',
  });
  expect(understand('pl1 3.951 3.94 3.962')).toMatchObject({
    terminal: null,
    groups: [{ step: 0.001 }, { step: 0.01 }, { step: 0.001 }],
  });
});

test('a dash stands for a group that cannot be read', () => {
  const line = understand('3.95 – 3.96 = 11.85');
  expect(line).toMatchObject({
    groups: [{ value: 3.95 }, null, { value: 3.96 }],
    terminal: { value: 11.85 },
    asks: null,
    said: 'PL1: 2 groups, 1 not read, spread 10 mV, terminals 11.85 V',
  });
  expect(understand('3.95 - 3.96 = 11.85')).toMatchObject({ ...line, inFull: 'PL1 3.95 - 3.96 = 11.85' });
  expect(understand('- - -')).toMatchObject({ kind: 'wrong', said: 'Measure at least one group.' });
  expect(understand('3.95 3.94 3.96 = -')).toMatchObject({ kind: 'wrong' });
});

test('under a load its current stands among the voltages, with its unit', () => {
  const line = understand('3.85 3.65 3.86 = 11.36 5A');
  expect(line).toMatchObject({
    currentA: 5,
    said: 'PL1: 3 groups, spread 210 mV, terminals 11.36 V, under 5.00 A',
    inFull: 'PL1 3.85 3.65 3.86 = 11.36 5A',
  });
  expect(understand('3.85 3.65 3.86 2.5 A')).toMatchObject({ currentA: 2.5, terminal: null });
  expect(understand('3.85 3.65 3.86')).toMatchObject({ currentA: null, temperatureC: null });
  expect(understand('3.85 3.65 3.86 5A 21,5 °C')).toMatchObject({
    currentA: 5,
    temperatureC: 21.5,
    said: 'PL1: 3 groups, spread 210 mV, under 5.00 A, at 21.5 °C',
  });
  expect(understand('3.85 3.65 3.86 900C')).toMatchObject({ kind: 'wrong' });
  expect(noLoadText(5, 'load')).toBeNull();
  expect(noLoadText(null, 'rest')).toBeNull();
  expect(noLoadText(5, 'rest')).toContain('5.00 A is a load, and the next reading is at rest');
});

test('in full a line names its pack', () => {
  const line = understand('3.95 3,94 3.96 = 11.85');
  expect(line).toMatchObject({ inFull: 'PL1 3.95 3,94 3.96 = 11.85' });
  expect(understand('PL1 3.95 3,94 3.96 = 11.85', null)).toEqual(line);
});

test('what was found on a pack, its cycles and run times are noted in the same bar', () => {
  expect(understand('ok')).toMatchObject({
    kind: 'noted',
    code: 'PL1',
    bodies: [{ kind: 'inspection', findings: [] }],
  });
  expect(understand('pf1 sc', null)).toMatchObject({
    kind: 'noted',
    code: 'PF1',
    bodies: [{ findings: ['swollen', 'connector'] }],
    said: 'PF1: swollen or soft, connector damaged',
    inFull: 'PF1 sc',
  });
  for (const words of ['cycles 34', '34 cycles'])
    expect(understand(words)).toMatchObject({ kind: 'noted', bodies: [{ kind: 'cycles', count: 34 }] });
  for (const words of ['served 7.5 min', 'served 7,5min'])
    expect(understand(words)).toMatchObject({
      bodies: [{ kind: 'run-time', durationS: 450 }],
      said: 'PL1: served for 7.5 min',
    });
  for (const words of ['cycles many', 'served 7', 'served 0 min', 'cycles', '34 36 cycles'])
    expect(understand(words)).toMatchObject({ kind: 'wrong' });
});

test('a code alone opens a pack', () => {
  expect(understand('PF1')).toEqual({ kind: 'go', code: 'PF1' });
});

test('a code with voltages is for that pack, whichever is shown', () => {
  expect(understand('PF1 3.31 3.30 = 6.61')).toMatchObject({
    kind: 'groups',
    code: 'PF1',
    groups: [{ value: 3.31 }, { value: 3.3 }],
    terminal: { value: 6.61 },
  });
  expect(understand('PL1 3.95 3.94 3.96', null)).toMatchObject({ kind: 'groups', code: 'PL1' });
});

test.each([
  ['3.95 39.4 3.96', 'Group 2, 39.4 V for one cell'],
  ['3.95 3.94 -0.2', 'below zero'],
  ['3.95 3.49 3.96', 'Was it 3.94 V?'],
  ['3.95 3.94 3.96 = 18.7', 'add up to 11.85 V'],
])('%s is asked about', (text, words) => {
  expect(understand(text)).toMatchObject({ asks: { text: expect.stringContaining(words) } });
});

test.each([
  ['3.95 3.94', 'has 3 groups; 2 voltages were read'],
  ['3.95 x 3.9', '"x" was not understood'],
  ['3.9 3.9 3.9 = 11 12', 'After = one voltage'],
  ['PZ9 3.9 3.9 3.9', 'There is no pack PZ9'],
])('%s is refused in words', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(words) });
});

test.each([
  [
    '3712 3.9 3.9',
    'Group 1, 3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?',
    'PL1 3.712 V 3.9 3.9',
  ],
  [
    '3.9 3.9 3.9 = 7800',
    'Terminals, 7800 V is more than 3 groups can have. Was it 7.800 V?',
    'PL1 3.9 3.9 3.9 = 7.800 V',
  ],
])('%s cannot be kept', (line, said, suggests) => {
  expect(understand(line)).toEqual({ kind: 'wrong', said, suggests });
});

test('read from the positive terminal: recognised by how the groups stood last, and asked', () => {
  const last: PackContext = { ...pack, lastRestV: [3.95, 3.81, 3.94] };
  const lastOfFive: PackContext = { ...pack, series: 5, lastRestV: [3.95, 3.81, 3.94, 3.95, 3.95] };
  const questionIn = (text: string, of: PackContext) => {
    const line = understandGroups(text, of, () => null);
    return line.kind === 'groups' ? line.asks : null;
  };
  expect(questionIn('3.94 3.94 3.93 3.80 3.94 = 19.5', lastOfFive)).toMatchObject({
    suggests: 'PL1 3.94 3.80 3.93 3.94 3.94 = 19.5',
  });
  expect(questionIn('3.94 3.80 3.93 3.94 3.94', lastOfFive)).toBeNull();
  expect(questionIn('3.94 3.80 3.93', last)).toBeNull();
});
