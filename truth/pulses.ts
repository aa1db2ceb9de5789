import { createDischargeMeter } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import { type Horizon, horizonsS } from '@/core/resistance/pulses';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { currentStepOf, drawLog, type LogSetting, usualLogSetting } from './logCases';
import {
  answerOhm,
  between,
  drawCell,
  moveOn,
  rested,
  shown,
  type TrueCell,
  type TrueState,
  voltageOf,
} from './trueCell';

interface Setting extends LogSetting {
  /** Rest in the log before, length of the pulse, rest after it. */
  beforeS: [number, number];
  pulseS: [number, number];
  afterS: number;
  /** How long before the log a load ended; null: well rested. */
  loadedBeforeS: [number, number] | null;
  edge: 'on' | 'off';
  horizon: Horizon;
  branches: number;
}

const usual: Setting = {
  ...usualLogSetting,
  load: 'column',
  rate: [0.5, 2],
  current: { ...usualLogSetting.current, share: 0.005 },
  beforeS: [20, 60],
  pulseS: [35, 60],
  afterS: 60,
  loadedBeforeS: null,
  edge: 'on',
  horizon: '10s',
  branches: 3,
};

/** Short against what a current that follows the voltage changes in. */
const fineS = 0.25;

/** Moves on for a time with a current that may follow the voltage. */
function go(cell: TrueCell, state: TrueState, currentOf: (v: number) => number, forS: number): void {
  for (let leftS = forS; leftS > 1e-9; leftS -= fineS)
    moveOn(cell, state, loaded(cell, state, currentOf), Math.min(fineS, leftS));
}

function loaded(cell: TrueCell, state: TrueState, currentOf: (v: number) => number): number {
  let currentA = currentOf(voltageOf(cell, state, 0));
  for (let i = 0; i < 3; i++) currentA = currentOf(voltageOf(cell, state, currentA));
  return currentA;
}

/** A pulse between rests as a log, and the true resistance at one horizon of one of its edges. */
export function drawPulse(chance: Chance, setting: Setting) {
  const cell = drawCell(chance, setting.branches);
  const { currentAt: on, voltmeter, ammeter, load, tools } = drawLog(chance, setting, cell);
  const off = () => 0;
  const state = rested(cell, between(chance, 0.35, 0.85));
  if (setting.loadedBeforeS) {
    go(cell, state, on, 60);
    go(cell, state, off, between(chance, ...setting.loadedBeforeS));
  }
  const socAtOn = state.soc;
  const onS = between(chance, ...setting.beforeS);
  const offS = onS + between(chance, ...setting.pulseS);
  const afterS = horizonsS[setting.horizon];
  const samples: Sample[] = [];
  let [t, truth] = [0, NaN];
  const until = (toS: number, current: (v: number) => number): void => {
    go(cell, state, current, toS - t);
    t = toS;
  };
  const truthOf = (before: (v: number) => number, after: (v: number) => number): number => {
    const [without, withIt] = [structuredClone(state), structuredClone(state)];
    const [fromA, toA] = [loaded(cell, state, before), loaded(cell, state, after)];
    go(cell, without, () => fromA, afterS);
    go(cell, withIt, () => toA, afterS);
    return (voltageOf(cell, without, fromA) - voltageOf(cell, withIt, toA)) / (toA - fromA);
  };
  for (let n = 0; n * setting.stepS < offS + setting.afterS; n++) {
    const atS = n * setting.stepS;
    if (t < onS && atS >= onS) {
      until(onS, off);
      if (setting.edge === 'on') truth = truthOf(off, on);
    }
    if (t < offS && atS >= offS) {
      until(offS, on);
      if (setting.edge === 'off') truth = truthOf(on, off);
    }
    const current = atS >= onS && atS < offS ? on : off;
    until(atS, current);
    const amps = loaded(cell, state, current);
    samples.push({
      timeS: atS,
      voltageV: shown(voltageOf(cell, state, amps), voltmeter, chance),
      currentA: setting.load === 'column' ? shown(amps, ammeter, chance) : null,
      temperatureC: null,
    });
  }
  return { cell, soc: socAtOn, samples, load, tools, truth, onS, offS };
}

function pulseCase(chance: Chance, setting: Setting): TrueCase {
  const { samples, load, tools, truth, onS, offS } = drawPulse(chance, setting);
  const meter = createDischargeMeter({ load, tools, voltageDigitV: setting.voltage.digit });
  samples.forEach(meter.push);
  const { edges } = meter.finish(setting.voltage.digit, currentStepOf(samples, setting));
  const at = setting.edge === 'on' ? onS : offS;
  const edge = edges.find((one) => one.atS >= at && one.atS - at < setting.stepS * 2);
  const [value, u] = [edge?.resistanceOhm[setting.horizon], edge?.standardUncertaintyOhm[setting.horizon]];
  return { told: value === undefined || u === undefined ? null : { value, u }, truth };
}

const population = (made: string, change: Partial<Setting>): Population => ({
  figures: [`resistance at ${change.horizon ?? usual.horizon}`],
  made,
  draw: (chance) => [pulseCase(chance, { ...usual, ...change })],
});

export const pulsePopulations: Population[] = [
  ...(['1s', '10s', '30s'] as const).map((horizon) => population('column, 1 s, rested', { horizon })),
  ...(['0.1s', '1s', '10s', '30s'] as const).map((horizon) =>
    population('column, 0.1 s, rested', { horizon, stepS: 0.1 }),
  ),
  population('told current ± 1 %, 1 s', { load: 'current' }),
  population('told current ± 1 %, 1 s', { load: 'current', horizon: '1s' }),
  population('resistor ± 1 %, 1 s', { load: 'resistor' }),
  population('pulses of exactly 10 s, 1 s', { pulseS: [10, 10] }),
  population('pulses of exactly 10 s, 0.1 s', { pulseS: [10, 10], stepS: 0.1 }),
  population('column in steps of 0.1 A, 1 s', { current: { share: 0.005, fixed: 0.05, noise: 0.002, digit: 0.1 } }),
  population('column that prints 1.800 in steps of 0.1 A, 1 s', {
    current: { share: 0.005, fixed: 0.05, noise: 0.002, digit: 0.1 },
    writtenA: 0.001,
  }),
  population('pulses of 9.99 s, 0.02 s', { pulseS: [9.99, 9.99], stepS: 0.02 }),
  population('voltage in steps of 10 mV, 1 s', { voltage: { share: 0.002, fixed: 0.003, noise: 0.0005, digit: 0.01 } }),
  population('noise of 2 mV, 0.1 s', {
    stepS: 0.1,
    voltage: { share: 0.002, fixed: 0.003, noise: 0.002, digit: 0.001 },
  }),
  population('three samples of rest before, 1 s', { beforeS: [2.2, 3.2] }),
  population('load taken off 5 to 60 s before the log, 1 s', { loadedBeforeS: [5, 60] }),
  population('release after 35 to 60 s, 1 s', { edge: 'off' }),
  population('release after 35 to 60 s, 0.1 s', { edge: 'off', stepS: 0.1, horizon: '1s' }),
  population('release after 10 to 15 s, 1 s', { edge: 'off', pulseS: [10, 15], horizon: '1s' }),
  population('release after 5 min, 1 s', { edge: 'off', pulseS: [300, 320] }),
];

const parts = [
  'resistance at once',
  'resistance from 0 to 1 s',
  'resistance from 1 to 10 s',
  'slowest time constant told',
  'resistance of that branch',
] as const;

/** The parts of a cell's answer, without what the charge costs, from one pulse. */
function relaxationCases(chance: Chance, setting: Setting): TrueCase[] {
  const { cell, soc, samples, load, tools, onS } = drawPulse(chance, setting);
  const meter = createDischargeMeter({ load, tools, voltageDigitV: setting.voltage.digit });
  samples.forEach(meter.push);
  const relaxation = meter
    .finish(setting.voltage.digit)
    .edges.find((one) => one.atS >= onS && one.atS - onS < setting.stepS * 2)?.relaxation;
  const stage = (fromS: number, toS: number): TrueCase => ({
    told: relaxation?.stages.find((one) => one.fromS === fromS && one.toS === toS)?.resistanceOhm ?? null,
    truth: answerOhm(cell, soc, toS) - answerOhm(cell, soc, fromS),
  });
  const slowest = relaxation?.branches.at(-1);
  const off = (tauS: number): number => Math.abs(Math.log(tauS / (slowest?.timeConstantS.value ?? 1)));
  const near = cell.branches.reduce((a, b) => (off(b.tauS) < off(a.tauS) ? b : a));
  return [
    { told: relaxation?.ohmicOhm ?? null, truth: answerOhm(cell, soc, 0) },
    stage(0, 1),
    stage(1, 10),
    { told: slowest?.timeConstantS ?? null, truth: near.tauS },
    { told: slowest?.resistanceOhm ?? null, truth: (near.ohm * answerOhm(cell, soc, 0)) / cell.ohmicOhm },
  ];
}

export const relaxationPopulations: Population[] = [1, 2, 3].flatMap((branches) =>
  (
    [
      [0.1, 60, 0.0002],
      [0.1, 30, 0.0005],
      [0.1, 10, 0.002],
      [1, 60, 0.0002],
      [1, 30, 0.0005],
    ] as const
  ).map(([stepS, pulseS, noise]): Population => {
    const setting: Setting = {
      ...usual,
      branches,
      stepS,
      pulseS: [pulseS, pulseS],
      voltage: { ...usual.voltage, noise, digit: noise < 0.0005 ? 0.0001 : 0.001 },
    };
    return {
      figures: parts,
      made:
        `${branches} branch${branches > 1 ? 'es' : ''}, pulse of ${pulseS} s, every ${stepS} s, noise ` +
        `${noise * 1000} mV`,
      draw: (chance) => relaxationCases(chance, setting),
    };
  }),
);
