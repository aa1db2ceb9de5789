import { understandRescue } from './rescueLine';

const understand = (text: string) => understandRescue(text, 'PB9', 3);

test('every group, the skin and the hand', () => {
  expect(understand('2.61 2,63 2.58 24.5C warm')).toEqual({
    kind: 'reading',
    body: { kind: 'rescue-reading', voltagesV: [2.61, 2.63, 2.58], step: 0.01, skinC: 24.5, isWarm: true },
    said: 'PB9: 2.61 · 2.63 · 2.58 V, 24.5 °C, warm',
  });
  expect(understand('2.612 2.63 2610mV')).toMatchObject({ body: { step: 0.01, skinC: null, isWarm: false } });
});

test.each([
  ['2.61 2.63', 'has 3 groups; 2 voltages'],
  ['2.61 2.63 hello', '"hello" was not understood'],
  ['2.61 2.63 26.1', 'no voltage of one group'],
  ['2.61 2.63 2.6 20C 21C', 'Two temperatures'],
  ['2.61 2.63 2.6 900C', 'no such temperature'],
])('%s: %s', (text, said) => {
  const line = understand(text);
  expect(line.kind === 'wrong' && line.said).toContain(said);
});

test('nothing is nothing', () => expect(understand(' ')).toEqual({ kind: 'nothing' }));
