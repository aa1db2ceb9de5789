import { mean, sampleStandardDeviation } from 'simple-statistics';
import { partialCapacity } from '../capacity/partial';
import { presetRules } from '../chemistry/houseRules';
import { openCircuitOf } from '../chemistry/openCircuit';
import { gradeDuty } from '../grading/duty';
import { rectangular } from '../quantity/quantity';
import { type Chance, seededChance } from '../statistics/random';
import { loadStep } from './loadStep';

/**
 * Published method: JCGM 101:2008 (GUM Supplement 1), propagation of distributions by drawing from the inputs.
 * The stated standard uncertainty must be the deviation of the results.
 */
const draws = 20_000;

const within = (chance: Chance, centre: number, step: number): number => centre + step * (chance.uniform() - 0.5);

test('resistor step: rectangular readings and tolerance', () => {
  const chance = seededChance(101);
  const [openV, loadedV, step, ohm, tolerance] = [3.95, 3.83, 0.01, 2, 0.02];
  const exactOf = (value: number) => ({ value, u: 0 });
  const results = Array.from({ length: draws }, () => {
    const load = ohm * (1 + tolerance * (2 * chance.uniform() - 1));
    return loadStep({
      openV: exactOf(within(chance, openV, step)),
      loadedV: exactOf(within(chance, loadedV, step)),
      load: { kind: 'resistor', resistanceOhm: exactOf(load) },
    }).resistance.value;
  });
  const stated = loadStep({
    openV: { value: openV, u: rectangular(step) },
    loadedV: { value: loadedV, u: rectangular(step) },
    load: { kind: 'resistor', resistanceOhm: { value: ohm, u: (tolerance * ohm) / Math.sqrt(3) } },
  }).resistance;
  expect(mean(results) / stated.value).toBeCloseTo(1, 2);
  expect(sampleStandardDeviation(results) / stated.u).toBeCloseTo(1, 1);
});

test('ammeter step with droop: normal readings', () => {
  const chance = seededChance(102);
  const centre = { open: 3.95, loaded: 3.8, droop: 0.02, amps: 1.6 };
  const u = { open: 0.001, loaded: 0.001, droop: 0.0014, amps: 0.02 };
  const results = Array.from(
    { length: draws },
    () =>
      (chance.normal(centre.open, u.open) -
        chance.normal(centre.loaded, u.loaded) -
        chance.normal(centre.droop, u.droop)) /
      chance.normal(centre.amps, u.amps),
  );
  const stated = loadStep({
    openV: { value: centre.open, u: u.open },
    loadedV: { value: centre.loaded, u: u.loaded },
    droopV: { value: centre.droop, u: u.droop },
    load: { kind: 'ammeter', currentA: { value: centre.amps, u: u.amps } },
  }).resistance;
  expect(sampleStandardDeviation(results) / stated.u).toBeCloseTo(1, 1);
});

test('charge from a rested voltage, away from the bends of the curve', () => {
  const chance = seededChance(103);
  const curve = openCircuitOf('lipo');
  const u = 0.003;
  const results = Array.from(
    { length: draws },
    () => curve.socAt({ value: chance.normal(4.05, Math.hypot(u, curve.uAt(0.5))), u: 0 }).value,
  );
  const stated = curve.socAt({ value: 4.05, u });
  expect(mean(results)).toBeCloseTo(stated.value, 2);
  expect(sampleStandardDeviation(results) / stated.u).toBeGreaterThan(0.85);
  expect(sampleStandardDeviation(results) / stated.u).toBeLessThan(1.15);
});

test('capacity by the partial method', () => {
  const chance = seededChance(104);
  const curve = openCircuitOf('lipo');
  const stated = partialCapacity({
    curve,
    startVoltagesV: [3.755],
    chargeAh: 2,
    voltageUncertaintyV: 0.001,
  }).capacityAh;
  const results = Array.from(
    { length: draws },
    () => 2 / (1 - curve.socAt({ value: chance.normal(3.755, Math.hypot(0.001, curve.uAt(0.5))), u: 0 }).value),
  );
  expect(sampleStandardDeviation(results) / stated.u).toBeGreaterThan(0.85);
  expect(sampleStandardDeviation(results) / stated.u).toBeLessThan(1.15);
});

test('the guard band keeps a cell that is just too weak from the better duty, all but one time in twenty', () => {
  const chance = seededChance(105);
  const rules = presetRules('workshop');
  const [relativeU, limit] = [0.02, rules.steadyHealth];
  const graded = Array.from({ length: 4000 }, () => {
    const capacity = chance.normal(2.4 * (limit - 1e-9), 2.4 * limit * relativeU);
    const { duty } = gradeDuty(
      {
        chemistry: 'li-ion',
        asNewCapacityAh: 2.4,
        asNewIs: 'rated',
        capacityAh: { value: capacity, u: 2.4 * limit * relativeU },
        capacityIsAtLeast: false,
        rescues: 0,
        holdAsked: false,
        resistanceOhm: { value: 0.03, u: 0.0003 },
        safety: [],
      },
      rules,
    );
    return duty === 'steady' || duty === 'surge';
  });
  const wrong = graded.filter(Boolean).length / graded.length;
  expect(wrong).toBeGreaterThan(0.03);
  expect(wrong).toBeLessThan(0.07);
});
