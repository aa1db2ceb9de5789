import { display } from '@/core/quantity/format';
import { understandSheetLine } from './sheetLine';

const instruments = [
  { code: 'DM', channels: 1, resolution: 0.001, as: display.voltage },
  { code: 'CK', channels: 3, resolution: 0.01, as: display.voltage },
];
const understand = (text: string, position = 1, earlier: string | null = null, corrects = false) =>
  understandSheetLine(text, position, instruments, 2, {
    othersV: (at) => (at === 1 ? 3.71 : null),
    standing: () => earlier,
    corrects,
    isPack: false,
  });
const onPack = (text: string, position = 1, groups = 3) =>
  understandSheetLine(text, position, instruments, groups, {
    othersV: () => null,
    standing: () => null,
    corrects: false,
    isPack: true,
  });

test('on a pack channel n reads group n, a meter without channels one after the other', () => {
  expect(onPack('CK 3.71 3.70 3.72')).toMatchObject({
    kind: 'readings',
    readings: [
      { position: 1, channel: 1, voltageV: 3.71 },
      { position: 2, channel: 2, voltageV: 3.7 },
      { position: 3, channel: 3, voltageV: 3.72 },
    ],
    said: 'CK: 3.71 V, 3.70 V, 3.72 V',
    inFull: 'CK 3.71 3.70 3.72',
  });
  expect(onPack('DM 3.712 3.703 3.721', 2)).toMatchObject({
    readings: [
      { position: 1, channel: 1 },
      { position: 2, channel: 1 },
      { position: 3, channel: 1 },
    ],
  });
  expect(onPack('B2 CK 3.70')).toMatchObject({ readings: [{ position: 2, channel: 2 }], said: 'B2, CK: 3.70 V' });
  expect(onPack('B2 DM 3.703')).toMatchObject({ readings: [{ position: 2, channel: 1 }] });
  expect(onPack('CK.3 3.72')).toMatchObject({ position: 3, readings: [{ position: 3, channel: 3 }] });
});

test('of a pack with more groups than channels only those are read; too few voltages are refused', () => {
  expect(onPack('CK 3.71 3.70 3.72', 1, 5)).toMatchObject({ readings: [{}, {}, { position: 3 }] });
  expect(onPack('B5 CK 3.71', 1, 5)).toMatchObject({ kind: 'wrong', said: 'CK has 3 channels, the pack 5 groups.' });
  expect(onPack('DM 3.71')).toMatchObject({ kind: 'wrong', said: expect.stringContaining('3 voltages, one a group') });
});

test('a code and a voltage for each channel', () => {
  expect(understand('dm 3,712')).toMatchObject({
    kind: 'readings',
    code: 'DM',
    position: 1,
    readings: [{ channel: 1, voltageV: 3.712, step: 0.001 }],
    asks: null,
    said: 'B1, DM: 3.712 V',
  });
  expect(understand('CK 3.71 3.70 3.72')).toMatchObject({
    readings: [{ channel: 1 }, { channel: 2 }, { channel: 3, voltageV: 3.72, step: 0.01 }],
  });
  expect(understand('CK.2 3V70')).toMatchObject({ readings: [{ channel: 2, voltageV: 3.7 }] });
});

test('in full a line names its battery', () => {
  const line = understand('CK.2 3V70', 2);
  expect(line).toMatchObject({ position: 2, inFull: 'B2 CK.2 3V70' });
  expect(understand('B2 CK.2 3V70', 1)).toEqual(line);
});

test('a battery alone goes there, before a reading it is filed for', () => {
  expect(understand('b2')).toEqual({ kind: 'battery', position: 2 });
  expect(understand('B2 DM 1.31')).toMatchObject({ position: 2, asks: { suggests: 'B2 DM 1.310 V' } });
});

test.each([
  ['DM 3.17', 'Was it 3.71 V?'],
  ['DM 37.1', 'Was it 3.71 V?'],
  ['CK.1 3.7', 'Was it 3.70 V?'],
  ['DM 2.9', 'the same battery?'],
  ['B2 DM -1.2', 'below zero'],
])('%s is asked about', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'readings', asks: { text: expect.stringContaining(words) } });
});

test.each([
  ['3.71', 'Start with an instrument (DM, CK)'],
  ['B3', 'B1 to B2'],
  ['CK 3.71', '3 voltages, one a channel'],
  ['CK.4 3.71', 'channels 1 to 3'],
  ['DM volts', '"volts" was not understood'],
])('%s is refused in words', (text, words) => {
  expect(understand(text)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(words) });
});

test('what the records cannot keep is refused with what was meant', () => {
  expect(understand('DM 3712')).toEqual({
    kind: 'wrong',
    said: '3712 V: a voltage here lies between −100 V and 100 V. Was it 3.712 V?',
    suggests: 'B1 DM 3.712 V',
  });
});

test('a second reading of a channel on the same battery asks before it stands in place of the first', () => {
  expect(understand('DM 3.712', 1, '3.709 V')).toMatchObject({
    asks: { text: 'DM showed 3.709 V on B1 already. Replace it?', suggests: null },
  });
  expect(understand('DM 3.712', 1, '3.709 V', true)).toMatchObject({ asks: null });
});
