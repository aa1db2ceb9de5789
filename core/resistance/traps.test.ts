import { warningText } from '@/words/warnings';
import { openCircuitOf } from '../chemistry/openCircuit';
import { type Conditions, trapsOf, type Window } from './traps';

const window: Window = { charge: { from: 0.3, to: 0.7 }, temperature: { coldestC: 18, warmestC: 26 }, restS: 3600 };
const fine: Conditions = {
  method: 'ammeter',
  chemistry: 'li-ion',
  curve: openCircuitOf('li-ion'),
  openV: 3.68,
  temperatureC: 21,
  restedS: 4000,
  board: false,
};
const traps = (change: Partial<Conditions>, other: Partial<Window> = {}) => {
  const { warnings, leftOut } = trapsOf({ ...fine, ...change }, { ...window, ...other });
  return {
    codes: warnings.map((warning) => warning.code),
    comparable: leftOut === null,
    text: warnings.map(warningText)[0],
  };
};

test('within its window a reading is compared without a word', () => {
  expect(traps({})).toEqual({ codes: [], comparable: true, text: undefined });
});

test.each([
  [{ temperatureC: 11 }, 'temperature-outside', '11 °C'],
  [{ restedS: 600 }, 'not-rested', '0:10:00 of the 1:00:00'],
  [{ openV: 4.16 }, 'charge-outside', 'outside the 30 to 70 %'],
  [{ method: 'ac-meter' as const, openV: 3.42 }, 'charge-outside', 'outside the 30 to 70 %'],
])('%j is kept but not compared', (change, code, words) => {
  expect(traps(change)).toEqual({ codes: [code], comparable: false, text: expect.stringContaining(words) });
});

test.each([
  [{ temperatureC: null }, {}, 'temperature-unknown'],
  [{ board: true }, {}, 'board-in-path'],
  [{ method: 'told' as const, openV: null, restedS: null }, {}, 'charge-unknown'],
  [{ openV: 4.18, restedS: null }, { charge: null }, 'surface-charge'],
])('%j is compared with a warning', (change, other, code) => {
  expect(traps(change, other)).toMatchObject({ codes: [code], comparable: true });
});

test('where a charge was noted, a meter that shows no voltage is believed', () => {
  expect(traps({ method: 'ac-meter', openV: null })).toMatchObject({ codes: [], comparable: true });
  expect(traps({ method: 'ac-meter', openV: null, restedS: null }, { charge: null }).codes).toEqual([]);
});

test('a preload or an hour of rest takes the surface voltage off; an AC meter does not mind', () => {
  for (const change of [{ method: 'preload' as const }, { method: 'ac-meter' as const }, { restedS: 9000 }])
    expect(
      traps({ openV: 4.18, ...(change.restedS ? {} : { restedS: null }), ...change }, { charge: null }).codes,
    ).toEqual([]);
});
