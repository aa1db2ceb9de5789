import type { OpenCircuitCurve } from '../chemistry/openCircuit';

/** A cell as an open-circuit curve behind an ohmic part and two relaxing branches. */
export interface CellModel {
  curve: OpenCircuitCurve;
  capacityAh: number;
  ohmicOhm: number;
  branches: readonly [RelaxationBranch, RelaxationBranch];
  /** Leak within the cell, A. */
  selfDischargeA: number;
}

export interface RelaxationBranch {
  resistanceOhm: number;
  timeConstantS: number;
}

export interface CellState {
  soc: number;
  /** Voltage across each branch, V. */
  branchV: [number, number];
}

export const restedState = (soc: number): CellState => ({ soc, branchV: [0, 0] });

/**
 * Terminal voltage under a current that is positive on discharge, V.
 * @worked 2 A from a cell that rests at half charge, 40 mΩ at once: `terminalV({ curve: openCircuitOf('li-ion'),
 * ohmicOhm: 0.04 }, restedState(0.5), 2)` V
 */
export const terminalV = ({ curve, ohmicOhm }: CellModel, { soc, branchV }: CellState, currentA: number): number =>
  curve.voltageAt(soc) - currentA * ohmicOhm - branchV[0] - branchV[1];

/**
 * The state after `stepS` seconds under a constant current (positive on discharge). The branches advance exactly:
 * v' = I·R + (v − I·R)·exp(−t/τ). Source: first-order linear circuit.
 * @worked An hour of 1.2 A from a full cell of 2.4 Ah: `advance({ curve: openCircuitOf('li-ion'), capacityAh: 2.4,
 * ohmicOhm: 0.03, branches: [{ resistanceOhm: 0.01, timeConstantS: 5 }, { resistanceOhm: 0.02, timeConstantS: 300 }],
 * selfDischargeA: 0 }, restedState(1), 1.2, 3600).soc` of its charge left
 */
export function advance(model: CellModel, state: CellState, currentA: number, stepS: number): CellState {
  const branch = (i: 0 | 1): number => {
    const { resistanceOhm, timeConstantS } = model.branches[i];
    const target = currentA * resistanceOhm;
    return target + (state.branchV[i] - target) * Math.exp(-stepS / timeConstantS);
  };
  const soc = state.soc - ((currentA + model.selfDischargeA) * stepS) / 3600 / model.capacityAh;
  return { soc: Math.max(0, soc), branchV: [branch(0), branch(1)] };
}

/**
 * Resistance this model shows `afterS` seconds into a step, curve aside, Ω.
 * @worked 30 mΩ at once, 10 and 20 mΩ with 5 and 300 s, after 10 s: `stepResistanceOhm({ ohmicOhm: 0.03, branches: [{
 * resistanceOhm: 0.01, timeConstantS: 5 }, { resistanceOhm: 0.02, timeConstantS: 300 }] }, 10)` Ω
 */
export const stepResistanceOhm = ({ ohmicOhm, branches }: CellModel, afterS: number): number =>
  branches.reduce(
    (sum, { resistanceOhm, timeConstantS }) => sum + resistanceOhm * (1 - Math.exp(-afterS / timeConstantS)),
    ohmicOhm,
  );
