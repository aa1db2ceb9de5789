import { openCircuitOf } from '../chemistry/openCircuit';
import { exact } from '../quantity/quantity';
import { advance, type CellModel, restedState } from './cell';
import { cycleDrift, type DriftRequest } from './cycleDrift';

const cell = (capacityAh: number, microA: number, u = 0, ownU = u) => ({
  capacityAh,
  leak: { currentA: { value: microA / 1e6, u: u / 1e6 }, ownU: ownU / 1e6 },
});
const request: DriftRequest = {
  groups: [
    [cell(2.5, 40), cell(2.4, 60)],
    [cell(2.6, 50), cell(2.3, 50)],
    [cell(2.5, 250), cell(2.4, 50)],
  ],
  cycles: 100,
  daysPerCycle: 0.5,
};

test('what a simulation of a hundred cycles leaves in each group is what is forecast', () => {
  // Ten hours' rest, then one current out and in again for all, a hundred times over, by the model of a cell.
  const ends = request.groups.map((group) => {
    const model: CellModel = {
      curve: openCircuitOf('li-ion'),
      capacityAh: group.reduce((sum, { capacityAh }) => sum + capacityAh, 0),
      ohmicOhm: 0.02,
      branches: [
        { resistanceOhm: 0.01, timeConstantS: 5 },
        { resistanceOhm: 0.01, timeConstantS: 300 },
      ],
      selfDischargeA: group.reduce((sum, { leak }) => sum + (leak?.currentA.value ?? 0), 0),
    };
    let state = restedState(0.9);
    for (let n = 0; n < request.cycles; n += 1)
      for (const [currentA, stepS] of [
        [0, 43_200 - 7200],
        [2, 3600],
        [-2, 3600],
      ] as const)
        state = advance(model, state, currentA, stepS);
    return { soc: state.soc, ah: model.capacityAh };
  });
  const lost = ends.map(({ soc, ah }) => (0.9 - soc) * ah);
  const meanAh = lost.reduce((sum, one) => sum + one, 0) / lost.length;
  const drift = cycleDrift(request);
  ends.forEach(({ ah }, g) => expect(drift?.byGroup[g]?.value).toBeCloseTo((meanAh - (lost[g] as number)) / ah, 9));
  // At each charge the best group gives up what the worst lost more.
  expect(drift?.bledAh.value).toBeCloseTo(12 * 200e-6, 12);
});

test('doubt of their own weighs by itself, what leans alike only on the difference', () => {
  const drift = (u: number, ownU: number) =>
    cycleDrift({ groups: [[cell(2.5, 100, u, ownU)], [cell(2.5, 200, u, ownU)]], cycles: 100, daysPerCycle: 7 });
  const perMicroA = (100 * 7 * 24 * 1e-6) / 2.5;
  // Two groups: half of each one's own uncertainty, both ways.
  expect(drift(20, 20)?.byGroup[1]?.u).toBeCloseTo((perMicroA * 20) / Math.sqrt(2), 9);
  // Alike for both: 40 of 300 µA, of the 50 µA that each is off the mean.
  expect(drift(20, 0)?.byGroup[1]?.u).toBeCloseTo((perMicroA * 50 * 40) / 300, 9);
  expect(drift(20, 20)?.bledAh.u).toBeCloseTo(168e-6 * 20 * Math.SQRT2, 9);
});

test('a cell that no self-discharge test tells of leaves it untold; groups without cells and zero are refused', () => {
  expect(cycleDrift({ ...request, groups: [[cell(2, 50)], [{ capacityAh: 2, leak: null }]] })).toBeNull();
  expect(() => cycleDrift({ ...request, groups: [] })).toThrow();
  expect(() => cycleDrift({ ...request, groups: [[]] })).toThrow();
  expect(() => cycleDrift({ ...request, cycles: 0 })).toThrow();
  expect(cycleDrift({ ...request, groups: [[{ capacityAh: 2, leak: { currentA: exact(0), ownU: 0 } }]] })).toEqual({
    byGroup: [{ value: 0, u: 0 }],
    bledAh: { value: 0, u: 0 },
  });
});
