import { type Quantity, propagate } from '../quantity/quantity';
import { positive } from '../impossibleInput';

/**
 * Voltage lost at a current, V: I·R.
 * @worked 20 A through 35 mΩ: `sagV(20, { value: 0.035, u: 0.001 })` V
 */
export const sagV = (currentA: number, resistanceOhm: Quantity): Quantity => ({
  value: currentA * resistanceOhm.value,
  u: currentA * resistanceOhm.u,
});

/**
 * Power turned to heat within the cell, W: I²·R.
 * @worked 20 A through 35 mΩ: `heatW(20, { value: 0.035, u: 0.001 })` W
 */
export const heatW = (currentA: number, resistanceOhm: Quantity): Quantity => ({
  value: currentA ** 2 * resistanceOhm.value,
  u: currentA ** 2 * resistanceOhm.u,
});

/**
 * The highest current at which the voltage sags by no more than that, A: sag/R.
 * @worked 0.5 V of sag, 35 mΩ: `highestCurrentA(0.5, { value: 0.035, u: 0.001 })` A
 */
export function highestCurrentA(sag: number, resistanceOhm: Quantity): Quantity {
  positive('sag', sag);
  const { value, u } = propagate(({ r }) => sag / r, { r: resistanceOhm });
  return { value, u };
}

/**
 * Each one's share of the whole drop of cells or groups in series; they add up to one.
 * @worked 20, 20 and 60 mΩ in series: `sharesOfDrop([20, 20, 60])`
 */
export function sharesOfDrop(resistancesOhm: readonly number[]): number[] {
  const total = resistancesOhm.reduce((sum, ohm) => sum + positive('resistanceOhm', ohm), 0);
  return resistancesOhm.map((ohm) => ohm / total);
}

/**
 * Resistance made comparable across sizes: mΩ·Ah, as Ω·Ah.
 * @worked 35 mΩ of 2.4 Ah: `comparableOhmAh({ value: 35, u: 1 }, 2.4)` mΩ·Ah
 */
export const comparableOhmAh = (resistanceOhm: Quantity, capacityAh: number): Quantity => ({
  value: resistanceOhm.value * capacityAh,
  u: resistanceOhm.u * capacityAh,
});
