import { refusalOf } from '@/words/impossible';
import fc from 'fast-check';
import { openCircuitCurve, openCircuitOf } from '../chemistry/openCircuit';
import figures from './ngspicePackRun.json';
import { packRun, type RunCell } from './packRun';
import { circuitCases, groupsOfCase } from './packRunCases';
import { PackState } from './packState';

/** From 3 V at empty to 4 V at full, a straight line. */
const straight = openCircuitCurve(
  [
    [0, 3],
    [1, 4],
  ],
  0,
  'from memory',
);
const cell = (more: Partial<RunCell> = {}): RunCell => ({
  curve: straight,
  capacityAh: 2,
  soc: 1,
  ohmicOhm: 0.05,
  branches: [],
  ...more,
});

describe.each(circuitCases.map((one) => [one.name, one] as const))('ngspice 39: %s', (name, one) => {
  const samples = figures.cases.find((made) => made.name === name)?.samples ?? [];

  test('every group’s voltage follows the circuit within 2 mV', () => {
    const state = new PackState(groupsOfCase(one));
    const simulated = new Map(samples.map(([atS = 0, ...groupsV]) => [atS, groupsV]));
    const apart: number[] = [];
    for (let t = 1; t <= one.untilS; t += 1) {
      state.lookAhead(1);
      state.moveOn(one.currentA);
      simulated.get(t)?.forEach((v, g) => apart.push(Math.abs(v - (state.groupV[g] as number))));
    }
    expect(apart.length).toBe(samples.length * one.groups.length);
    expect(apart.length).toBeGreaterThan(50);
    expect(Math.max(...apart)).toBeLessThan(0.002);
  });
});

describe('closed forms', () => {
  test('one cell behind one RC: U = U0 − I·R0 − I·R1·(1 − exp(−t/τ)) − I·t/C', () => {
    const [currentA, ohm, tau] = [1, 0.04, 30];
    const state = new PackState([[cell({ branches: [{ resistanceOhm: ohm, timeConstantS: tau }] })]]);
    for (let t = 1; t <= 120; t += 1) {
      state.lookAhead(1);
      state.moveOn(currentA);
      const expected = 4 - currentA * 0.05 - currentA * ohm * (1 - Math.exp(-t / tau)) - (currentA * t) / 7200;
      expect(state.groupV[0]).toBeCloseTo(expected, 9);
    }
  });

  test('two cells in parallel share by their resistances at once, and even out with the time constant of their curve', () => {
    const run = packRun({
      groups: [[cell({ ohmicOhm: 0.03 }), cell({ ohmicOhm: 0.06 })]],
      load: { currentA: 3 },
      cutoffPerGroupV: 3.2,
      stepS: 1,
    });
    expect(run.currentShare.start[0]?.[0]).toBeCloseTo(2 / 3, 6);
    // In the long run cells of one capacity and one straight curve carry the same.
    expect(run.currentShare.end[0]?.[0]).toBeCloseTo(0.5, 2);
    // Joined at rest, at different charge: the difference wears off with τ = (Ra + Rb)·C / 2, C = Ah per volt.
    const state = new PackState([[cell({ soc: 0.9 }), cell({ soc: 0.8 })]]);
    const tau = (0.1 * 7200) / 2;
    for (let t = 1; t <= 2 * tau; t += 1) {
      state.lookAhead(1);
      state.moveOn(0);
    }
    expect((state.soc[0] as number) - (state.soc[1] as number)).toBeCloseTo(0.1 * Math.exp(-2), 4);
  });

  test('a straight cell ends where its line meets the cut-off: t = (U0 − I·R − U)·C / I', () => {
    const run = packRun({ groups: [[cell()], [cell()]], load: { currentA: 2 }, cutoffPerGroupV: 3.3 });
    expect(run.ends).toBe('cutoff');
    expect(run.runTimeS).toBeCloseTo(((4 - 0.1 - 3.3) * 7200) / 2, 0);
    expect(run.deliveredAh).toBeCloseTo((2 * run.runTimeS) / 3600, 9);
    // From 3.9 V falling to 3.3 V, two of them.
    expect(run.deliveredWh).toBeCloseTo(run.deliveredAh * 2 * 3.6, 2);
    expect(run.strandedAh).toBeCloseTo(0, 6);
  });

  test('constant power: the current is the lower root of P = (E − I·R)·I, and grows as the voltage falls', () => {
    const run = packRun({ groups: [[cell({ ohmicOhm: 0.1 })]], load: { powerW: 10 }, cutoffPerGroupV: 3 });
    // ∫ dt = ∫ C dE / I(E), with I from the quadratic; by the midpoint rule.
    const amperesAt = (openV: number): number => (openV - Math.sqrt(openV ** 2 - 4 * 10 * 0.1)) / 0.2;
    const lastV = 3 + 0.1 * (10 / 3);
    const parts = 10_000;
    const width = (4 - lastV) / parts;
    const seconds = Array.from({ length: parts }, (_, k) => (7200 * width) / amperesAt(lastV + (k + 0.5) * width));
    expect(run.runTimeS / seconds.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 3);
    expect(run.deliveredWh).toBeCloseTo((10 * run.runTimeS) / 3600, 2);
  });

  test('held at one voltage the current of a straight cell tapers with R·C', () => {
    const state = new PackState([[cell({ soc: 0.5 })]]);
    const amperes: number[] = [];
    for (let t = 1; t <= 360; t += 1) {
      const { openV, ohm } = state.lookAhead(1);
      amperes.push((openV - 3.9) / ohm);
      state.moveOn((openV - 3.9) / ohm);
    }
    // τ = 0.05 Ω · 7200 As/V: after one of it a part of e is left.
    expect((amperes[359] as number) / (amperes[0] as number)).toBeCloseTo(Math.exp(-359 / 360), 2);
  });
});

const real = (capacityAh: number, tenOhm: number, soc = 1): RunCell => ({
  curve: openCircuitOf('li-ion'),
  capacityAh,
  soc,
  ohmicOhm: 0.75 * tenOhm,
  branches: [{ resistanceOhm: 0.5 * tenOhm, timeConstantS: 15 }],
});

test('the weak group ends it, and what the others hold is stranded', () => {
  const run = packRun({
    groups: [
      [real(2, 0.05), real(2, 0.05)],
      [real(2, 0.05), real(1.4, 0.09)],
      [real(2, 0.05), real(2, 0.05)],
    ],
    load: { currentA: 2 },
    cutoffPerGroupV: 3,
  });
  expect(run).toMatchObject({ ends: 'cutoff', limitingGroup: 2 });
  expect(run.leftAh[1]).toBe(0);
  expect(run.leftAh[0]).toBeGreaterThan(0.5);
  expect(run.leftAh[0]).toBeLessThan(0.65);
  expect(run.strandedAh).toBeCloseTo(
    run.leftAh.reduce((a, b) => a + b, 0),
    9,
  );
  expect(run.deliveredWh).toBeLessThan(0.93 * run.cellsAloneWh);
  expect(run.hottest.group).toBe(2);
});

test('a load beyond it ends at once, and says which', () => {
  const groups = [[real(2, 0.05)]];
  const atOnce = packRun({ groups, load: { currentA: 60 }, cutoffPerGroupV: 3 });
  expect(atOnce).toMatchObject({ ends: 'cutoff', limitingGroup: 1 });
  expect(atOnce.runTimeS).toBeCloseTo(0, 5);
  expect(packRun({ groups, load: { powerW: 500 }, cutoffPerGroupV: 3 })).toMatchObject({
    ends: 'not-carried',
    runTimeS: 0,
  });
});

test('a profile goes on through its parts and its rests, and is over where nothing is at its end', () => {
  const profile = [
    { forS: 60, currentA: 2 },
    { forS: 300, currentA: 0 },
    { forS: 60, currentA: 4 },
  ];
  const run = packRun({ groups: [[real(2, 0.05)], [real(2, 0.05)]], load: { profile }, cutoffPerGroupV: 3 });
  expect(run).toMatchObject({ ends: 'profile-over', runTimeS: 420 });
  expect(run.deliveredAh).toBeCloseTo(360 / 3600, 9);
  const at = (t: number): number => run.course.groupsV[0]?.[run.course.atS.findIndex((s) => s >= t)] ?? NaN;
  expect(at(350)).toBeGreaterThan(at(59));
});

test('what cells carry is the pack’s current, what leaves them is what it delivers, whatever the pack (property)', () => {
  const some = fc.record({
    capacityAh: fc.double({ min: 0.3, max: 5, noNaN: true }),
    tenOhm: fc.double({ min: 0.005, max: 0.3, noNaN: true }),
    soc: fc.double({ min: 0.3, max: 1, noNaN: true }),
  });
  const group = fc.array(some, { minLength: 1, maxLength: 4 });
  fc.assert(
    fc.property(
      fc.array(group, { minLength: 1, maxLength: 4 }),
      fc.double({ min: 0.05, max: 8, noNaN: true }),
      (pack, currentA) => {
        const groups = pack.map((cells) => cells.map((one) => real(one.capacityAh, one.tenOhm, one.soc)));
        const run = packRun({ groups, load: { currentA }, cutoffPerGroupV: 3, stepS: 5 });
        expect(run.ends).toBe('cutoff');
        run.currentShare.end.forEach((fractions) => expect(fractions.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9));
        expect(run.deliveredAh * 3600).toBeCloseTo(currentA * run.runTimeS, 3);
        const left = groups.map((cells, g) =>
          cells.reduce((sum, one, k) => sum + (one.soc - (run.soc[g]?.[k] ?? NaN)) * one.capacityAh, 0),
        );
        // Within the last step, of which only a share counts.
        left.forEach((ah) => expect(Math.abs(ah - run.deliveredAh)).toBeLessThanOrEqual((currentA * 5) / 3600 + 1e-9));
        expect(JSON.stringify(run)).not.toContain('null');
      },
    ),
    { numRuns: 40 },
  );
});

test.each([
  [{ groups: [] }, 'at least one cell'],
  [{ groups: [[cell()], []] }, 'at least one cell'],
  [{ load: { currentA: 0 } }, 'above zero'],
  [{ load: { profile: [{ forS: 10, currentA: 0 }] } }, 'above zero'],
  [{ groups: [[cell({ ohmicOhm: 0 })]] }, 'above zero'],
])('impossible packs and loads are refused: %#', (more, words) => {
  const request = { groups: [[cell()]], load: { currentA: 1 }, cutoffPerGroupV: 3, ...more };
  expect(refusalOf(() => packRun(request))).toContain(words);
});
