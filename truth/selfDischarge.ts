import { openCircuitCurve, curveOfMake, openCircuitOf } from '@/core/chemistry/openCircuit';
import { selfDischargeTest } from '@/core/selfDischarge/drift';
import { selfDischarge } from '@/core/selfDischarge/selfDischarge';
import { selfDischargeLimits } from '@/core/judging/judgeSelfDischarge';
import { presetRules } from '@/core/chemistry/houseRules';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { between } from './trueCell';

const dayS = 86_400;
const table = curveOfMake('mixed-oxide');
const limits = selfDischargeLimits(presetRules('workshop'));
/** A meter with steps of 1 mV and some noise: 0.5 mV together, as a standard uncertainty. */
export const meter = { stepV: 0.001, noiseV: 0.0004, u: 0.0005 };

/** A cell that loses charge at a rate of its own, read at uneven times over this many days. */
function heldCell(chance: Chance, count: number, days: number) {
  const perDayV = -Math.exp(between(chance, Math.log(0.0001), Math.log(0.01)));
  const startV = between(chance, 3.7, 4.18);
  const times = Array.from({ length: count }, (_, i) => {
    const isEnd = i === 0 || i === count - 1;
    return (days * i) / (count - 1) + (isEnd ? 0 : between(chance, -0.3, 0.3));
  });
  const readings = times.map((day) => ({
    atS: day * dayS,
    voltageV: Math.round((startV + perDayV * day + chance.normal(0, meter.noiseV)) / meter.stepV) * meter.stepV,
    u: meter.u,
  }));
  return { perDayV, readings };
}

function driftCase(chance: Chance, count: number, days: number): TrueCase {
  const { perDayV, readings } = heldCell(chance, count, days);
  const [result] = selfDischargeTest([{ id: 'one', readings, curve: table }], 'li-ion', limits);
  return { told: result?.drift ?? null, truth: perDayV };
}

/** A make of its own: it lies off the table by up to 30 mV, as makes do, here above and there below it. */
export function drawCurve(chance: Chance): (soc: number) => number {
  const [offV, waves, phase] = [between(chance, 0.01, 0.03), between(chance, 0.4, 1.2), 2 * Math.PI * chance.uniform()];
  return (soc) => table.voltageAt(soc) + offV * Math.sin(2 * Math.PI * waves * soc + phase);
}

/** A cell that leaks, its current read from its drift by the table, or by the curve of another cell of its make. */
function leakCase(chance: Chance, by: 'table' | 'learnt'): TrueCase {
  const make = drawCurve(chance);
  const [off, tilt] = [chance.normal(0, 0.0025), chance.normal(0, 0.004)];
  const capacityAh = between(chance, 1, 3);
  const leakA = capacityAh * Math.exp(between(chance, Math.log(3e-5), Math.log(4e-4)));
  const startSoc = between(chance, 0.6, 0.95);
  const readings = [0, 7, 14].map((day) => {
    const soc = startSoc - (leakA * 24 * day) / capacityAh;
    const trueV = make(soc) + off + tilt * (soc - 0.5);
    return {
      atS: day * dayS,
      voltageV: Math.round((trueV + chance.normal(0, meter.noiseV)) / meter.stepV) * meter.stepV,
      u: meter.u,
    };
  });
  const knots = Array.from({ length: 41 }, (_, i): [number, number] => [i / 40, make(i / 40)]);
  const curve = by === 'table' ? table : openCircuitCurve(knots, 0.005, 'learnt');
  const [result] = selfDischargeTest([{ id: 'one', readings, curve: table }], 'li-ion', limits);
  const estimated =
    result?.drift &&
    selfDischarge({
      chemistry: 'li-ion',
      drift: result.drift,
      voltageV: readings.reduce((sum, { voltageV }) => sum + voltageV, 0) / readings.length,
      capacityAh: { value: capacityAh * (1 + chance.normal(0, 0.01)), u: 0.01 * capacityAh },
      curve,
    });
  return { told: estimated ?? null, truth: leakA };
}

/** A batch that holds: any that is said to leak is one too many. */
function soundBatch(chance: Chance, count: number): TrueCase {
  const subjects = Array.from({ length: count }, (_, id) => {
    const perDayV = chance.normal(-0.00025, 0.00003);
    const readings = [0, 7, 14].map((day) => ({
      atS: day * dayS,
      voltageV: Math.round((4.15 + perDayV * day + chance.normal(0, meter.noiseV)) / meter.stepV) * meter.stepV,
      u: meter.u,
    }));
    return { id: String(id), readings, curve: table };
  });
  const leaky = selfDischargeTest(subjects, 'li-ion', limits).filter(({ verdict }) => verdict === 'leaks');
  return { told: { value: leaky.length, u: 0.25 }, truth: 0 };
}

/**
 * A sound cell that still settles after its charge, by a stretched exponential of its own; measured as the test begins
 * and a week later. Any that is said to leak is one too many.
 */
function settlingCase(chance: Chance, beganH: number): TrueCase {
  const [settlesV, tauH] = [between(chance, 0.006, 0.02), between(chance, 1, 5)];
  const perDayV = chance.normal(-0.0002, 0.00005);
  const readings = [beganH / 24, beganH / 24 + 7].map((day) => ({
    atS: day * dayS,
    voltageV:
      4.13 + perDayV * day + settlesV * Math.exp(-(((24 * day) / tauH) ** 0.5)) + chance.normal(0, meter.noiseV),
    u: meter.u,
  }));
  const [result] = selfDischargeTest([{ id: 'one', readings, chargedAtS: 0, curve: table }], 'li-ion', limits);
  return { told: { value: result?.verdict === 'leaks' ? 1 : 0, u: 0.25 }, truth: 0 };
}

/** A cell that leaks, where the curve is flat: that it holds is not to be said. */
function flatCase(chance: Chance, chemistry: 'lfp' | 'lipo', socs: [number, number]): TrueCase {
  const curve = openCircuitOf(chemistry);
  const perDay = between(chance, 0.002, 0.006);
  const start = between(chance, ...socs);
  const offV = between(chance, -0.01, 0.01);
  const readings = [0, 7, 14].map((day) => ({
    atS: day * dayS,
    voltageV:
      Math.round((curve.voltageAt(start - perDay * day) + offV + chance.normal(0, meter.noiseV)) / meter.stepV) *
      meter.stepV,
    u: meter.u,
  }));
  const [result] = selfDischargeTest([{ id: 'one', readings }], chemistry, limits);
  return { told: { value: result?.verdict === 'holds' ? 1 : 0, u: 0.25 }, truth: 0 };
}

export const selfDischargePopulations: Population[] = [
  ...[1, 12, 24].map((hours): Population => ({
    figures: ['no leak'],
    made: `a sound cell that still settles, begun ${hours} h after its charge`,
    draw: (chance) => [settlingCase(chance, hours)],
  })),
  ...(
    [
      ['lfp', [0.4, 0.8]],
      ['lipo', [0.45, 0.6]],
    ] as const
  ).map(([chemistry, socs]): Population => ({
    figures: ['not said to hold'],
    made: `a leaking ${chemistry} cell, read between ${100 * socs[0]} and ${100 * socs[1]} % full`,
    draw: (chance) => [flatCase(chance, chemistry, [...socs])],
  })),
  ...(
    [
      [2, 7],
      [3, 14],
      [5, 28],
    ] as const
  ).map(([count, days]): Population => ({
    figures: ['drift'],
    made: `${count} readings over ${days} days, 1 mV steps`,
    draw: (chance) => [driftCase(chance, count, days)],
  })),
  ...(['table', 'learnt'] as const).map((by): Population => ({
    figures: ['self-discharge'],
    made: by === 'table' ? 'three readings over 14 days, by the table' : 'the same, by a learnt curve of the make',
    draw: (chance) => [leakCase(chance, by)],
  })),
  ...[6, 12, 30].map((count): Population => ({
    figures: ['no leak'],
    made: `a batch of ${count} that holds`,
    draw: (chance) => [soundBatch(chance, count)],
  })),
];
