import { ImpossibleInput } from '../impossibleInput';
import { type Correction, corrected } from '../instruments/calibration';
import type { InstrumentRange } from '../instruments/instrument';
import { type Contribution, exact, propagate, type Quantity, quadrature, read } from '../quantity/quantity';
import type { Warning } from '../warning';
import { directResistance } from './direct';
import { loadStep } from './loadStep';
import type { LoadEdge } from './pulses';
import { twoCurrentStep } from './twoCurrents';

/** What was read of one cell, raw, by whatever method. */
export type ResistanceFacts =
  | {
      kind: 'load-step';
      openV: number;
      loadedV: number;
      /** Level after the load was taken off; null where it was not read. */
      afterV: number | null;
      /** Null with a resistor. */
      currentA: number | null;
      step: number;
      currentStep: number | null;
      loadResistanceOhm: number | null;
      loadTolerance: number | null;
      loadRatingW: number | null;
    }
  | { kind: 'two-current'; atLowV: number; lowCurrentA: number; atHighV: number; highCurrentA: number; step: number; currentStep: number }
  | {
      kind: 'resistance';
      resistanceOhm: number;
      step: number;
      /** What the meter shows beside it, where it was read. */
      openV: number | null;
      /** Null where nobody noted it. */
      zeroTaken: boolean | null;
    }
  /** Null where the log has no such step any more. */
  | { kind: 'pulse'; edge: LoadEdge | null };

/** What is known of the instruments a reading was taken with; null where none was named. */
export interface Tools {
  voltage: InstrumentRange | null;
  current: InstrumentRange | null;
  resistance: InstrumentRange | null;
  wires: 2 | 4 | null;
  leads: { gauge: number; lengthM: number } | null;
  correction: Correction | null;
}

export const noTools: Tools = { voltage: null, current: null, resistance: null, wires: null, leads: null, correction: null };

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

const assumedToleranceShare = 0.01;
const usualCurrentStepA = 0.01;

/** Contributions that are the same at every press. */
const lasting = ['load resistor', 'gain of the meter', 'accuracy', 'leads and clips', 'current of the log'];

/**
 * The resistance that raw readings show, corrected, with its doubt and warnings; null for confirmed readings that make no
 * sense as a resistance. A steady offset of the meter cancels in a drop, as do its counts of accuracy; its gain does not.
 */
export function judgeReading(facts: ResistanceFacts, tools: Tools): ResistanceResult | null {
  try {
    const { resistance, budget, loadPowerW, warnings } = computed(facts, tools);
    return { resistance, budget, loadPowerW, warnings, randomU: quadrature(...budget.filter((share) => !lasting.includes(share.input)).map((share) => share.u)) };
  } catch (error) {
    if (error instanceof ImpossibleInput) return null;
    throw error;
  }
}

function computed(facts: ResistanceFacts, tools: Tools): Omit<ResistanceResult, 'randomU'> {
  switch (facts.kind) {
    case 'load-step': {
      const { resistance, loadPowerW, warnings } = loadStep({ ...voltsOf(facts, tools), load: loadOf(facts, tools), gainU: gainU(tools) });
      return { ...parts(resistance), loadPowerW, warnings };
    }
    case 'two-current': {
      const volt = (value: number) => correctedVolt(value, facts.step, tools);
      const { resistance, loadPowerW, warnings } = twoCurrentStep({ atLowV: volt(facts.atLowV), atHighV: volt(facts.atHighV), lowCurrentA: read(facts.lowCurrentA, facts.currentStep), highCurrentA: ampere(facts.highCurrentA, facts.currentStep, tools), gainU: gainU(tools) });
      return { ...parts(resistance), loadPowerW, warnings };
    }
    case 'resistance': {
      const { resistance, warnings } = directResistance({ resistanceOhm: facts.resistanceOhm, stepOhm: facts.step, range: tools.resistance, wires: tools.wires, leads: tools.leads, zeroTaken: facts.zeroTaken });
      if (!(resistance.value > 0)) throw new ImpossibleInput('resistanceOhm', 'A resistance is above nought.');
      return { ...parts(resistance), loadPowerW: null, warnings };
    }
    case 'pulse': {
      const ohm = facts.edge?.resistanceOhm['10s'];
      if (ohm === undefined || !(ohm > 0)) throw new ImpossibleInput('at', 'This log shows no resistance at 10 s there.');
      const [u, currentU] = [facts.edge?.standardUncertaintyOhm['10s'] ?? 0, facts.edge?.currentRelativeU ?? 0];
      const scatterU = Math.sqrt(Math.max(0, u ** 2 - (ohm * currentU) ** 2));
      const resistance = propagate((x) => x['scatter of the log'] * x['current of the log'], { 'scatter of the log': { value: ohm, u: scatterU }, 'current of the log': { value: 1, u: currentU } });
      return { ...parts(resistance), loadPowerW: null, warnings: [] };
    }
  }
}

const parts = ({ value, u, budget }: Quantity & { budget: Contribution[] }) => ({ resistance: { value, u }, budget });

const gainU = ({ voltage, correction }: Tools): number => (correction?.kind === 'line' ? correction.gain.u : (voltage?.accuracyShare ?? 0) / Math.sqrt(3));

/** The offset's own doubt is common to both voltages of a drop and cancels, so only the last digit is left of it here. */
const correctedVolt = (value: number, step: number, { correction }: Tools): Quantity => ({ value: corrected(exact(value), correction).value, u: read(value, step).u });

function voltsOf({ openV, loadedV, afterV, step }: Extract<ResistanceFacts, { kind: 'load-step' }>, tools: Tools) {
  const [open, loaded] = [correctedVolt(openV, step, tools), correctedVolt(loadedV, step, tools)];
  const droopV = afterV === null ? exact(0) : { value: open.value - correctedVolt(afterV, step, tools).value, u: open.u * Math.SQRT2 };
  return { openV: open, loadedV: loaded, droopV };
}

function loadOf({ currentA, currentStep, loadResistanceOhm, loadTolerance, loadRatingW }: Extract<ResistanceFacts, { kind: 'load-step' }>, tools: Tools) {
  if (loadResistanceOhm === null) return { kind: 'ammeter' as const, currentA: ampere(currentA ?? 0, currentStep ?? usualCurrentStepA, tools) };
  return {
    kind: 'resistor' as const,
    resistanceOhm: { value: loadResistanceOhm, u: ((loadTolerance ?? assumedToleranceShare) * loadResistanceOhm) / Math.sqrt(3) },
    ...(loadRatingW === null ? {} : { powerRatingW: loadRatingW }),
  };
}

const ampere = (value: number, step: number, { current }: Tools): Quantity => ({ value, u: quadrature(read(value, step).u, (Math.abs(value) * (current?.accuracyShare ?? 0)) / Math.sqrt(3)) });
