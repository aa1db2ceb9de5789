import type { Sample } from '@/core/capacity/logReader';
import { lastDigitOf, valuesLookedAt } from '@/core/quantity/lastDigit';
import type { DischargeLoad } from '@/core/capacity/discharge';
import type { LogTools } from '@/core/capacity/logTools';
import type { Chance } from '@/core/statistics/random';
import { between, drawTool, type TrueCell, type TrueTool } from './trueCell';

/** How a log is made: its load, its sampling, and what the makers of its tools promise. */
export interface LogSetting {
  /** The last decimal that the log writes its current with, where that is finer than its steps, A. */
  writtenA?: number;
  load: 'current' | 'resistor' | 'column';
  stepS: number;
  /** Rates to draw from, 1/h. */
  rate: [number, number];
  loadTolerance: number;
  voltage: ToolLimits;
  current: ToolLimits;
}

interface ToolLimits {
  share: number;
  fixed: number;
  noise: number;
  digit: number;
}

export const usualLogSetting: LogSetting = {
  load: 'current',
  stepS: 1,
  rate: [0.4, 1.2],
  loadTolerance: 0.01,
  voltage: { share: 0.002, fixed: 0.003, noise: 0.0005, digit: 0.001 },
  current: { share: 0.01, fixed: 0.005, noise: 0.001, digit: 0.001 },
};

export interface DrawnLog {
  /** What really flows at that voltage while the load is on. */
  currentAt(voltageV: number): number;
  voltmeter: TrueTool;
  ammeter: TrueTool;
  /** What the estimator is given. */
  load: DischargeLoad;
  tools: LogTools;
}

/** A load for that cell and the tools that log it, each drawn from what is promised of it. */
export function drawLog(
  chance: Chance,
  { load, rate, loadTolerance, voltage, current }: LogSetting,
  cell: TrueCell,
): DrawnLog {
  const statedA = Number((between(chance, ...rate) * cell.capacityAh).toPrecision(3));
  const statedOhm = Number((3.6 / statedA).toPrecision(3));
  const off = 1 + between(chance, -loadTolerance, loadTolerance);
  const loads: Record<LogSetting['load'], DischargeLoad> = {
    column: { kind: 'column' },
    resistor: { kind: 'resistor', resistanceOhm: statedOhm },
    current: { kind: 'current', currentA: statedA },
  };
  return {
    currentAt: load === 'resistor' ? (voltageV) => voltageV / (statedOhm * off) : () => statedA * off,
    voltmeter: drawTool(chance, voltage, voltage.noise, voltage.digit),
    ammeter: drawTool(chance, current, current.noise, current.digit),
    load: loads[load],
    tools: {
      loadTolerance,
      voltageAccuracyShare: voltage.share,
      voltageAccuracyV: voltage.fixed,
      currentAccuracyShare: current.share,
      currentAccuracyA: current.fixed,
    },
  };
}

/** The last digit of the current as the reader of a log finds it. */
export const currentStepOf = (samples: readonly Sample[], { writtenA }: LogSetting): number | null =>
  writtenA === undefined
    ? null
    : lastDigitOf(
        samples.slice(0, valuesLookedAt).flatMap(({ currentA }) => currentA ?? []),
        writtenA,
      );
