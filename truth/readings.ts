import { judgeReading, noTools, type ResistanceFacts, type Tools } from '@/core/resistance/judgeReading';
import type { InstrumentRange } from '@/core/instruments/instrument';
import { meanOfRepeats } from '@/core/resistance/repeats';
import { leadPairOhm } from '@/core/instruments/leads';
import type { Chance } from '@/core/statistics/random';
import type { Population, TrueCase } from './coverage';
import { answerOhm, between, drawCell, drawTool, moveOn, rested, shown, type TrueTool, voltageOf } from './trueCell';

interface Setting {
  /** What the makers promise. */
  voltage: InstrumentRange;
  current: InstrumentRange;
  /** Noise of the voltmeter, as a share of its digit. */
  noiseDigits: number;
  load: 'resistor' | 'ammeter';
  tolerance: number;
  /** When the recovery voltage is read; null: it is not. */
  afterS: [number, number] | null;
  /** Leads that carry the load's current. */
  leads: { gauge: number; lengthM: number } | null;
}

const usual: Setting = {
  voltage: { resolution: 0.001, accuracyShare: 0.002, accuracyCounts: 2 },
  current: { resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 3 },
  noiseDigits: 0.5,
  load: 'resistor',
  tolerance: 0.01,
  afterS: null,
  leads: null,
};

const toolOf = (
  chance: Chance,
  { resolution, accuracyShare, accuracyCounts }: InstrumentRange,
  noise: number,
): TrueTool => drawTool(chance, { share: accuracyShare, fixed: accuracyCounts * resolution }, noise, resolution);

/** A cell read open, after ten seconds of load, and perhaps at rest again, by hand. */
function loadStepCase(chance: Chance, setting: Setting): TrueCase {
  const cell = drawCell(chance);
  const state = rested(cell, between(chance, 0.35, 0.85));
  const soc = state.soc;
  const statedOhm = Number((3.6 / (between(chance, 0.5, 1.2) * cell.capacityAh)).toPrecision(3));
  const trueOhm = statedOhm * (1 + between(chance, -setting.tolerance, setting.tolerance));
  const [voltmeter, ammeter] = [
    toolOf(chance, setting.voltage, setting.noiseDigits * setting.voltage.resolution),
    toolOf(chance, setting.current, 0.002),
  ];
  const wires = setting.leads
    ? leadPairOhm(setting.leads.gauge, setting.leads.lengthM) * between(chance, 0.9, 1.1) +
      between(chance, -0.004, 0.004)
    : 0;
  const openV = shown(voltageOf(cell, state, 0), voltmeter, chance);
  const openTrueV = voltageOf(cell, state, 0);
  let amps = 0;
  for (let i = 0; i < 100; i++) {
    for (let n = 0; n < 3; n++) amps = (voltageOf(cell, state, amps) - amps * wires) / trueOhm;
    moveOn(cell, state, amps, 0.1);
  }
  const loadedTrueV = voltageOf(cell, state, amps);
  const loadedV = shown(loadedTrueV - amps * wires, voltmeter, chance);
  const currentA = setting.load === 'ammeter' ? shown(amps, ammeter, chance) : null;
  const afterS = setting.afterS && between(chance, ...setting.afterS);
  if (afterS) moveOn(cell, state, 0, afterS);
  const afterV = afterS ? shown(voltageOf(cell, state, 0), voltmeter, chance) : null;
  const facts: ResistanceFacts = {
    kind: 'load-step',
    openV,
    loadedV,
    afterV,
    afterS,
    currentA,
    step: setting.voltage.resolution,
    currentStep: currentA === null ? null : setting.current.resolution,
    loadResistanceOhm: currentA === null ? statedOhm : null,
    loadTolerance: currentA === null ? setting.tolerance : null,
    loadRatingW: null,
  };
  const tools: Tools = {
    ...noTools,
    voltage: setting.voltage,
    current: setting.current,
    wires: setting.leads ? 2 : null,
    leads: setting.leads,
  };
  // With the recovery voltage, what the charge cost is taken off.
  const truth = afterS ? answerOhm(cell, soc, 10) : (openTrueV - loadedTrueV) / amps;
  return { told: judgeReading(facts, tools)?.resistance ?? null, truth };
}

function directCase(chance: Chance, range: InstrumentRange): TrueCase {
  const truth = between(chance, 0.008, 0.09);
  const resistanceOhm = shown(truth, toolOf(chance, range, 0.4 * range.resolution), chance);
  return {
    told:
      judgeReading(
        { kind: 'resistance', resistanceOhm, step: range.resolution, openV: null, zeroTaken: true },
        { ...noTools, resistance: range, wires: 4 },
      )?.resistance ?? null,
    truth,
  };
}

/** A cell measured several times in a round: each contact adds or spares up to some per cent. */
function repeatedCase(chance: Chance, count: number): TrueCase {
  const range: InstrumentRange = { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 3 };
  const truth = between(chance, 0.03, 0.3);
  const meter = toolOf(chance, range, 0.4 * range.resolution);
  const contact = between(chance, 0.001, 0.02);
  const read = Array.from({ length: count }, () =>
    judgeReading(
      {
        kind: 'resistance',
        resistanceOhm: shown(truth * (1 + chance.normal(0, contact)), meter, chance),
        step: range.resolution,
        openV: null,
        zeroTaken: true,
      },
      { ...noTools, resistance: range, wires: 4 },
    ),
  ).filter((one) => one !== null);
  const [first] = read;
  if (!first) return { told: null, truth };
  const values = read.map(({ resistance }) => resistance.value);
  return { told: meanOfRepeats(values, { u: first.resistance.u, randomU: first.randomU }), truth };
}

const population = (made: string, change: Partial<Setting>): Population => ({
  figures: ['typed resistance at 10 s'],
  made,
  draw: (chance) => [loadStepCase(chance, { ...usual, ...change })],
});

export const readingPopulations: Population[] = [
  population('resistor ± 1 %, meter in steps of 1 mV', {}),
  population('resistor ± 5 %, meter in steps of 1 mV', { tolerance: 0.05 }),
  population('resistor ± 1 %, meter in steps of 10 mV', {
    voltage: { resolution: 0.01, accuracyShare: 0.005, accuracyCounts: 2 },
  }),
  population('ammeter ± 1 % ± 5 counts of 10 mA', {
    load: 'ammeter',
    current: { resolution: 0.01, accuracyShare: 0.01, accuracyCounts: 5 },
  }),
  population('ammeter, recovery voltage read after 15 to 25 s', { load: 'ammeter', afterS: [15, 25] }),
  population('ammeter, recovery voltage read after 50 to 70 s', { load: 'ammeter', afterS: [50, 70] }),
  population('two wires of 0.3 m, gauge 18, in the load’s loop', { leads: { gauge: 18, lengthM: 0.3 } }),
  {
    figures: ['resistance shown by a meter'],
    made: 'milliohm meter ± 0.5 % ± 3 counts of 0.1 mΩ, four wires',
    draw: (chance) => [directCase(chance, { resolution: 0.0001, accuracyShare: 0.005, accuracyCounts: 3 })],
  },
  ...[2, 3, 5].map((count): Population => ({
    figures: ['mean of repeats'],
    made: `the same meter, ${count} repeats, contacts that scatter by 0.1 to 2 %`,
    draw: (chance) => [repeatedCase(chance, count)],
  })),
];
