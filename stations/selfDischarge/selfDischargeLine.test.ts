import { type SelfDischargeSubject, parseSelfDischargeLine } from './selfDischargeLine';

const subject = (code: string, given: Partial<SelfDischargeSubject> = {}): SelfDischargeSubject => ({
  code,
  chemistry: 'li-ion',
  series: 1,
  weldedTo: [],
  lastV: null,
  ...given,
});
const all = [
  subject('S1-014', { lastV: 3.912 }),
  subject('S1-015', { weldedTo: ['S1-016'] }),
  subject('S1-016', { weldedTo: ['S1-015'] }),
  subject('PK4', { series: 3, lastV: 4.15 }),
];
const of = (code: string) => all.find((one) => one.code === code) ?? null;
const understand = (text: string, shown: string | null = 'S1-014') =>
  parseSelfDischargeLine(text, shown ? of(shown) : null, of);

test('a bare figure is the voltage of the cell shown; a code names another', () => {
  expect(understand('3.911')).toMatchObject({
    kind: 'reading',
    codes: ['S1-014'],
    bodies: [{ kind: 'voltage', voltageV: 3.911, step: 0.001 }],
    asks: null,
    inFull: 'S1-014 3.911 V',
  });
  expect(understand('s1-15 3,911')).toMatchObject({ codes: ['S1-015', 'S1-016'] });
  expect(understand('S1-014')).toEqual({ kind: 'go', code: 'S1-014' });
});

test('of a pack its groups are read', () => {
  expect(understand('PK4 4.15 4.14 4.15')).toMatchObject({
    codes: ['PK4'],
    bodies: [{ position: 1, voltageV: 4.15, step: 0.01 }, { position: 2 }, { position: 3 }],
  });
  expect(understand('4.15 4.14 4.15', 'PK4')).toMatchObject({ kind: 'reading', inFull: 'PK4 4.15 4.14 4.15' });
  expect(understand('S1-014 3.911', 'PK4')).toMatchObject({ codes: ['S1-014'] });
  for (const text of ['PK4 4.15 4.14', 'PK4 4.15 4.14 4.15 = 12.44', 'PK4 ok'])
    expect(understand(text)).toMatchObject({ kind: 'wrong' });
});

test('two digits swapped against its last reading are asked about', () => {
  expect(understand('3.192')).toMatchObject({ asks: { suggests: 'S1-014 3.912 V' } });
});

test('what is not in this self-discharge test, or no voltage, is refused', () => {
  for (const text of ['S1-099 4.1', 'PX9 4.1', '45 g', 'ok', '4.1 45', 'S1-014+099 4.1'])
    expect(understand(text)).toMatchObject({ kind: 'wrong' });
  expect(understand('', null)).toEqual({ kind: 'nothing' });
});
