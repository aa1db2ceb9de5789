import { createDischargeMeter, type DischargeLoad } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import type { LogTools } from '@/core/capacity/logTools';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { currentStepOf, drawLog, type LogSetting, usualLogSetting } from './logCases';
import {
  between,
  drawCell,
  drawTool,
  moveOn,
  rested,
  shown,
  type TrueCell,
  type TrueTool,
  voltageOf,
} from './trueCell';

interface Setting extends LogSetting {
  /** Rest in the log before and after; 0: it begins with the load, or ends with it. */
  beforeS: number;
  afterS: number;
  /** A silence near the end, s. */
  silenceS: number;
}

const usual: Setting = { ...usualLogSetting, beforeS: 0, afterS: 0, silenceS: 0 };

const cutoffV = 3;
const lowestV = 2.2;

/** Voltage under load every `stepS` from the moment it came on until far below the cut-off. */
function fall(cell: TrueCell, currentOf: (v: number) => number, stepS: number) {
  const state = rested(cell, 1);
  const voltages: number[] = [];
  const currents: number[] = [];
  let currentA = currentOf(cell.curve(1));
  for (;;) {
    // A resistor's current follows the voltage it makes.
    for (let i = 0; i < 3; i++) currentA = currentOf(voltageOf(cell, state, currentA));
    const v = voltageOf(cell, state, currentA);
    voltages.push(v);
    currents.push(currentA);
    if (v < lowestV || state.soc < -0.05) return { voltages, currents };
    moveOn(cell, state, currentA, stepS);
  }
}

const at = (values: readonly number[], place: number): number => {
  const i = Math.max(0, Math.min(values.length - 2, Math.floor(place)));
  const fraction = Math.min(1, Math.max(0, place - i));
  return (values[i] as number) * (1 - fraction) + (values[i + 1] as number) * fraction;
};

/**
 * A discharge with its rests as a log, read by tools drawn from their promises, and the true capacity down to the
 * cut-off.
 */
export function drawDischarge(
  chance: Chance,
  setting: Setting,
): { samples: Sample[]; load: DischargeLoad; tools: LogTools; truthAh: number } {
  const cell = drawCell(chance);
  const { currentAt, voltmeter, ammeter, load, tools } = drawLog(chance, setting, cell);
  const gridS = Math.min(1, setting.stepS);
  const { voltages, currents } = fall(cell, currentAt, gridS);

  const met = voltages.findIndex((v) => v < cutoffV);
  const [above, below] = [voltages[met - 1] as number, voltages[met] as number];
  const metS = (met - 1 + (above - cutoffV) / (above - below)) * gridS;
  let truthAh = 0;
  for (let i = 0; i < met - 1; i++) truthAh += (((currents[i] as number) + (currents[i + 1] as number)) / 2) * gridS;
  truthAh = (truthAh + (currents[met] as number) * (metS - (met - 1) * gridS)) / 3600;

  // What stops it has a voltmeter of its own, or is the logger itself; it looks once a second or once a sample.
  const stopper: TrueTool =
    chance.uniform() < 0.5 ? voltmeter : drawTool(chance, setting.voltage, 0, setting.voltage.digit);
  const looksS = chance.uniform() < 0.5 ? gridS : setting.stepS;
  const firstLookS = between(chance, 0, looksS);
  let stopS = firstLookS;
  while (at(voltages, stopS / gridS) * stopper.gain + stopper.offset > cutoffV && stopS / gridS < voltages.length - 1)
    stopS += looksS;

  // A device logs from the moment its load comes on, a logger of its own from some moment of the step after it.
  const phaseS = setting.beforeS > 0 || chance.uniform() < 0.5 ? between(chance, 0, setting.stepS) : 0;
  const samples: Sample[] = [];
  const log = (timeS: number, v: number, a: number): void => {
    samples.push({
      timeS,
      voltageV: shown(v, voltmeter, chance),
      currentA: setting.load === 'column' ? shown(a, ammeter, chance) : null,
      temperatureC: null,
    });
  };
  const state = rested(cell, 1);
  let t = -Math.ceil(setting.beforeS / setting.stepS) * setting.stepS + phaseS;
  const logFromS = t;
  const silentFromS = setting.silenceS > 0 ? stopS - setting.silenceS * chance.uniform() : Infinity;
  for (; t < stopS; t += setting.stepS) {
    if (t > silentFromS && t < silentFromS + setting.silenceS) continue;
    if (t < 0) log(t - logFromS, cell.curve(1), 0);
    else log(t - logFromS, at(voltages, t / gridS), at(currents, t / gridS));
  }
  if (setting.afterS > 0) {
    for (let s = 0; s < stopS; s += 1) moveOn(cell, state, at(currents, s / gridS), Math.min(1, stopS - s));
    moveOn(cell, state, 0, Math.max(1e-6, t - stopS));
    for (; t < stopS + setting.afterS; t += setting.stepS) {
      if (!(t > silentFromS && t < silentFromS + setting.silenceS)) log(t - logFromS, voltageOf(cell, state, 0), 0);
      moveOn(cell, state, 0, setting.stepS);
    }
  }
  return { samples, load, tools, truthAh };
}

function capacityCase(chance: Chance, setting: Setting): TrueCase {
  const { samples, load, tools, truthAh } = drawDischarge(chance, setting);
  const meter = createDischargeMeter({ load, tools, cutoffV, voltageDigitV: setting.voltage.digit });
  samples.forEach(meter.push);
  const { capacityAh, reachedCutoff } = meter.finish(setting.voltage.digit, currentStepOf(samples, setting));
  return { told: reachedCutoff ? capacityAh : null, truth: truthAh };
}

const population = (made: string, change: Partial<Setting>): Population => ({
  figures: ['capacity'],
  made,
  draw: (chance) => [capacityCase(chance, { ...usual, ...change })],
});

const fine = { loadTolerance: 0.0005 };

export const dischargePopulations: Population[] = [
  population('set current ± 1 %, 1 s, rest of 10 min before and 30 min after', { beforeS: 600, afterS: 1800 }),
  ...[1, 10, 30, 60, 120].map((stepS) =>
    population(`set current known to 0.05 %, every ${stepS} s, the log ends with the load`, { ...fine, stepS }),
  ),
  ...[10, 60, 120].map((stepS) =>
    population(`set current known to 0.05 %, every ${stepS} s, rest before and after`, {
      ...fine,
      stepS,
      beforeS: 900,
      afterS: 1800,
    }),
  ),
  population('resistor ± 5 %, 1 s', { load: 'resistor', loadTolerance: 0.05 }),
  population('resistor ± 1 %, 30 s, rest before and after', {
    load: 'resistor',
    stepS: 30,
    beforeS: 600,
    afterS: 1200,
  }),
  population('resistor ± 0.1 %, logger ± 1 % ± 10 mV, 10 s', {
    load: 'resistor',
    loadTolerance: 0.001,
    stepS: 10,
    voltage: { share: 0.01, fixed: 0.01, noise: 0.001, digit: 0.001 },
  }),
  population('column ± 1 % ± 5 mA, 1 s, rest before and after', { load: 'column', beforeS: 600, afterS: 1800 }),
  population('column in steps of 0.1 A, zero within 50 mA, 10 s', {
    load: 'column',
    stepS: 10,
    beforeS: 300,
    afterS: 600,
    current: { share: 0.005, fixed: 0.05, noise: 0.002, digit: 0.1 },
  }),
  population('column that prints 1.800 in steps of 0.1 A, zero within 50 mA, 10 s', {
    load: 'column',
    stepS: 10,
    beforeS: 300,
    afterS: 600,
    current: { share: 0.005, fixed: 0.05, noise: 0.002, digit: 0.1 },
    writtenA: 0.001,
  }),
  population('column with 12 mA of noise, 0.2C, 5 s', {
    load: 'column',
    stepS: 5,
    rate: [0.15, 0.25],
    beforeS: 600,
    afterS: 600,
    current: { share: 0.005, fixed: 0.002, noise: 0.012, digit: 0.001 },
  }),
  population('voltage in steps of 20 mV, 10 s, set current known to 0.05 %', {
    ...fine,
    stepS: 10,
    afterS: 600,
    voltage: { share: 0.001, fixed: 0.002, noise: 0.001, digit: 0.02 },
  }),
  population('voltage in steps of 5 mV, 5 s, rest before and after, set current known to 0.05 %', {
    ...fine,
    stepS: 5,
    beforeS: 600,
    afterS: 600,
    voltage: { share: 0.001, fixed: 0.002, noise: 0.001, digit: 0.005 },
  }),
  population('noise of 3 mV, 1 s, 0.2C, set current known to 0.05 %', {
    ...fine,
    rate: [0.15, 0.25],
    afterS: 300,
    voltage: { share: 0.001, fixed: 0.001, noise: 0.003, digit: 0.001 },
  }),
  population('a silence of 10 min over the end, 10 s', { ...fine, stepS: 10, silenceS: 600, afterS: 1800 }),
];
