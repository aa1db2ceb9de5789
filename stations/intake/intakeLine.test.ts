import { display } from '@/core/quantity/format';
import { batchMedian, type LineCell, parseIntakeLine } from './intakeLine';

const cell = (missing: LineCell['missing'], code = 'S1-014'): LineCell => ({
  code,
  chemistry: 'li-ion',
  modelMassKg: 0.0446,
  missing,
  has: {},
  weldedTo: [],
});
const fresh = cell(['voltage', 'weight', 'inspection']);
const understand = (text: string, current: LineCell | null = fresh) =>
  parseIntakeLine(text, current, (code) => (code === 'S1-015' ? cell([], code) : null));

test('bare figures are taken in the order in which they are asked for', () => {
  expect(understand('3,712')).toMatchObject({
    code: 'S1-014',
    readings: [{ kind: 'voltage', voltageV: 3.712, step: 0.001 }],
    asks: null,
  });
  expect(understand('44.5', cell(['weight', 'inspection']))).toMatchObject({
    readings: [{ kind: 'mass', massKg: expect.closeTo(0.0445, 9) }],
  });
  expect(understand('3.72 44.5', cell(['weight', 'inspection']))).toMatchObject({
    readings: [{ kind: 'voltage' }, { kind: 'mass' }],
  });
  expect(understand('3.712 44.5 ok')).toMatchObject({
    readings: [{ kind: 'voltage' }, { kind: 'mass' }, { kind: 'inspection', findings: [] }],
  });
});

test('units, another cell, and letters together', () => {
  expect(understand('s1-15 44.6 g dr')).toMatchObject({
    code: 'S1-015',
    readings: [{ kind: 'mass' }, { kind: 'inspection', findings: ['dented', 'rust'] }],
    said: 'S1-015: 44.6 g, dented, rusty at a pole',
  });
  expect(understand('S1-015')).toEqual({ kind: 'go', code: 'S1-015' });
});

test('in full a line says whose it is and in what unit: typed again it means the same, though the cell lacks something else by then', () => {
  expect(understand('3,712')).toMatchObject({ inFull: 'S1-014 3,712 V' });
  for (const text of ['3.712', '3.712 44.5 ok', '3712mV dr', 's1-15 44.6 g']) {
    const line = understand(text);
    if (line.kind !== 'readings') throw new Error(line.kind);
    expect(parseIntakeLine(line.inFull, cell(['weight'], 'S1-099'), (code) => cell(['weight'], code))).toEqual({
      ...line,
      inFull: expect.any(String),
    });
  }
});

test.each([
  ['37', 'Was it 3.7 V?'],
  ['-0.2', 'reversed'],
  ['3.7 445', 'Was it 44.5 g?'],
])('%s is asked about', (text, words) => {
  expect(understand(text)).toMatchObject({ asks: { text: expect.stringContaining(words) } });
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
  const cell = {
    code: 'A1-001',
    chemistry: 'li-ion',
    modelMassKg: 0.045,
    missing: ['voltage', 'weight', 'inspection'],
    has: {},
    weldedTo: [],
  } as const;
  const ask = (text: string, batchV: number | null) =>
    parseIntakeLine(text, cell, () => cell, { voltageV: batchV, massKg: null });
  expect(ask('3.17', 3.715)).toMatchObject({
    asks: { text: expect.stringContaining('Was it 3.71 V?'), suggests: 'A1-001 3.71 V' },
  });
  expect(ask('3.17', null)).toMatchObject({ asks: null });
  expect(ask('2.46', 3.715)).toMatchObject({ asks: null });
  const read = (voltageV: number | null) => ({ voltageV, massKg: 0.044 });
  expect(batchMedian([3.7, 3.71, 3.72, 3.73, 2.2].map(read))).toEqual({ voltageV: 3.71, massKg: 0.044 });
  expect(batchMedian([3.7, 3.71, 3.72, null].map(read))).toEqual({ voltageV: null, massKg: null });
});

test.each([
  ['3712', '3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?', 'S1-014 3.712 V'],
  ['3712 44.5 ok', '3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?', 'S1-014 3.712 V 44.5 ok'],
  ['3.7 0', '0 g: a weight here is above zero and at most 99000 g.', undefined],
])('%s cannot be kept', (line, said, suggests) => {
  expect(understand(line)).toEqual({ kind: 'wrong', said, ...(suggests && { suggests }) });
});

test('what stands already is not replaced without a question, but by a correction', () => {
  const read: LineCell = { ...cell(['inspection']), has: { voltage: '3.71 V', weight: '44.5 g' } };
  expect(understand('3.9 V', read)).toMatchObject({
    asks: { text: 'S1-014 has a voltage already, 3.71 V: replace it with this one?' },
  });
  expect(understand('44 g ok', read)).toMatchObject({
    asks: { text: expect.stringContaining('a weight already, 44.5 g') },
  });
  expect(parseIntakeLine('3.9 V', read, () => null, undefined, { corrects: true })).toMatchObject({ asks: null });
  const dented: LineCell = { ...cell([]), has: { inspection: 'dented' } };
  expect(understand('ok', dented)).toMatchObject({
    asks: { text: 'S1-014 was looked at already: dented. Add this?' },
  });
});

test('an inspection before voltage and weight asks whether it is this cell', () => {
  expect(understand('ok')).toMatchObject({
    asks: { text: 'S1-014 has no voltage and no weight yet: is it the cell in your hand?' },
  });
  expect(understand('3.71 ok')).toMatchObject({
    asks: { text: 'S1-014 has no weight yet: is it the cell in your hand?' },
  });
  expect(understand('3.71 44.5 d')).toMatchObject({ asks: null });
  expect(understand('d', cell(['inspection']))).toMatchObject({ asks: null });
});

test('a figure with fewer digits than its meter shows asks for them', () => {
  const meter = { code: 'DM2', resolution: 0.01, as: display.voltage };
  expect(parseIntakeLine('3.8 44.5 ok', fresh, () => null, undefined, { meter })).toMatchObject({
    asks: { text: expect.stringContaining('Was it 3.80 V?'), suggests: 'S1-014 3.80 V 44.5 ok' },
  });
});

describe('cells that are welded together', () => {
  const box =
    (weldedTo: Record<string, string[]> = {}) =>
    (code: string): LineCell | null =>
      /^G1-00[1-9]$/.test(code)
        ? { ...cell(['voltage', 'weight', 'inspection'], code), weldedTo: weldedTo[code] ?? [] }
        : null;

  test('are noted by typing both codes, alone or with what was read of them', () => {
    expect(parseIntakeLine('g1-4+5', null, box())).toMatchObject({
      kind: 'readings',
      code: 'G1-004+005',
      cells: ['G1-004', 'G1-005'],
      isWeld: true,
      readings: [],
      said: 'G1-004+005: welded together',
      asks: null,
    });
    expect(parseIntakeLine('G1-005+G1-004 3.71 89.3 ok', null, box())).toMatchObject({
      code: 'G1-004+005',
      isWeld: true,
      readings: [{ kind: 'voltage' }, { kind: 'mass', massKg: 0.0893 }, { kind: 'inspection' }],
      asks: null,
    });
  });

  test('are read as one from then on, whichever of them is named', () => {
    const welded = box({ 'G1-004': ['G1-005'], 'G1-005': ['G1-004'] });
    expect(parseIntakeLine('G1-005 89.3 g', null, welded)).toMatchObject({
      code: 'G1-004+005',
      cells: ['G1-004', 'G1-005'],
      isWeld: false,
      inFull: 'G1-004+005 89.3g',
    });
    expect(parseIntakeLine('G1-004+005', null, welded)).toEqual({ kind: 'go', code: 'G1-004' });
    expect(parseIntakeLine('G1-005+006', null, welded)).toMatchObject({
      kind: 'wrong',
      said: expect.stringContaining('G1-004+005 are noted as welded together'),
    });
    expect(parseIntakeLine('G1-004+099', null, welded)).toMatchObject({
      kind: 'wrong',
      said: 'There is no cell G1-099 in this batch.',
    });
  });

  test('twice the weight of the others asks for a pair, by the model or by the batch', () => {
    expect(parseIntakeLine('90 g', fresh, () => null)).toMatchObject({
      asks: { text: expect.stringContaining('a pair, welded together? Then type both codes') },
    });
    expect(
      parseIntakeLine('90 g', { ...fresh, modelMassKg: null }, () => null, { voltageV: null, massKg: 0.0444 }),
    ).toMatchObject({ asks: { text: expect.stringContaining('a pair') } });
  });
});
