import { ImpossibleInput, positive } from '../impossibleInput';
import { exact, type Propagated, propagate, type Quantity } from '../quantity/quantity';
import type { Warning } from '../warning';

/** A load as the current it draws (ammeter) or as the resistance it has (resistor). */
export type StepLoad =
  { kind: 'ammeter'; currentA: Quantity } | { kind: 'resistor'; resistanceOhm: Quantity; powerRatingW?: number };

export interface LoadStep {
  /** Open, or resting under a tiny preload. */
  openV: Quantity;
  loadedV: Quantity;
  load: StepLoad;
  /** Voltage the discharge itself cost during the step: level before less recovery voltage. */
  droopV?: Quantity;
  /** Cells in series between the probes. */
  seriesCells?: number;
  /** Standard uncertainty of the drop from noise of its readings, V. */
  noiseV?: number;
  /** Leads that carry the load's current and are in the drop, both ways, Ω; taken off. */
  leads?: Quantity;
  /**
   * Standard uncertainty of the voltmeter's gain, a share. With a resistor it cancels: the same meter gives the
   * current.
   */
  gainU?: number;
}

type Input =
  | 'open voltage'
  | 'loaded voltage'
  | 'load current'
  | 'load resistor'
  | 'droop'
  | 'noise of the readings'
  | 'leads and clips'
  | 'gain of the meter';

export interface StepResult {
  /** Ω, with the share of each input in its uncertainty. */
  resistance: Propagated<Input>;
  perCellOhm: Quantity;
  currentA: Quantity;
  loadPowerW: number;
  warnings: Warning[];
}

/** Beyond this relative uncertainty the drop says little. */
const resolvedFraction = 0.1;

/**
 * Internal resistance from one step of load: R = (open − loaded − droop) / current,
 * with current = loaded / resistor for a known resistor. Uncertainty by the GUM.
 * Source: common practice; IEC 61960-3 has the same quotient for its direct-current method (from memory).
 *
 * @throws ImpossibleInput when the loaded voltage is not below the open one, or the load is not positive
 */
export function loadStep({
  openV,
  loadedV,
  load,
  droopV = exact(0),
  seriesCells = 1,
  noiseV = 0,
  leads = exact(0),
  gainU = 0,
}: LoadStep): StepResult {
  const drop = openV.value - loadedV.value - droopV.value;
  if (!(drop > 0)) {
    throw new ImpossibleInput('loadedVoltageV', {
      code: 'loaded-above-open',
      openV: openV.value,
      loadedV: loadedV.value,
      droopV: droopV.value,
    });
  }
  positive('seriesCells', seriesCells);
  const resistance =
    load.kind === 'ammeter'
      ? byAmmeter({ openV, loadedV, droopV, noiseV, leads }, load.currentA, gainU)
      : byResistor({ openV, loadedV, droopV, noiseV, leads }, load.resistanceOhm);
  const currentA =
    load.kind === 'ammeter' ? load.currentA : propagate(({ v, r }) => v / r, { v: loadedV, r: load.resistanceOhm });
  const loadPowerW = currentA.value * loadedV.value;

  return {
    resistance,
    perCellOhm: { value: resistance.value / seriesCells, u: resistance.u / seriesCells },
    currentA: { value: currentA.value, u: currentA.u },
    loadPowerW,
    warnings: warningsOf(resistance, loadPowerW, load),
  };
}

interface Drop {
  openV: Quantity;
  loadedV: Quantity;
  droopV: Quantity;
  noiseV: number;
  leads: Quantity;
}

const shared = ({ openV, loadedV, droopV, noiseV, leads }: Drop) => ({
  'open voltage': openV,
  'loaded voltage': loadedV,
  droop: droopV,
  'noise of the readings': { value: 0, u: noiseV },
  'leads and clips': leads,
});
const dropOf = (x: Record<Input, number>): number =>
  x['open voltage'] - x['loaded voltage'] - x.droop + x['noise of the readings'];

function byAmmeter(drop: Drop, currentA: Quantity, gainU: number): Propagated<Input> {
  positive('currentA', currentA.value);
  return propagate<Input>((x) => (x['gain of the meter'] * dropOf(x)) / x['load current'] - x['leads and clips'], {
    ...shared(drop),
    'load current': currentA,
    'gain of the meter': { value: 1, u: gainU },
  } as Record<Input, Quantity>);
}

function byResistor(drop: Drop, resistanceOhm: Quantity): Propagated<Input> {
  positive('loadResistanceOhm', resistanceOhm.value);
  positive('loadedVoltageV', drop.loadedV.value);
  return propagate<Input>((x) => (dropOf(x) * x['load resistor']) / x['loaded voltage'] - x['leads and clips'], {
    ...shared(drop),
    'load resistor': resistanceOhm,
  } as Record<Input, Quantity>);
}

function warningsOf(resistance: Quantity, loadPowerW: number, load: StepLoad): Warning[] {
  const warnings: Warning[] = [];
  const ratingW = load.kind === 'resistor' ? load.powerRatingW : undefined;
  if (ratingW !== undefined && loadPowerW > ratingW) warnings.push({ code: 'load-overrated', loadPowerW, ratingW });
  if (resistance.u > resolvedFraction * resistance.value)
    warnings.push({ code: 'drop-not-resolved', relativeU: resistance.u / resistance.value });
  return warnings;
}
