import { batchMiddleV, type EntryCell, understandIntake } from './entry';

const cell = (missing: EntryCell['missing'], code = 'S1-014'): EntryCell => ({ code, chemistry: 'li-ion', modelMassKg: 0.0446, missing });
const fresh = cell(['voltage', 'weight', 'inspection']);
const understand = (text: string, current: EntryCell | null = fresh) => understandIntake(text, current, (code) => (code === 'S1-015' ? cell([], code) : null));

test('bare figures are taken in the order in which they are asked for', () => {
  expect(understand('3,712')).toMatchObject({ code: 'S1-014', readings: [{ kind: 'voltage', voltageV: 3.712, step: 0.001 }], asks: null });
  expect(understand('44.5', cell(['weight', 'inspection']))).toMatchObject({ readings: [{ kind: 'mass', massKg: expect.closeTo(0.0445, 9) }] });
  expect(understand('3.712 44.5 ok')).toMatchObject({ readings: [{ kind: 'voltage' }, { kind: 'mass' }, { kind: 'inspection', findings: [] }] });
});

test('units, another cell, and letters together', () => {
  expect(understand('s1-15 44.6 g dr')).toMatchObject({ code: 'S1-015', readings: [{ kind: 'mass' }, { kind: 'inspection', findings: ['dented', 'rust'] }], said: 'S1-015: 44.6 g, dented, rusty at a pole' });
  expect(understand('S1-015')).toEqual({ kind: 'go', code: 'S1-015' });
});

test('in full a line says whose it is and in what unit: typed again it means the same, though the cell lacks something else by then', () => {
  expect(understand('3,712')).toMatchObject({ inFull: 'S1-014 3,712 V' });
  for (const text of ['3.712', '3.712 44.5 ok', '3712mV dr', 's1-15 44.6 g']) {
    const line = understand(text);
    if (line.kind !== 'readings') throw new Error(line.kind);
    expect(understandIntake(line.inFull, cell(['weight'], 'S1-099'), (code) => cell(['weight'], code))).toEqual({ ...line, inFull: expect.any(String) });
  }
});

test.each([
  ['37', '3.700 V would fit'],
  ['-0.2', 'reversed'],
  ['3.7 445', '44.5 g would fit'],
])('%s is asked about', (text, words) => {
  expect(understand(text)).toMatchObject({ asks: expect.stringContaining(words) });
});

test.each([
  ['S1-099 3.7', 'no cell S1-099'],
  ['4.17 zebra', '"zebra" was not understood'],
  ['4.17 V 4.16 V', 'twice'],
  ['43 mΩ', 'was not understood'],
])('%s is refused in words', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(words) });
});

test('with every cell read, a line needs a code', () => {
  expect(understand('3.7', null)).toMatchObject({ kind: 'wrong' });
  expect(understand('  ')).toEqual({ kind: 'nothing' });
});

test('two digits swapped against the rest of the batch are asked about; a weak cell is not', () => {
  const cell = { code: 'A1-001', chemistry: 'li-ion', modelMassKg: 0.045, missing: ['voltage', 'weight', 'inspection'] } as const;
  const ask = (text: string, batchV: number | null) => understandIntake(text, cell, () => cell, batchV);
  expect(ask('3.17', 3.715)).toMatchObject({ asks: expect.stringContaining('or was it 3.710 V?') });
  expect(ask('3.17', null)).toMatchObject({ asks: null });
  expect(ask('2.46', 3.715)).toMatchObject({ asks: null });
  expect(batchMiddleV([3.7, 3.71, 3.72, 3.73, 2.2].map((voltageV) => ({ voltageV })))).toBe(3.71);
  expect(batchMiddleV([3.7, 3.71, 3.72, null].map((voltageV) => ({ voltageV })))).toBeNull();
});

test.each([
  ['3712', '3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?'],
  ['3.7 0', '0 g: a weight here is above zero and at most 99000 g.'],
])('%s cannot be kept', (line, said) => {
  expect(understand(line)).toEqual({ kind: 'wrong', said });
});
