import { ImpossibleInput } from '../impossibleInput';
import { exact, type Quantity } from '../quantity/quantity';
import { loadStep, type StepResult } from './loadStep';

export interface TwoCurrentStep {
  lowCurrentA: Quantity;
  highCurrentA: Quantity;
  atLowV: Quantity;
  atHighV: Quantity;
  seriesCells?: number;
  gainU?: number;
  noiseV?: number;
  leads?: Quantity;
  /** Limit of the ammeter on the step, A: its gain on the difference, its zero once. */
  currentLimitA?: number;
}

/**
 * Internal resistance from two currents: R = (V at the low − V at the high) / (high − low).
 * Source: IEC 61960-3 (from memory): 0.2 of rated current for 10 s, then 1.0 for 1 s.
 *
 * @throws ImpossibleInput when the currents or the voltages are not in that order
 */
export function twoCurrentStep({
  lowCurrentA,
  highCurrentA,
  atLowV,
  atHighV,
  seriesCells = 1,
  gainU = 0,
  noiseV = 0,
  leads = exact(0),
  currentLimitA = 0,
}: TwoCurrentStep): StepResult {
  if (!(highCurrentA.value > lowCurrentA.value)) {
    throw new ImpossibleInput('highCurrentA', {
      code: 'currents-in-wrong-order',
      lowCurrentA: lowCurrentA.value,
      highCurrentA: highCurrentA.value,
    });
  }
  const rise: Quantity = {
    value: highCurrentA.value - lowCurrentA.value,
    u: Math.hypot(highCurrentA.u, lowCurrentA.u, currentLimitA / Math.sqrt(3)),
  };
  const step = loadStep({
    openV: atLowV,
    loadedV: atHighV,
    load: { kind: 'ammeter', currentA: rise },
    seriesCells,
    gainU,
    noiseV,
    leads,
  });
  return { ...step, currentA: rise, loadPowerW: highCurrentA.value * atHighV.value };
}
