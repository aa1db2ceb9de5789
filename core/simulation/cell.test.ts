import { openCircuitOf } from '../chemistry/openCircuit';
import { seededChance } from '../statistics/random';
import { advance, type CellModel, restedState, stepResistanceOhm, terminalV } from './cell';
import { readingOf } from './meter';

const model: CellModel = {
  curve: openCircuitOf('li-ion'),
  capacityAh: 2.2,
  ohmicOhm: 0.03,
  branches: [
    { resistanceOhm: 0.012, timeConstantS: 1.5 },
    { resistanceOhm: 0.02, timeConstantS: 60 },
  ],
  selfDischargeA: 0,
};

test('at the instant of a step only the ohmic part shows, later the branches follow their exponentials', () => {
  const rested = restedState(0.6);
  expect(terminalV(model, rested, 0) - terminalV(model, rested, 2)).toBeCloseTo(0.06, 12);
  let state = rested;
  for (let i = 0; i < 100; i++) state = advance(model, state, 2, 0.1);
  expect(state.branchV[0] + state.branchV[1]).toBeCloseTo(2 * (stepResistanceOhm(model, 10) - 0.03), 9);
});

test('the charge taken out is the charge counted, and it stops at empty', () => {
  expect(advance(model, restedState(1), 1.1, 3600).soc).toBeCloseTo(0.5, 12);
  expect(advance(model, restedState(0.1), 2.2, 3600).soc).toBe(0);
});

test('one large step equals many small ones', () => {
  let small = restedState(0.8);
  for (let i = 0; i < 50; i++) small = advance(model, small, 1, 1);
  const large = advance(model, restedState(0.8), 1, 50);
  expect(small.soc).toBeCloseTo(large.soc, 12);
  expect(small.branchV[1]).toBeCloseTo(large.branchV[1], 12);
});

test('self-discharge empties a cell at rest', () => {
  expect(advance({ ...model, selfDischargeA: 0.0022 }, restedState(0.5), 0, 360_000).soc).toBeCloseTo(0.4, 9);
});

test('the same seed gives the same chance, and normal numbers have their mean and deviation', () => {
  const [one, other] = [seededChance(5), seededChance(5)];
  const values = Array.from({ length: 4000 }, () => one.normal(3, 0.5));
  expect(values.slice(0, 3)).toEqual([other.normal(3, 0.5), other.normal(3, 0.5), other.normal(3, 0.5)]);
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  expect(mean).toBeCloseTo(3, 1);
  expect(Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length)).toBeCloseTo(0.5, 1);
});

test('a meter reads in its own steps, with its own offset and gain', () => {
  expect(readingOf(3.7123, { offset: -0.03, gain: 1.01, noise: 0, step: 0.01 }, seededChance(1))).toBe(3.72);
});
