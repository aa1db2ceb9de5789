import { display } from '@/core/quantity/format';
import { type RoundContext, understandReading } from './roundLine';

const cell = { code: 'H1-007', chemistry: 'li-ion', times: 0, weldedTo: [], series: 1 } as const;
const resistor: RoundContext = { method: 'resistor', loadResistanceOhm: 1.8, batchMedianOhm: 0.05 };
const of = (method: RoundContext['method'], batchMedianOhm: number | null = null): RoundContext => ({
  method,
  loadResistanceOhm: null,
  batchMedianOhm,
});
const understand = (text: string, round = resistor) =>
  understandReading(
    text,
    round,
    cell,
    (code) => (code === 'H1-008' ? { ...cell, code } : null),
    (code) => (code === 'H1-009' ? 'H1-009 is out: dented.' : null),
  );

test('two voltages with a resistor, a third is the recovery voltage', () => {
  expect(understand('3.95 3.85')).toMatchObject({
    code: 'H1-007',
    reading: { bodies: [{ kind: 'load-step', openV: 3.95, loadedV: 3.85, afterV: null, currentA: null, step: 0.01 }] },
    asks: null,
  });
  expect(understand('h1-8 3,950 3,85 3,945')).toMatchObject({
    code: 'H1-008',
    reading: { bodies: [{ afterV: 3.945, step: 0.001, loadedStep: 0.01, afterStep: 0.001 }] },
    said: 'H1-008: open 3.950 V, loaded 3.85 V, after 3.945 V',
  });
});

test('with an ammeter the current comes third, or anywhere with its unit', () => {
  expect(understand('3.95 3.87 1.62A', of('ammeter'))).toMatchObject({
    reading: { bodies: [{ currentA: 1.62, currentStep: 0.01, afterV: null }] },
  });
  expect(understand('1620 mA 3.95 3V87 3.94 21.5 °C', of('ammeter'))).toMatchObject({
    reading: { bodies: [{ currentA: 1.62, afterV: 3.94 }], temperatureC: 21.5 },
    said: 'H1-007: open 3.95 V, loaded 3.87 V at 1.620 A, after 3.94 V, 21.5 °C',
  });
});

test.each([
  ['43.5', 0.0435, 0.0001],
  ['43.5m', 0.0435, 0.0001],
  ['43,5 mΩ', 0.0435, 0.0001],
  ['0.0435', 0.0435, 0.0001],
  ['0.0435 ohm', 0.0435, 0.0001],
  ['-0.4', -0.0004, 0.0001],
])('a resistance in any usual way: %s', (text, resistanceOhm, step) => {
  expect(understand(text, of('ac-meter'))).toMatchObject({
    reading: {
      bodies: [{ kind: 'resistance', resistanceOhm: expect.closeTo(resistanceOhm, 9), step: expect.closeTo(step, 9) }],
    },
  });
});

test('the volts that a resistance meter shows may stand behind its figure, or anywhere with their unit', () => {
  expect(understand('21.4', of('ac-meter'))).toMatchObject({
    reading: { bodies: [{ openV: null }] },
    said: 'H1-007: resistance 21.4 mΩ',
  });
  expect(understand('21.4 4.152', of('ac-meter'))).toMatchObject({
    reading: { bodies: [{ resistanceOhm: expect.closeTo(0.0214, 9), openV: 4.152 }] },
    said: 'H1-007: resistance 21.4 mΩ, open 4.152 V',
    asks: null,
  });
  expect(understand('4.152V 38', of('told'))).toMatchObject({
    reading: { bodies: [{ resistanceOhm: expect.closeTo(0.038, 9), openV: 4.152 }] },
  });
  expect(understand('4.152 21.4', of('ac-meter'))).toMatchObject({
    asks: { text: expect.stringContaining('Was it 2.14 V?'), suggests: 'H1-007 4.152 2.14 V' },
  });
});

test('in full a line says whose it is, so that it can be typed again whatever cell is shown by then', () => {
  for (const [text, round] of [
    ['3.95 3.85', resistor],
    ['h1-8 3,950 3,85 3,945', resistor],
    ['21.4 4.152 8C', of('ac-meter')],
    ['3.98 0.5 3.87 2.5', of('two-current')],
  ] as const) {
    const line = understand(text, round);
    if (line.kind !== 'reading') throw new Error(line.kind);
    const other = understandReading(
      line.inFull,
      round,
      { code: 'H1-001', chemistry: 'lfp', times: 0, weldedTo: [], series: 1 },
      (code) => ({ ...cell, code }),
      () => null,
    );
    expect(other).toEqual({ ...line, inFull: line.inFull });
  }
});

test('the preloaded step and the two currents', () => {
  expect(understand('4.01 3.89 1.74 4.00', of('preload'))).toMatchObject({
    reading: { bodies: [{ kind: 'load-step', openV: 4.01, loadedV: 3.89, currentA: 1.74, afterV: 4 }] },
  });
  expect(understand('3.98 0.5 3.87 2.5', of('two-current'))).toMatchObject({
    reading: { bodies: [{ kind: 'two-current', atLowV: 3.98, lowCurrentA: 0.5, atHighV: 3.87, highCurrentA: 2.5 }] },
    asks: null,
  });
});

test.each([
  ['3.85 3.95', resistor, 'swapped'],
  ['39.5 3.85', resistor, 'Was it 3.95 V?'],
  ['3.95 3.85 3.85', resistor, 'load still on'],
  ['3.95 3.85 3.96', resistor, 'still settling'],
  ['3.95 3.05', resistor, 'where its batch has'],
  ['3.98 2.5 3.87 0.5', of('two-current'), 'the higher one'],
  ['-12', of('ac-meter'), 'above zero'],
  ['435', of('told', 0.044), 'Was it 43.5 mΩ?'],
])('%s is asked about', (text, round, words) => {
  expect(understand(text, round)).toMatchObject({ kind: 'reading', asks: { text: expect.stringContaining(words) } });
});

test.each([
  ['3.95', resistor, 'expected open, loaded'],
  ['3.95 x', resistor, '"x" was not understood'],
  ['3.9 3.8 3.85 3.8 3.7', resistor, '"3.8" was not understood'],
  ['4.01 3.89 1.74', of('preload'), 'recovery voltage'],
  ['3.95 3.87 0', of('ammeter'), 'above zero'],
  ['Z9-001 3.9 3.8', resistor, 'not among the cells'],
  ['H1-009 3.9 3.8', resistor, 'H1-009 is out: dented.'],
  ['12', of('pulse'), 'page of its run'],
])('%s is refused in words', (text, round, words) => {
  expect(understand(text, round)).toMatchObject({ kind: 'wrong', said: expect.stringContaining(words) });
});

test('a second reading of a cell in its round says so', () => {
  const line = understandReading(
    '21.4',
    of('ac-meter'),
    { ...cell, times: 1 },
    () => null,
    () => null,
  );
  expect(line).toMatchObject({ said: 'H1-007, press 2: resistance 21.4 mΩ', asks: null });
});

test('a code alone goes there', () => {
  expect(understand('H1-8')).toEqual({ kind: 'go', code: 'H1-008' });
});

test('digits finer than the instrument shows are asked about', () => {
  const withMeter = { ...of('ac-meter'), instrument: { code: 'RM1', resolution: 0.0001, as: display.resistance } };
  expect(understand('21.43', withMeter)).toMatchObject({
    asks: { text: expect.stringContaining('RM1 does not show digits that fine') },
  });
  expect(understand('21', withMeter)).toMatchObject({ asks: { suggests: 'H1-007 21.0 mΩ' } });
  expect(understand('21.4', withMeter)).toMatchObject({ asks: null });
});
