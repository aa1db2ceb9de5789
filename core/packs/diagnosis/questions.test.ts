import { openCircuitOf } from '../../chemistry/openCircuit';
import { questionsOf, roundsIfSo } from './questions';
import { type Diagnosed, type DiagnosedRound, nothingKnown } from './visit';

const round = (groupVoltagesV: number[], more: Partial<DiagnosedRound> = {}): DiagnosedRound => ({
  state: 'rest',
  atS: 0,
  currentA: 0,
  digitV: 0.001,
  instrument: 'one',
  sinceChargeS: null,
  terminalV: null,
  groupVoltagesV,
  ...more,
});
const even = [3.95, 3.951, 3.949, 3.95];
const lower = (byV: number): number[] => even.map((v) => v - byV);

// Common practice: what a bench mixes up.
test.each([
  ['a load noted as a rest', [round(even), round(lower(0.08), { atS: 60 })], [{ round: 1, code: 'under-load' }]],
  ['the first of two', [round(lower(0.08)), round(even, { atS: 60 })], [{ round: 0, code: 'under-load' }]],
  [
    'rest and load swapped',
    [round(lower(0.08)), round(even, { atS: 60, state: 'load', currentA: 3 })],
    [{ round: 1, code: 'swapped' }],
  ],
  [
    'groups from the positive end',
    [round([3.9, 3.95, 3.95, 3.95]), round([3.948, 3.949, 3.948, 3.9], { atS: 7200 })],
    [{ round: 1, code: 'from-positive-end' }],
  ],
  ['just charged', [round(even, { sinceChargeS: 300 })], [{ round: 0, code: 'not-settled' }]],
] as const)('%s is asked about', (_, rounds, expected) => {
  expect(questionsOf(rounds)).toEqual(expected);
});

test('a usual visit asks nothing: a load, days of rest, another instrument, a settled charge', () => {
  const visit = [
    round(even, { sinceChargeS: 3600 }),
    round(lower(0.08), { atS: 60, state: 'load', currentA: 3 }),
    round(lower(0.02), { atS: 7 * 86_400 }),
    round(lower(0.04), { atS: 7 * 86_400 + 60, instrument: 'two' }),
  ];
  expect(questionsOf(visit)).toEqual([]);
});

test('answered with yes, a load is a load, swapped rounds change places, and turned groups begin at the other end', () => {
  const pack = (rounds: DiagnosedRound[]): Diagnosed => ({
    curve: openCircuitOf('li-ion'),
    series: 4,
    ratedCapacityAh: 2.6,
    rounds,
    floorV: 3,
    groupResistancesOhm: null,
    beforehand: nothingKnown,
  });
  const ifSo = (rounds: DiagnosedRound[]) => roundsIfSo(pack(rounds), questionsOf(rounds));
  const loaded = ifSo([round(even), round(lower(0.08), { atS: 60 })])?.[1];
  // 0.08 V by 0.13 Ω Ah in 2.6 Ah.
  expect(loaded).toMatchObject({ state: 'load', currentA: expect.closeTo(1.6, 6) });
  const swapped = ifSo([round(lower(0.08)), round(even, { atS: 60, state: 'load', currentA: 3 })]);
  expect(swapped?.map(({ state, groupVoltagesV }) => [state, groupVoltagesV])).toEqual([
    ['rest', even],
    ['load', lower(0.08)],
  ]);
  const turned = ifSo([round([3.9, 3.95, 3.95, 3.95]), round([3.948, 3.949, 3.948, 3.9], { atS: 7200 })]);
  expect(turned?.[1]?.groupVoltagesV[0]).toBe(3.9);
  expect(ifSo([round(even, { sinceChargeS: 300 })])).toBeNull();
});
