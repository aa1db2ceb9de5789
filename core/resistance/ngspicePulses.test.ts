import { openCircuitCurve } from '../chemistry/openCircuit';
import { read, rectangular } from '../quantity/quantity';
import { advance, restedState, stepResistanceOhm, terminalV } from '../simulation/cell';
import { seededChance } from '../statistics/random';
import { loadStep } from './loadStep';
import figures from './ngspicePulses.json';
import { createPulseFinder } from './pulses';
import { fitRelaxation } from './relaxation';

/** Pulses of two-branch cells computed by ngspice 39; ngspicePulses.sh makes them again. */
const cells = figures.cells.map((cell) => ({
  ...cell,
  samples: cell.samples as [number, number][],
  branches: cell.branches as [[number, number], [number, number]],
}));
type Cell = (typeof cells)[number];
const ampsAt = (cell: Cell, t: number) => (t > cell.fromS && t <= cell.fromS + cell.pulseS ? cell.amps : 0);
const modelOf = ({ ohmicOhm, branches: [[r1, c1], [r2, c2]], openV, chargeF }: Cell) => ({
  // A capacitor as a straight open-circuit line: 1 V of it is chargeF coulombs.
  curve: openCircuitCurve(
    [
      [0, openV - 1],
      [1, openV],
    ],
    0,
    'from memory',
  ),
  capacityAh: chargeF / 3600,
  ohmicOhm,
  branches: [
    { resistanceOhm: r1, timeConstantS: r1 * c1 },
    { resistanceOhm: r2, timeConstantS: r2 * c2 },
  ] as [{ resistanceOhm: number; timeConstantS: number }, { resistanceOhm: number; timeConstantS: number }],
  selfDischargeA: 0,
});

/** Ohms seen after the step, as read. */
const pointsOf = (cell: Cell, read: (volts: number) => number) =>
  cell.samples
    .filter(([t]) => t > cell.fromS + 0.05 && t < cell.fromS + cell.pulseS - 0.05)
    .map(([t, volts]) => ({ x: t - cell.fromS, y: (cell.openV - read(volts)) / cell.amps }));

describe.each(cells.map((cell) => [cell.name, cell] as const))('ngspice: %s', (_, cell) => {
  const model = modelOf(cell);
  const lossVPerS = cell.amps / cell.chargeF;

  test('our cell model follows the circuit within 0.2 mV', () => {
    let state = restedState(1);
    let last = 0;
    for (const [t, volts] of cell.samples) {
      state = advance(model, state, ampsAt(cell, (last + t) / 2), t - last);
      last = t;
      // The very sample of an edge may show either side of it.
      if (Math.abs(t - cell.fromS) > 0.01 && Math.abs(t - cell.fromS - cell.pulseS) > 0.01)
        expect(Math.abs(terminalV(model, state, ampsAt(cell, t)) - volts)).toBeLessThan(2e-4);
    }
  });

  test('the pulse is found in a noisy log, with the circuit’s resistance at each horizon within three uncertainties', () => {
    const chance = seededChance(11);
    const finder = createPulseFinder();
    for (const [t, volts] of cell.samples)
      if (t < 59) finder.push(t, volts + chance.normal(0, 0.0003), ampsAt(cell, t));
    const [on, off] = finder.finish({
      way: 1,
      voltageDigitV: 0.0001,
      voltageRelativeU: 0,
      currentRelativeU: 0,
      currentDigitA: 0,
    });
    expect(off?.deltaCurrentA).toBeCloseTo(-cell.amps, 9);
    for (const [name, after] of [
      ['1s', 1],
      ['10s', 10],
    ] as const) {
      if (after >= cell.pulseS) continue;
      const truth = stepResistanceOhm(model, after) + (after * lossVPerS) / cell.amps;
      expect(Math.abs((on?.resistanceOhm[name] ?? NaN) - truth)).toBeLessThan(
        3 * (on?.standardUncertaintyOhm[name] ?? 0),
      );
    }
  });

  test('the fit finds what comes at once, the stages and the slow branch again, the discharge left in', () => {
    const fit = fitRelaxation({
      points: pointsOf(cell, (volts) => volts),
      stepS: 0.05,
      sampleU: 2e-4 / cell.amps,
      levelU: 0,
      driftUOhmPerS: 0,
      relativeU: 0,
    });
    const within = (quantity: { value: number; u: number } | null | undefined, truth: number) =>
      expect(Math.abs((quantity?.value ?? NaN) - truth)).toBeLessThan(2.5 * (quantity?.u ?? 0));
    within(fit?.ohmicOhm, cell.ohmicOhm);
    if (cell.pulseS > 10)
      within(
        fit?.stages.find(({ fromS }) => fromS === 1)?.resistanceOhm,
        stepResistanceOhm(model, 10) - stepResistanceOhm(model, 1),
      );
    for (const branch of fit?.branches ?? []) {
      const near = model.branches.reduce((x, y) =>
        Math.abs(Math.log(y.timeConstantS / branch.timeConstantS.value)) <
        Math.abs(Math.log(x.timeConstantS / branch.timeConstantS.value))
          ? y
          : x,
      );
      within(branch.timeConstantS, near.timeConstantS);
      within(branch.resistanceOhm, near.resistanceOhm);
    }
  });

  test('the droop correction and the fit agree on the same pulse within their uncertainties', () => {
    const at = (t: number) =>
      cell.samples.reduce((best, sample) => (Math.abs(sample[0] - t) < Math.abs(best[0] - t) ? sample : best))[1];
    const chance = seededChance(7);
    const step = 0.0005;
    const shown = (t: number) => Math.round((at(t) + chance.normal(0, 0.0001)) / step) * step;
    const [open, loaded, after] = [shown(cell.fromS - 1), shown(cell.fromS + cell.pulseS - 0.1), shown(290)];
    const byDroop = loadStep({
      openV: read(open, step),
      loadedV: read(loaded, step),
      droopV: { value: open - after, u: Math.SQRT2 * rectangular(step) },
      load: { kind: 'ammeter', currentA: { value: cell.amps, u: 0.003 } },
    });
    const fit = fitRelaxation({
      points: pointsOf(cell, (volts) => volts + chance.normal(0, 0.0001) - (cell.openV - open)),
      stepS: 0.05,
      sampleU: 0.0001 / cell.amps,
      levelU: rectangular(step) / cell.amps,
      driftUOhmPerS: 0,
      relativeU: 0.001,
    });
    const stages = fit?.stages.filter(({ toS }) => toS <= 10) ?? [];
    const fitted = stages.reduce((sum, { resistanceOhm }) => sum + resistanceOhm.value, fit?.ohmicOhm?.value ?? NaN);
    // The fit is for 10 s, the reading just before the load went off: they differ by the relaxation in between.
    const between = stepResistanceOhm(model, cell.pulseS - 0.1) - stepResistanceOhm(model, 10);
    // The parts are distinguished from the charge's cost all in one way or all in the other.
    const fittedU = stages.reduce((sum, { resistanceOhm }) => sum + resistanceOhm.u, fit?.ohmicOhm?.u ?? NaN);
    if (stages.length === 2)
      expect(Math.abs(byDroop.resistance.value - between - fitted)).toBeLessThan(
        2 * byDroop.resistance.u + 2 * fittedU,
      );
  });
});
