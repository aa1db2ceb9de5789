import { type Quantity, propagate } from '../quantity/quantity';
import { positive } from '../impossibleInput';

/** Voltage lost at a current, V: I·R. */
export const sagV = (currentA: number, resistanceOhm: Quantity): Quantity => ({
  value: currentA * resistanceOhm.value,
  u: currentA * resistanceOhm.u,
});

/** Power turned to heat within the cell, W: I²·R. */
export const heatW = (currentA: number, resistanceOhm: Quantity): Quantity => ({
  value: currentA ** 2 * resistanceOhm.value,
  u: currentA ** 2 * resistanceOhm.u,
});

/** The highest current at which the voltage sags by no more than that, A: sag/R. */
export function highestCurrentA(sag: number, resistanceOhm: Quantity): Quantity {
  positive('sag', sag);
  const { value, u } = propagate(({ r }) => sag / r, { r: resistanceOhm });
  return { value, u };
}

/** Each one's share of the whole drop of cells or groups in series; they add up to one. */
export function fractionsOfDrop(resistancesOhm: readonly number[]): number[] {
  const total = resistancesOhm.reduce((sum, ohm) => sum + positive('resistanceOhm', ohm), 0);
  return resistancesOhm.map((ohm) => ohm / total);
}

/** Resistance made comparable across sizes: mΩ·Ah, as Ω·Ah. */
export const comparableOhmAh = (resistanceOhm: Quantity, capacityAh: number): Quantity => ({
  value: resistanceOhm.value * capacityAh,
  u: resistanceOhm.u * capacityAh,
});
