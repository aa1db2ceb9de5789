import { ImpossibleInput, positive } from '../impossibleInput';
import { display, formatFigure } from '../quantity/format';
import { exact, type Propagated, propagate, type Quantity } from '../quantity/quantity';
import type { Warning } from '../warning';

/** A load as the current it draws (ammeter) or as the resistance it has (resistor). */
export type StepLoad = { kind: 'ammeter'; currentA: Quantity } | { kind: 'resistor'; resistanceOhm: Quantity; powerRatingW?: number };

export interface LoadStep {
  /** Open, or resting under a tiny preload. */
  openV: Quantity;
  loadedV: Quantity;
  load: StepLoad;
  /** Voltage the discharge itself cost during the step: level before less level after. */
  droopV?: Quantity;
  /** Cells in series between the probes. */
  seriesCells?: number;
}

type Input = 'open voltage' | 'loaded voltage' | 'load current' | 'load resistor' | 'droop';

export interface StepResult {
  /** Ω, with the share of each input in its uncertainty. */
  resistance: Propagated<Input>;
  perCellOhm: Quantity;
  currentA: Quantity;
  loadPowerW: number;
  warnings: Warning[];
}

/** Beyond this relative uncertainty the drop says little. */
const resolvedShare = 0.1;

/**
 * Internal resistance from one step of load: R = (open − loaded − droop) / current,
 * with current = loaded / resistor for a known resistor. Uncertainty by the GUM.
 * Source: common practice; IEC 61960-3 has the same quotient for its direct-current method (from memory).
 *
 * @throws ImpossibleInput when the loaded voltage is not below the open one, or the load is not positive
 * @example
 * loadStep({ openV: exact(3.95), loadedV: exact(3.8), load: { kind: 'ammeter', currentA: exact(1.5) } }).resistance.value // 0.1
 */
export function loadStep({ openV, loadedV, load, droopV = exact(0), seriesCells = 1 }: LoadStep): StepResult {
  const drop = openV.value - loadedV.value - droopV.value;
  if (!(drop > 0)) {
    throw new ImpossibleInput(
      'loadedVoltageV',
      `Under load ${formatFigure(loadedV.value, display.voltage)} was read, open ${formatFigure(openV.value, display.voltage)}` +
        `${droopV.value === 0 ? '' : ` with ${formatFigure(droopV.value, display.milliVolt)} of droop`}; the loaded voltage must be the lower one.`,
    );
  }
  positive('seriesCells', seriesCells);
  const resistance = load.kind === 'ammeter' ? byAmmeter(openV, loadedV, droopV, load.currentA) : byResistor(openV, loadedV, droopV, load.resistanceOhm);
  const currentA = load.kind === 'ammeter' ? load.currentA : propagate(({ v, r }) => v / r, { v: loadedV, r: load.resistanceOhm });
  const loadPowerW = currentA.value * loadedV.value;

  return {
    resistance,
    perCellOhm: { value: resistance.value / seriesCells, u: resistance.u / seriesCells },
    currentA: { value: currentA.value, u: currentA.u },
    loadPowerW,
    warnings: warningsOf(resistance, loadPowerW, load),
  };
}

function byAmmeter(openV: Quantity, loadedV: Quantity, droopV: Quantity, currentA: Quantity): Propagated<Input> {
  positive('currentA', currentA.value);
  return propagate<Input>((x) => (x['open voltage'] - x['loaded voltage'] - x.droop) / x['load current'], {
    'open voltage': openV,
    'loaded voltage': loadedV,
    droop: droopV,
    'load current': currentA,
  } as Record<Input, Quantity>);
}

function byResistor(openV: Quantity, loadedV: Quantity, droopV: Quantity, resistanceOhm: Quantity): Propagated<Input> {
  positive('loadResistanceOhm', resistanceOhm.value);
  positive('loadedVoltageV', loadedV.value);
  return propagate<Input>((x) => ((x['open voltage'] - x['loaded voltage'] - x.droop) * x['load resistor']) / x['loaded voltage'], {
    'open voltage': openV,
    'loaded voltage': loadedV,
    droop: droopV,
    'load resistor': resistanceOhm,
  } as Record<Input, Quantity>);
}

function warningsOf(resistance: Quantity, loadPowerW: number, load: StepLoad): Warning[] {
  const warnings: Warning[] = [];
  const ratingW = load.kind === 'resistor' ? load.powerRatingW : undefined;
  if (ratingW !== undefined && loadPowerW > ratingW) {
    warnings.push({
      code: 'load-overrated',
      message: `The resistor takes ${formatFigure(loadPowerW, display.power)}, more than its ${formatFigure(ratingW, display.power)}: it gets hot and drifts. Hold it only for a moment, or use a larger one.`,
    });
  }
  if (resistance.u > resolvedShare * resistance.value) {
    warnings.push({
      code: 'drop-not-resolved',
      message: `The drop is too small for these voltage steps: the figure is good to ${Math.round((100 * resistance.u) / resistance.value)} % only. Use a finer meter or a heavier load.`,
    });
  }
  return warnings;
}

export interface TwoCurrentStep {
  lowCurrentA: Quantity;
  highCurrentA: Quantity;
  atLowV: Quantity;
  atHighV: Quantity;
  seriesCells?: number;
}

/**
 * Internal resistance from two currents: R = (V at the low − V at the high) / (high − low).
 * Source: IEC 61960-3 (from memory): 0.2 of rated current for 10 s, then 1.0 for 1 s.
 *
 * @throws ImpossibleInput when the currents or the voltages are not in that order
 */
export function twoCurrentStep({ lowCurrentA, highCurrentA, atLowV, atHighV, seriesCells = 1 }: TwoCurrentStep): StepResult {
  if (!(highCurrentA.value > lowCurrentA.value)) {
    throw new ImpossibleInput('highCurrentA', `The high current (${highCurrentA.value} A) must exceed the low one (${lowCurrentA.value} A).`);
  }
  const rise: Quantity = { value: highCurrentA.value - lowCurrentA.value, u: Math.hypot(highCurrentA.u, lowCurrentA.u) };
  const step = loadStep({ openV: atLowV, loadedV: atHighV, load: { kind: 'ammeter', currentA: rise }, seriesCells });
  return { ...step, currentA: rise, loadPowerW: highCurrentA.value * atHighV.value };
}

/** Voltage lost at a current, V. */
export const sagV = (currentA: number, resistanceOhm: number): number => currentA * resistanceOhm;
