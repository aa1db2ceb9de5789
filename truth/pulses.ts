import { createDischargeMeter } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import { type Horizon, horizonsS } from '@/core/resistance/pulses';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { drawLog, type LogBench, usualLogBench } from './logBench';
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

interface Bench extends LogBench {
  /** Rest in the log before, length of the pulse, rest after it. */
  beforeS: [number, number];
  pulseS: [number, number];
  afterS: number;
  /** Loaded until so long before the log begins; null: well rested. */
  loadedBeforeS: [number, number] | null;
  edge: 'on' | 'off';
  horizon: Horizon;
  branches: number;
}

const usual: Bench = {
  ...usualLogBench,
  load: 'column',
  rate: [0.5, 2],
  current: { ...usualLogBench.current, share: 0.005 },
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
export function drawPulse(chance: Chance, bench: Bench) {
  const cell = drawCell(chance, bench.branches);
  const { currentAt: on, voltmeter, ammeter, load, tools } = drawLog(chance, bench, cell);
  const off = () => 0;
  const state = rested(cell, between(chance, 0.35, 0.85));
  if (bench.loadedBeforeS) {
    go(cell, state, on, 60);
    go(cell, state, off, between(chance, ...bench.loadedBeforeS));
  }
  const socAtOn = state.soc;
  const onS = between(chance, ...bench.beforeS);
  const offS = onS + between(chance, ...bench.pulseS);
  const afterS = horizonsS[bench.horizon];
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
  for (let n = 0; n * bench.stepS < offS + bench.afterS; n++) {
    const atS = n * bench.stepS;
    if (t < onS && atS >= onS) {
      until(onS, off);
      if (bench.edge === 'on') truth = truthOf(off, on);
    }
    if (t < offS && atS >= offS) {
      until(offS, on);
      if (bench.edge === 'off') truth = truthOf(on, off);
    }
    const current = atS >= onS && atS < offS ? on : off;
    until(atS, current);
    const amps = loaded(cell, state, current);
    samples.push({
      timeS: atS,
      voltageV: shown(voltageOf(cell, state, amps), voltmeter, chance),
      currentA: bench.load === 'column' ? shown(amps, ammeter, chance) : null,
      temperatureC: null,
    });
  }
  return { cell, soc: socAtOn, samples, load, tools, truth, onS, offS };
}

function pulseCase(chance: Chance, bench: Bench): TrueCase {
  const { samples, load, tools, truth, onS, offS } = drawPulse(chance, bench);
  const meter = createDischargeMeter({ load, tools, voltageDigitV: bench.voltage.digit });
  samples.forEach(meter.push);
  const { edges } = meter.finish(bench.voltage.digit);
  const at = bench.edge === 'on' ? onS : offS;
  const edge = edges.find((one) => one.atS >= at && one.atS - at < bench.stepS * 2);
  const [value, u] = [edge?.resistanceOhm[bench.horizon], edge?.standardUncertaintyOhm[bench.horizon]];
  return { told: value === undefined || u === undefined ? null : { value, u }, truth };
}

const population = (made: string, change: Partial<Bench>): Population => ({
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

/** The parts of a cell's answer, without what the charge costs, told of one pulse. */
function relaxationCases(chance: Chance, bench: Bench): TrueCase[] {
  const { cell, soc, samples, load, tools, onS } = drawPulse(chance, bench);
  const meter = createDischargeMeter({ load, tools, voltageDigitV: bench.voltage.digit });
  samples.forEach(meter.push);
  const relaxation = meter
    .finish(bench.voltage.digit)
    .edges.find((one) => one.atS >= onS && one.atS - onS < bench.stepS * 2)?.relaxation;
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
    const bench: Bench = {
      ...usual,
      branches,
      stepS,
      pulseS: [pulseS, pulseS],
      voltage: { ...usual.voltage, noise, digit: noise < 0.0005 ? 0.0001 : 0.001 },
    };
    return {
      figures: parts,
      made: `${branches} branch${branches > 1 ? 'es' : ''}, pulse of ${pulseS} s, every ${stepS} s, noise ${noise * 1000} mV`,
      draw: (chance) => relaxationCases(chance, bench),
    };
  }),
);
