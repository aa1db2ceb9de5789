import { ImpossibleInput } from '../impossibleInput';
import { type Correction, corrected } from '../instruments/calibration';
import { type InstrumentRange, limitOf, rangeFor } from '../instruments/instrument';
import { leadPairOhm } from '../instruments/leads';
import { type Contribution, exact, propagate, type Quantity, quadrature, read } from '../quantity/quantity';
import type { Warning } from '../warning';
import { clipsOhm, directResistance } from './direct';
import { assumedAfterS, notYetRested } from './recovery';
import { loadStep } from './loadStep';
import type { LoadEdge } from './pulses';
import { twoCurrentStep } from './twoCurrents';

/** What was read of one cell, raw, by whatever method. */
export type ResistanceFacts =
  | {
      kind: 'load-step';
      openV: number;
      loadedV: number;
      /** Voltage after the load was taken off; null where it was not read. */
      afterV: number | null;
      /** When it was read, s after the load came off; null where not noted. */
      afterS: number | null;
      /** Null with a resistor. */
      currentA: number | null;
      /** Last digit of the voltages; of those below where they have one of their own. */
      step: number;
      loadedStep?: number | null;
      afterStep?: number | null;
      currentStep: number | null;
      loadResistanceOhm: number | null;
      loadTolerance: number | null;
      loadRatingW: number | null;
    }
  | {
      kind: 'two-current';
      atLowV: number;
      lowCurrentA: number;
      atHighV: number;
      highCurrentA: number;
      step: number;
      highStep?: number | null;
      currentStep: number;
    }
  | {
      kind: 'resistance';
      resistanceOhm: number;
      step: number;
      /** What the meter shows beside it, where it was read. */
      openV: number | null;
      openStep?: number | null;
      /** Null where not noted. */
      zeroTaken: boolean | null;
    }
  /** The step that the log of a run shows at that moment: null where it is not read from the log yet, or shows none. */
  | { kind: 'pulse'; runId: number; atS: number; edge: LoadEdge | null };

/** What is known of the instruments a reading was taken with; null where none was named. */
export interface Tools {
  voltage: InstrumentRange | null;
  current: InstrumentRange | null;
  resistance: InstrumentRange | null;
  wires: 2 | 4 | null;
  leads: { gauge: number; lengthM: number } | null;
  correction: Correction | null;
}

export const noTools: Tools = {
  voltage: null,
  current: null,
  resistance: null,
  wires: null,
  leads: null,
  correction: null,
};

export interface ResistanceResult {
  resistance: Quantity;
  /** Where the uncertainty comes from, largest first. */
  budget: Contribution[];
  /** The part that varies from one press to the next: last digits, not the tools. */
  randomU: number;
  /** What the load takes, W; null where none is known. */
  loadPowerW: number | null;
  warnings: Warning[];
}

/** Assumed where nothing is noted of it: the limit of a load resistor, and the last digit of a current, A. */
const assumedToleranceFraction = 0.01;
const usualCurrentStepA = 0.01;

/** Contributions that are the same at every press. */
const lasting = [
  'load resistor',
  'gain of the meter',
  'accuracy',
  'accuracy of the ammeter',
  'leads and clips',
  'current of the log',
  'time of the recovery voltage',
];

/**
 * The resistance that raw readings show, corrected, with its uncertainty and warnings; null for confirmed readings that
 * make no sense as a resistance. A steady offset of the meter cancels in a drop, as do its counts of accuracy; its gain
 * does not. Until pressing again has taught how much a figure varies, a digit of noise is assumed for every reading.
 *
 * @param noiseOhm what pressing again taught, one standard uncertainty; null for nothing yet
 */
export function judgeReading(
  facts: ResistanceFacts,
  tools: Tools,
  noiseOhm: number | null = null,
): ResistanceResult | null {
  try {
    const { resistance, budget, loadPowerW, warnings } = computed(facts, tools, noiseOhm);
    if (!(resistance.value > 0)) return null;
    return {
      resistance,
      budget,
      loadPowerW,
      warnings,
      randomU: quadrature(
        ...budget.filter((fraction) => !lasting.includes(fraction.input)).map((fraction) => fraction.u),
      ),
    };
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

function computed(facts: ResistanceFacts, tools: Tools, noiseOhm: number | null): Omit<ResistanceResult, 'randomU'> {
  switch (facts.kind) {
    case 'load-step': {
      const load = loadOf(facts, tools);
      const noiseV =
        noiseOhm === null
          ? noiseOfDrop(
              facts.afterV === null ? facts.step : (facts.afterStep ?? facts.step),
              facts.loadedStep ?? facts.step,
            )
          : noiseOhm * (load.kind === 'ammeter' ? load.currentA.value : facts.loadedV / load.resistanceOhm.value);
      const { resistance, loadPowerW, warnings } = loadStep({
        ...voltsOf(facts, tools),
        load,
        noiseV,
        leads: leadsOf(tools),
        gainU: gainU(tools),
      });
      const rested = facts.afterV === null ? resistance : restedOut(resistance, facts.afterS);
      return {
        ...parts(rested),
        loadPowerW,
        warnings: facts.afterV === null || facts.afterS !== null ? warnings : [...warnings, afterUnknown],
      };
    }
    case 'two-current': {
      const riseA = facts.highCurrentA - facts.lowCurrentA;
      const { resistance, loadPowerW, warnings } = twoCurrentStep({
        atLowV: correctedVolt(facts.atLowV, facts.step, tools),
        atHighV: correctedVolt(facts.atHighV, facts.highStep ?? facts.step, tools),
        lowCurrentA: read(facts.lowCurrentA, facts.currentStep),
        highCurrentA: read(facts.highCurrentA, facts.currentStep),
        currentLimitA: tools.current ? limitOf(riseA, rangeFor(tools.current, facts.currentStep)) : 0,
        noiseV: noiseOhm === null ? noiseOfDrop(facts.step, facts.highStep ?? facts.step) : noiseOhm * riseA,
        leads: leadsOf(tools),
        gainU: gainU(tools),
      });
      return { ...parts(resistance), loadPowerW, warnings };
    }
    case 'resistance': {
      const { resistance, warnings } = directResistance({
        resistanceOhm: facts.resistanceOhm,
        stepOhm: facts.step,
        range: tools.resistance,
        wires: tools.wires,
        leads: tools.leads,
        zeroTaken: facts.zeroTaken,
        noiseOhm: noiseOhm ?? facts.step / Math.sqrt(3),
      });
      if (!(resistance.value > 0)) throw new ImpossibleInput('resistanceOhm', { code: 'resistance-not-above-zero' });
      return { ...parts(resistance), loadPowerW: null, warnings };
    }
    case 'pulse': {
      const ohm = facts.edge?.resistanceOhm['10s'];
      if (ohm === undefined || !(ohm > 0)) throw new ImpossibleInput('at', { code: 'no-resistance-there' });
      const [u, currentU] = [facts.edge?.standardUncertaintyOhm['10s'] ?? 0, facts.edge?.currentRelativeU ?? 0];
      const scatterU = Math.sqrt(Math.max(0, u ** 2 - (ohm * currentU) ** 2));
      const resistance = propagate((x) => x['scatter of the log'] * x['current of the log'], {
        'scatter of the log': { value: ohm, u: scatterU },
        'current of the log': { value: 1, u: currentU },
      });
      return { ...parts(resistance), loadPowerW: null, warnings: [] };
    }
  }
}

const parts = ({ value, u, budget }: Quantity & { budget: Contribution[] }) => ({ resistance: { value, u }, budget });

/** Noise of a drop of two readings, a digit of each. */
const noiseOfDrop = (one: number, other: number): number => quadrature(one, other) / Math.sqrt(3);

/** Copper leads are known to about a tenth, with warmth and joints. */
const leadsU = 0.1;

/**
 * What two wires that carry the load's current add to the drop: leads where they are known, and clips as uncertainty.
 */
function leadsOf({ wires, leads }: Tools): Quantity {
  if (wires !== 2) return exact(0);
  const ohm = leads ? leadPairOhm(leads.gauge, leads.lengthM) : 0;
  return { value: ohm, u: quadrature(leadsU * ohm, clipsOhm / Math.sqrt(3)) };
}

/** What the cell had not yet recovered when the recovery voltage was read. */
function restedOut(
  { value, u, budget }: Quantity & { budget: Contribution[] },
  afterS: number | null,
): Quantity & { budget: Contribution[] } {
  const { share: fraction, u: fractionU } = notYetRested(afterS);
  const times = 1 / (1 - fraction);
  const widened = [
    ...budget.map((one) => ({ ...one, u: one.u * times })),
    { input: 'time of the recovery voltage', u: value * times ** 2 * fractionU },
  ].sort((a, b) => b.u - a.u);
  return { value: value * times, u: quadrature(u * times, value * times ** 2 * fractionU), budget: widened };
}

const afterUnknown: Warning = { code: 'after-time-unknown', assumedS: assumedAfterS };

const gainU = ({ voltage, correction }: Tools): number =>
  correction?.kind === 'line' ? correction.gain.u : (voltage?.accuracyShare ?? 0) / Math.sqrt(3);

/**
 * The offset's own uncertainty is common to both voltages of a drop and cancels, so only the last digit is left of it
 * here.
 */
const correctedVolt = (value: number, step: number, { correction }: Tools): Quantity => ({
  value: corrected(exact(value), correction).value,
  u: read(value, step).u,
});

function voltsOf(
  { openV, loadedV, afterV, step, loadedStep, afterStep }: Extract<ResistanceFacts, { kind: 'load-step' }>,
  tools: Tools,
) {
  // With the recovery voltage, the open reading cancels: open − loaded − (open − after) = after − loaded.
  return {
    openV: correctedVolt(afterV ?? openV, afterV === null ? step : (afterStep ?? step), tools),
    loadedV: correctedVolt(loadedV, loadedStep ?? step, tools),
  };
}

function loadOf(
  {
    currentA,
    currentStep,
    loadResistanceOhm,
    loadTolerance,
    loadRatingW,
  }: Extract<ResistanceFacts, { kind: 'load-step' }>,
  tools: Tools,
) {
  if (loadResistanceOhm === null)
    return { kind: 'ammeter' as const, currentA: ampere(currentA ?? 0, currentStep ?? usualCurrentStepA, tools) };
  return {
    kind: 'resistor' as const,
    resistanceOhm: {
      value: loadResistanceOhm,
      u: ((loadTolerance ?? assumedToleranceFraction) * loadResistanceOhm) / Math.sqrt(3),
    },
    ...(loadRatingW === null ? {} : { powerRatingW: loadRatingW }),
  };
}

const ampere = (value: number, step: number, { current }: Tools): Quantity => ({
  value,
  u: quadrature(read(value, step).u, current ? limitOf(value, rangeFor(current, step)) / Math.sqrt(3) : 0),
});
