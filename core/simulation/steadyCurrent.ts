import type { SimulatedGroup } from './packCharge';

/** What a steady current takes off a group's rested voltage after `s` seconds, Ω. Source: linear circuits. */
export const lagOhm = ({ ohmicOhm, branches }: Pick<SimulatedGroup, 'ohmicOhm' | 'branches'>, s: number): number =>
  branches.reduce(
    (sum, { resistanceOhm, timeConstantS }) => sum + resistanceOhm * (1 - Math.exp(-s / timeConstantS)),
    ohmicOhm,
  );

/**
 * Voltage of a rested group after a steady current for a time, V.
 *
 * @param currentA above zero on discharge, below zero on charge
 */
export function steadyV(group: SimulatedGroup, currentA: number, s: number): number {
  const soc = group.soc - (currentA * s) / 3600 / group.capacityAh;
  return group.curve.voltageAt(Math.min(1, Math.max(0, soc))) - currentA * lagOhm(group, s);
}

/** When a group that rested falls to a voltage under a steady discharge, or is empty, s; by bisection. */
export function steadyUntilS(group: SimulatedGroup, currentA: number, downToV: number): number {
  const emptyS = (Math.max(0, group.soc) * group.capacityAh * 3600) / currentA;
  if (steadyV(group, currentA, emptyS) > downToV) return emptyS;
  let [before, after] = [0, emptyS];
  for (let i = 0; i < 50; i += 1) {
    const mid = (before + after) / 2;
    if (steadyV(group, currentA, mid) > downToV) before = mid;
    else after = mid;
  }
  return before;
}
