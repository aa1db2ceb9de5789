import { createDischargeMeter } from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { type LogSetting, drawLog, usualLogSetting } from './logCases';
import { between, drawCell, moveOn, rested, shown, type TrueCell, voltageOf } from './trueCell';

interface Setting extends LogSetting {
  series: number;
  /** Rest in the log before the load comes on, s. */
  beforeS: number;
  /** By how much groups differ in what they hold, in resistance and in charge at the start: limits, shares. */
  capacityDeviation: number;
  ohmDeviation: number;
  chargeDeviation: number;
}

const usual: Setting = {
  ...usualLogSetting,
  series: 4,
  stepS: 5,
  rate: [0.3, 1],
  beforeS: 300,
  capacityDeviation: 0.06,
  ohmDeviation: 0.15,
  chargeDeviation: 0.01,
};

const cutoffPerGroupV = 3;

/** A group like the others of its pack, and not quite. */
const groupLike = (
  chance: Chance,
  cell: TrueCell,
  { capacityDeviation: capacitySpread, ohmDeviation: ohmSpread }: Setting,
): TrueCell => {
  const ohm = 1 + between(chance, -ohmSpread, ohmSpread);
  return {
    ...cell,
    capacityAh: cell.capacityAh * (1 + between(chance, -capacitySpread, capacitySpread)),
    ohmicOhm: cell.ohmicOhm * ohm,
    branches: cell.branches.map((branch) => ({ ...branch, ohm: branch.ohm * ohm })),
  };
};

/** Until when each group would stay above its cut-off under that current, s, with its voltage at every step. */
function lifeOf(cell: TrueCell, startSoc: number, currentA: number, stepS: number) {
  const state = rested(cell, startSoc);
  const voltagesV: number[] = [];
  for (;;) {
    const v = voltageOf(cell, state, currentA);
    const before = voltagesV.at(-1) ?? v;
    voltagesV.push(v);
    if (v < cutoffPerGroupV || state.soc < -0.05) {
      const fraction = (before - cutoffPerGroupV) / Math.max(1e-9, before - v);
      return { voltagesV, endS: (voltagesV.length - 2 + fraction) * stepS };
    }
    moveOn(cell, state, currentA, stepS);
  }
}

/** A discharge of a pack whose groups are logged, until the first is empty: what it gave, what another had left. */
function packRunCase(chance: Chance, setting: Setting): TrueCase[] {
  const { stepS, series, voltage } = setting;
  const cell = drawCell(chance);
  const { currentAt, voltmeter, load, tools } = drawLog(chance, setting, cell);
  const currentA = currentAt(3.6);
  const groups = Array.from({ length: series }, () => {
    const group = groupLike(chance, cell, setting);
    const startSoc = 1 - between(chance, 0, setting.chargeDeviation);
    return { restedV: group.curve(startSoc), ...lifeOf(group, startSoc, currentA, 1) };
  });
  const endS = Math.min(...groups.map((group) => group.endS));
  const at = (t: number): number[] =>
    groups.map(({ restedV, voltagesV }) => (t < 0 ? restedV : (voltagesV[Math.floor(t)] ?? voltagesV.at(-1) ?? NaN)));
  const samples: Sample[] = [];
  for (let t = between(chance, 0, stepS) - setting.beforeS; t < endS + stepS; t += stepS) {
    const groupsV = at(t).map((v) => shown(v, voltmeter, chance));
    const voltageV = groupsV.reduce((a, b) => a + b, 0);
    samples.push({ timeS: t + setting.beforeS, voltageV, currentA: null, temperatureC: null, groupsV });
  }
  const meter = createDischargeMeter({
    load,
    tools,
    cutoffPerGroupV,
    seriesCells: series,
    voltageDigitV: voltage.digit * Math.sqrt(series),
    groupDigitV: voltage.digit,
  });
  samples.forEach(meter.push);
  const result = meter.finish(voltage.digit * Math.sqrt(series));
  const other = groups.findIndex((group) => group.endS > endS);
  return [
    { told: result.reachedCutoff ? result.capacityAh : null, truth: (currentA * endS) / 3600 },
    {
      told: result.groups?.[other]?.leftAh ?? null,
      truth: (currentA * ((groups[other]?.endS ?? NaN) - endS)) / 3600,
    },
  ];
}

const population = (made: string, change: Partial<Setting>): Population => ({
  figures: ['capacity of a pack, by its first group', 'what a group had left'],
  made,
  draw: (chance) => packRunCase(chance, { ...usual, ...change }),
});

export const packRunPopulations: Population[] = [
  population('four groups logged every 5 s, a rest before, hold ± 6 %, charged alike within 1 %', {}),
  population('six groups logged every 10 s, a rest before, hold ± 2 %, charged alike within 6 %', {
    series: 6,
    stepS: 10,
    capacityDeviation: 0.02,
    chargeDeviation: 0.06,
  }),
  population('three groups logged every 30 s, no rest, hold ± 5 %, charged alike within 3 %', {
    series: 3,
    stepS: 30,
    beforeS: 0,
    capacityDeviation: 0.05,
    chargeDeviation: 0.03,
  }),
];
