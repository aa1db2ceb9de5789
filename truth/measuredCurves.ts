import { createDischargeMeter, type Discharge } from '@/core/capacity/discharge';
import { estimateEarlyEnd } from '@/core/capacity/earlyEnd';
import { partialCapacity } from '@/core/capacity/partial';
import { learnCurve } from '@/core/chemistry/measuredCurve';
import { curveBook, type TeachingRun } from '@/core/judging/curveBook';
import { bareBench } from '@/core/judging/equipment';
import { curveOfMake, type OpenCircuitCurve, openCircuitOf } from '@/core/chemistry/openCircuit';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { historyNow } from './histories';
import { drawLog, type LogSetting, usualLogSetting } from './logCases';
import { answerOhm, between, drawCell, moveOn, rested, shown, type TrueCell, voltageOf } from './trueCell';

const cutoffV = 3;
const table = curveOfMake('mixed-oxide');

/** A make of its own: off the table by up to 30 mV, here more and there less; below empty it collapses. */
function drawMake(chance: Chance): (soc: number) => number {
  const [off, bend, at] = [between(chance, -0.026, 0.026), between(chance, -0.004, 0.004), between(chance, 0.2, 0.8)];
  return (soc) => table.voltageAt(soc) + off + bend * Math.tanh((soc - at) / 0.15) - Math.max(0, -soc) * 30;
}

/** Another cell of that make: a few millivolts off, of its own capacity and resistance. */
function cellOf(chance: Chance, make: (soc: number) => number): TrueCell {
  const [off, tilt] = [chance.normal(0, 0.0025), chance.normal(0, 0.004)];
  return { ...drawCell(chance), curve: (soc) => make(soc) + off + tilt * (soc - 0.5) };
}

/** What it gives at rest down to the cut-off, Ah. */
function capacityOf(cell: TrueCell): number {
  let [low, high] = [-0.1, 0.5];
  for (let i = 0; i < 40; i++) {
    const mid = (low + high) / 2;
    if (cell.curve(mid) > cutoffV) high = mid;
    else low = mid;
  }
  return cell.capacityAh * (1 - high);
}

interface Setting extends LogSetting {
  /** Rest in the log before the load, and after it, s. */
  beforeS: number;
  afterS: number;
  /** It is stopped at this state of charge; 0: at the cut-off. */
  stopSoc: number;
  /** Pauses of half an hour after each such part of the charge; 0: none. */
  pauseEvery: number;
}

/** A discharge from full, logged by tools drawn from their promises, as the house reads it. */
function discharge(chance: Chance, cell: TrueCell, setting: Setting): { result: Discharge; voltmeterU: number } {
  const { currentAt, voltmeter, ammeter, load, tools } = drawLog(chance, setting, cell);
  const meter = createDischargeMeter({ load, tools, cutoffV, voltageDigitV: setting.voltage.digit });
  const state = rested(cell, 1);
  let [timeS, currentA, pauseS, nextPause] = [0, 0, setting.beforeS, 1 - setting.pauseEvery];
  let afterS = -1;
  while (afterS < setting.afterS) {
    const isOver =
      afterS >= 0 || (setting.stopSoc > 0 ? state.soc <= setting.stopSoc : voltageOf(cell, state, currentA) < cutoffV);
    if (isOver) afterS += setting.stepS;
    if (setting.pauseEvery > 0 && state.soc < nextPause) [pauseS, nextPause] = [1860, nextPause - setting.pauseEvery];
    currentA = isOver || pauseS > 0 ? 0 : currentAt(voltageOf(cell, state, currentA));
    pauseS -= setting.stepS;
    meter.push({
      timeS,
      voltageV: shown(voltageOf(cell, state, currentA), voltmeter, chance),
      currentA: load.kind === 'column' ? shown(currentA, ammeter, chance) : null,
      temperatureC: null,
    });
    moveOn(cell, state, currentA, setting.stepS);
    timeS += setting.stepS;
  }
  const voltmeterU = (setting.voltage.share * 3.7 + setting.voltage.fixed) / Math.sqrt(3);
  return { result: meter.finish(setting.voltage.digit), voltmeterU };
}

const slow: Setting = {
  ...usualLogSetting,
  load: 'column',
  rate: [0.04, 0.05],
  stepS: 60,
  voltage: { share: 0.0005, fixed: 0.001, noise: 0.0005, digit: 0.001 },
  current: { share: 0.005, fixed: 0, noise: 0.0002, digit: 0.0001 },
  beforeS: 1800,
  afterS: 0,
  stopSoc: 0,
  pauseEvery: 0,
};
const paused: Setting = { ...slow, rate: [0.2, 0.3], stepS: 20, pauseEvery: 0.08, afterS: 1860 };

/** The curve that one cell of a make teaches. */
function taughtBy(chance: Chance, cell: TrueCell, setting: Setting): OpenCircuitCurve | null {
  const { result, voltmeterU } = discharge(chance, cell, setting);
  return (
    result.course &&
    learnCurve({
      chemistry: 'li-ion',
      series: 1,
      course: result.course,
      capacityAh: result.capacityAh.value,
      resistanceOhm: answerOhm(cell, 0.5, 10) * (1 + chance.normal(0, 0.04)),
      voltmeterU,
    })
  );
}

/** Another cell of the make is charged from a rested voltage to full. */
function measuredPartial(chance: Chance, setting: Setting): TrueCase {
  const make = drawMake(chance);
  const curve = taughtBy(chance, cellOf(chance, make), setting);
  const cell = cellOf(chance, make);
  const soc = between(chance, 0.2, 0.45);
  const truth = capacityOf(cell);
  const startV = Math.round((cell.curve(soc) + chance.normal(0, 0.001)) * 1000) / 1000;
  const chargeAh = cell.capacityAh * (1 - soc) * (1 + between(chance, -0.01, 0.01));
  return {
    told:
      curve &&
      partialCapacity({
        curve,
        startVoltagesV: [startV],
        chargeAh,
        chargeAccuracyShare: 0.01,
        voltageUncertaintyV: 0.001,
      }).capacityAh,
    truth,
  };
}

/** What cells in a box are made of: some are blends of two. Cobalt follows the pouch curve, which is another source. */
function drawAnyMake(chance: Chance): (soc: number) => number {
  const own = drawMake(chance);
  const off = between(chance, -0.025, 0.025);
  const other = (of: OpenCircuitCurve) => (soc: number) =>
    of.voltageAt(soc) + off + (soc < 0 ? 30 * soc : -0.25 * Math.exp(-soc / 0.03));
  const drawn = chance.uniform();
  if (drawn < 0.7) return own;
  if (drawn < 0.88) return other(openCircuitOf('lipo'));
  if (drawn < 0.93) return other(curveOfMake('manganese'));
  const blended = other(chance.uniform() < 0.7 ? openCircuitOf('lipo') : curveOfMake('manganese'));
  const part = between(chance, 0.2, 0.8);
  return (soc) => part * blended(soc) + (1 - part) * own(soc);
}

/** A cell of any make is charged from a rested voltage to full; its make is unknown, or shown by earlier discharges. */
function anyMakePartial(chance: Chance, discharges: number): TrueCase {
  const make = drawAnyMake(chance);
  const runs = Array.from({ length: discharges }, (_, i): TeachingRun => {
    const cell = cellOf(chance, make);
    const { result } = discharge(chance, cell, {
      ...slow,
      ...usualLogSetting,
      load: 'column',
      rate: [0.2, 0.8],
      stepS: 2,
    });
    return {
      runId: i,
      endedAt: historyNow,
      chemistry: 'li-ion',
      groups: 1,
      loggerId: null,
      cutoffV,
      startV: cell.curve(1),
      result,
      maker: 'any',
      model: 'any',
    };
  });
  const curve = curveBook(runs, bareBench.instruments, historyNow).of({
    chemistry: 'li-ion',
    maker: 'any',
    model: 'any',
  });
  const cell = cellOf(chance, make);
  const soc = between(chance, 0.2, 0.6);
  const startV = Math.round((cell.curve(soc) + chance.normal(0, 0.002)) * 1000) / 1000;
  const chargeAh = cell.capacityAh * (1 - soc) * (1 + between(chance, -0.02, 0.02));
  const partial = {
    startVoltagesV: [startV],
    chargeAh,
    chargeAccuracyShare: 0.02,
    voltageUncertaintyV: 0.002,
  };
  return { told: curve && partialCapacity({ curve, ...partial }).capacityAh, truth: capacityOf(cell) };
}

/** A discharge that ended early, read by the table of its chemistry or by the curve of its model. */
function earlyCase(chance: Chance, setting: Partial<Setting>, isLearnt: boolean): TrueCase {
  const make = drawMake(chance);
  const curve = isLearnt ? taughtBy(chance, cellOf(chance, make), slow) : table;
  const cell = cellOf(chance, make);
  const early: Setting = {
    ...slow,
    ...usualLogSetting,
    load: 'column',
    stepS: 5,
    rate: [0.3, 0.8],
    stopSoc: between(chance, 0.12, 0.5),
    ...setting,
  };
  const { result, voltmeterU } = discharge(chance, cell, early);
  const resistanceOhm = answerOhm(cell, 0.5, 10);
  return {
    told:
      curve &&
      (estimateEarlyEnd({ discharge: result, curve, series: 1, voltmeterU, resistanceOhm })?.capacityAh ?? null),
    truth: capacityOf(cell),
  };
}

export const measuredPopulations: Population[] = [
  {
    figures: ['partial capacity of a cell of any make'],
    made: 'from 20 to 60 %, 30 % cobalt, manganese or blends; the make unknown',
    draw: (chance) => [anyMakePartial(chance, 0)],
  },
  {
    figures: ['partial capacity of a cell of any make'],
    made: 'the same, after one discharge of its model at 0.2 to 0.8 C, every 2 s',
    draw: (chance) => [anyMakePartial(chance, 1)],
  },
  {
    figures: ['partial capacity of a cell of any make'],
    made: 'the same, after three discharges',
    draw: (chance) => [anyMakePartial(chance, 3)],
  },
  {
    figures: ['partial capacity by a learnt curve'],
    made: 'another cell of the make from 20 to 45 %, the curve learnt at 0.04 to 0.05 C',
    draw: (chance) => [measuredPartial(chance, slow)],
  },
  {
    figures: ['partial capacity by a learnt curve'],
    made: 'another cell of the make from 20 to 45 %, the curve learnt at 0.2 to 0.3 C with twelve rests',
    draw: (chance) => [measuredPartial(chance, paused)],
  },
  {
    figures: ['capacity where the log ends early'],
    made: 'stopped at 12 to 50 %, a rest after it; by the table, makes ± 30 mV',
    draw: (chance) => [earlyCase(chance, { afterS: 1200 }, false)],
  },
  {
    figures: ['capacity where the log ends early'],
    made: 'stopped at 12 to 50 % under load; by the table, makes ± 30 mV',
    draw: (chance) => [earlyCase(chance, {}, false)],
  },
  {
    figures: ['capacity where the log ends early'],
    made: 'stopped at 12 to 50 % under load; by the curve of its model',
    draw: (chance) => [earlyCase(chance, {}, true)],
  },
  {
    figures: ['capacity where the log ends early'],
    made: 'begun and stopped under load, at 12 to 50 %; by the curve of its model',
    draw: (chance) => [earlyCase(chance, { beforeS: 0 }, true)],
  },
];
