import { predictRun } from './predictRun';
import { runPlain } from './plainRun';

const known = (ah: number, ohm: number, fraction = 0.02) => ({
  capacity: { value: ah, u: fraction * ah },
  resistance: { value: ohm, u: 0.03 * ohm },
});
const groups = [
  [known(2.1, 0.05), known(2, 0.06)],
  [known(1.8, 0.05), known(2.1, 0.055)],
];
const request = { chemistry: 'li-ion' as const, curve: null, groups, load: { currentA: 3 }, cutoffPerGroupV: 3 };

test('the run of the cells as they were measured, with more doubt where they are known less', () => {
  const sure = predictRun(request);
  const plain = groups.map((group) =>
    group.map(({ capacity, resistance }) => ({
      capacityAh: capacity.value,
      resistanceOhm: resistance.value,
      soc: 1,
    })),
  );
  expect(sure.run).toEqual(runPlain({ ...request, curve: null, groups: plain }));
  expect(sure.run.limitingGroup).toBe(2);
  expect(sure.runTimeS.value).toBe(sure.run.runTimeS);
  const unsure = predictRun({
    ...request,
    groups: groups.map((group) => group.map(({ capacity }) => known(capacity.value, 0.05, 0.1))),
  });
  expect(unsure.runTimeS.u / unsure.runTimeS.value).toBeGreaterThan(0.09);
  expect(sure.runTimeS.u / sure.runTimeS.value).toBeLessThan(0.05);
});

test('a load that is over before has no doubt of its time; the sag is that of cells in parallel and groups in series', () => {
  const { runTimeS, sagOhm } = predictRun({ ...request, load: { profile: [{ forS: 60, currentA: 2 }] } });
  expect(runTimeS).toEqual({ value: 60, u: 0 });
  expect(sagOhm.value).toBeCloseTo(1 / (1 / 0.05 + 1 / 0.06) + 1 / (1 / 0.05 + 1 / 0.055), 9);
  expect(sagOhm.u / sagOhm.value).toBeCloseTo(0.03, 6);
});
