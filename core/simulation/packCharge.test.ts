import { openCircuitCurve, openCircuitOf } from '../chemistry/openCircuit';
import figures from './ngspiceBleed.json';
import type { VoltageTrace } from './voltageTrace';
import { type Charger, chargePack, groupOf } from './packCharge';

type Circuit = (typeof figures.packs)[number];

/** A capacitor as a straight open-circuit line from a volt below the end voltage to the end. */
const groupsOf = ({ groups, endV }: Circuit) =>
  (groups as [number, number, number, number, number][]).map(([restV, farads, ohmicOhm, branchOhm, branchF]) => ({
    curve: openCircuitCurve(
      [
        [0, endV - 1],
        [1, endV],
      ],
      0,
      'from memory',
    ),
    capacityAh: farads / 3600,
    soc: restV - endV + 1,
    ohmicOhm,
    branches: [
      { resistanceOhm: branchOhm, timeConstantS: branchOhm * branchF },
      { resistanceOhm: 0, timeConstantS: 1 },
    ] as [{ resistanceOhm: number; timeConstantS: number }, { resistanceOhm: number; timeConstantS: number }],
  }));

const chargerOf = ({ amps, bleedOhm, bleedFromV, beyondV, endV, overshootV }: Circuit): Charger => ({
  currentA: amps,
  endV,
  bleed: { currentA: endV / bleedOhm, fromV: bleedFromV, beyondV },
  overshootV,
  endCurrentA: 0.02,
});

/** When the groups stay balanced, s. */
function evenAt(samples: readonly (readonly number[])[], withinV: number): number {
  const last = samples.findLastIndex(([, ...volts]) => Math.max(...volts) - Math.min(...volts) > withinV);
  return samples[last + 1]?.[0] ?? NaN;
}

const asSamples = ({ atS, groupsV }: VoltageTrace): number[][] =>
  atS.map((t, k) => [t, ...groupsV.map((own) => own[k] ?? NaN)]);

describe.each(figures.packs.map((pack) => [pack.name, pack] as const))('ngspice 39, bleed resistors: %s', (_, pack) => {
  const { course } = chargePack(groupsOf(pack), { ...chargerOf(pack), endCurrentA: -1 }, pack.samples.at(-1)?.[0] ?? 0);
  const own = asSamples(course);

  test('every group’s voltage follows the circuit', () => {
    const theirs = new Map(pack.samples.map(([t, ...volts]) => [t, volts]));
    const both = own.flatMap(([t, ...volts]) => {
      const its = theirs.get(t);
      return its ? volts.map((v, i) => Math.abs(v - (its[i] ?? NaN))) : [];
    });
    expect(both.length).toBeGreaterThan(90);
    expect(Math.max(...both)).toBeLessThan(0.004);
  });

  test('the groups are even at the same time, within 5 %', () => {
    const within = 2 * pack.beyondV;
    const theirs = evenAt(pack.samples, within);
    expect(theirs).toBeGreaterThan(1000);
    expect(Math.abs(evenAt(own, within) / theirs - 1)).toBeLessThan(0.05);
  });
});

const cell = (soc: number) => groupOf({ curve: openCircuitOf('li-ion'), capacityAh: 2.4, soc }, 0.04);
const charger: Charger = { currentA: 1.2, endV: 4.2, bleed: null, overshootV: null, endCurrentA: 0.12 };

test('a charger that sees no group drives the full one beyond its end; one that does stops there', () => {
  const pack = [cell(0.55), cell(0.9), cell(0.55)];
  expect(chargePack(pack, charger, 40_000).highestV).toBeGreaterThan(4.25);
  const seeing = chargePack(pack, { ...charger, overshootV: 0.01 }, 40_000);
  expect(seeing.highestV).toBeLessThan(4.2105);
  expect(seeing.soc[0]).toBeLessThan(0.75);
});

test('bleeding takes as long as the missing charge through the resistor: ΔQ / I (common practice)', () => {
  const bleedA = 0.2;
  const { endsAtS, bledAh } = chargePack(
    [cell(0.6), cell(0.9), cell(0.9)],
    { ...charger, bleed: { currentA: bleedA, fromV: 4.15, beyondV: 0.004 }, overshootV: 0.005 },
    90_000,
  );
  const missingAh = 0.3 * 2.4;
  const chargeS = ((0.1 * 2.4) / 1.2) * 3600;
  expect(((endsAtS ?? NaN) - chargeS) / ((missingAh / bleedA) * 3600)).toBeGreaterThan(0.93);
  expect(((endsAtS ?? NaN) - chargeS) / ((missingAh / bleedA) * 3600)).toBeLessThan(1.1);
  expect(bledAh / 2 / missingAh).toBeGreaterThan(0.93);
  expect(bledAh / 2 / missingAh).toBeLessThan(1.05);
});

test('it reports its progress, and its course stays short', () => {
  const fractions: number[] = [];
  const { course } = chargePack([cell(0.1)], { ...charger, currentA: 0.05, endCurrentA: 0.01 }, 86_400, (fraction) =>
    fractions.push(fraction),
  );
  expect(fractions.length).toBeGreaterThan(5);
  expect(course.atS.length).toBeLessThanOrEqual(601);
  expect(course.groupsV[0]).toHaveLength(course.atS.length);
});
