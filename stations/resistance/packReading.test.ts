import type { MethodKey } from '@/core/resistance/methods';
import { type RoundCell, understandReading } from './roundLine';

const pack: RoundCell = { code: 'PC3', chemistry: 'lipo', times: 0, weldedTo: [], series: 3 };
const pair: RoundCell = { ...pack, code: 'PC2', series: 2 };
const understand = (text: string, method: MethodKey = 'told', current: RoundCell = pack) =>
  understandReading(
    text,
    { method, loadResistanceOhm: method === 'resistor' ? 4.7 : null, batchMedianOhm: null },
    current,
    (code) => [pack, pair].find((one) => one.code === code) ?? null,
    () => null,
  );
const ohms = (...milliohms: number[]) =>
  milliohms.map((milliohm, i) => ({
    kind: 'resistance',
    position: i + 1,
    resistanceOhm: expect.closeTo(milliohm / 1000, 9),
    step: expect.closeTo(1e-4, 9),
  }));
const whole = (milliohm: number) => ({ ...ohms(milliohm)[0], position: 0 });

test.each([
  ['7.9 8.8 8.3', ohms(7.9, 8.8, 8.3), null],
  ['pc3 7,9m 8,8 mΩ 8,3', ohms(7.9, 8.8, 8.3), null],
  ['7.9 8.8 8.3 = 25.1', [...ohms(7.9, 8.8, 8.3), whole(25.1)], null],
  ['7.9 8.8 8.3=25.1 21.5 °C', [...ohms(7.9, 8.8, 8.3), whole(25.1)], 21.5],
  ['21.5C 7.9 8.8 8.3', ohms(7.9, 8.8, 8.3), 21.5],
  ['= 25.1', [whole(25.1)], null],
])('%s: each group from the negative terminal, the whole after =', (text, bodies, temperatureC) => {
  const line = understand(text);
  expect(line).toMatchObject({ kind: 'reading', code: 'PC3', reading: { temperatureC }, asks: null });
  expect(line.kind === 'reading' ? line.reading.bodies : null).toEqual(
    bodies.map((body) => expect.objectContaining(body)),
  );
});

test('it is said back as it stands in the pack, with the digits that were typed', () => {
  expect(understand('7.9 8.8 8.3 = 25.1 22.2 °C')).toMatchObject({
    said: 'PC3: resistance 7.9 · 8.8 · 8.3 mΩ, 25.1 mΩ together, 22.2 °C',
    inFull: 'PC3 7.9 8.8 8.3 = 25.1 22.2°C',
  });
  expect(understand('12.41 12.33 3.02 12.40', 'ammeter')).toMatchObject({
    said: 'PC3: from terminal to terminal: open 12.41 V, loaded 12.33 V at 3.02 A, after 12.40 V',
    asks: null,
  });
  expect(understand('g2 4.11 4.08 1.02', 'ammeter')).toMatchObject({
    said: 'PC3: group 2: open 4.11 V, loaded 4.08 V at 1.02 A',
    reading: { bodies: [{ kind: 'load-step', position: 2, openV: 4.11 }] },
  });
  expect(understand('26.3', 'ac-meter')).toMatchObject({ reading: { bodies: [{ position: 0 }] }, asks: null });
  expect(understand('g3 8.8', 'ac-meter')).toMatchObject({ reading: { bodies: [{ position: 3 }] } });
});

test.each([
  ['7.9 8.8', 'told', 'PC3 has 3 groups; 2 resistances were read. Type one for each, from the negative terminal.'],
  ['7.9 8.8 8.3 8.1', 'told', 'PC3 has 3 groups; 4 resistances were read.'],
  ['7.9', 'told', '1 resistance was read'],
  ['7.9 8.8 8.3 =', 'told', 'After = one resistance is expected'],
  ['7.9 8.8 eight', 'told', '"eight" was not understood'],
  ['g4 4.11 4.08 1.02', 'ammeter', 'PC3 has 3 groups; there is no group 4.'],
  ['g0 8.8', 'ac-meter', 'there is no group 0'],
  ['12.41', 'ammeter', 'from terminal to terminal'],
  ['PX9 7.9 8.8 8.3', 'told', 'PX9 is not among the packs of this round.'],
] as const)('%s by %s is refused, and says what to do', (text, method, said) => {
  expect(understand(text, method)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(said) });
});

test('volts where milliohms are asked: what could be volts of a group is asked about, what cannot is filed', () => {
  expect(understand('8.4 9.3', 'told', pair)).toMatchObject({ asks: null });
  expect(understand('8.4 4.2', 'told', pair)).toMatchObject({
    asks: { text: expect.stringMatching(/look like volts/) },
  });
  expect(understand('3.9 3.8 3.9')).toMatchObject({ asks: { text: expect.stringMatching(/look like volts/) } });
  // A pack that was read so before is known to be that good.
  expect(understand('3.9 3.8 3.9', 'told', { ...pack, ownMedianOhm: 0.0038 })).toMatchObject({ asks: null });
});

test('a slipped point is seen against its own past, a misread group against the whole', () => {
  expect(understand('7.9 88 8.3', 'told', { ...pack, ownMedianOhm: 0.008 })).toMatchObject({
    asks: { suggests: 'PC3 7.9 8.8 mΩ 8.3' },
  });
  expect(understand('7.9 8.8 8.3 = 41.7')).toMatchObject({
    asks: { text: expect.stringMatching(/add up to 25.0 mΩ/) },
  });
  expect(understand('12.33 12.41 3.02', 'ammeter')).toMatchObject({ asks: { text: expect.stringMatching(/swapped/) } });
});
