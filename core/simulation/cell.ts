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

/** Terminal voltage under a current that is positive on discharge, V. */
export const terminalV = ({ curve, ohmicOhm }: CellModel, { soc, branchV }: CellState, currentA: number): number =>
  curve.voltageAt(soc) - currentA * ohmicOhm - branchV[0] - branchV[1];

/**
 * The state after `stepS` seconds under a constant current (positive on discharge). The branches advance exactly:
 * v' = I·R + (v − I·R)·exp(−t/τ). Source: first-order linear circuit.
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

/** Resistance this model shows `afterS` seconds into a step, curve aside, Ω. */
export const stepResistanceOhm = ({ ohmicOhm, branches }: CellModel, afterS: number): number =>
  branches.reduce(
    (sum, { resistanceOhm, timeConstantS }) => sum + resistanceOhm * (1 - Math.exp(-afterS / timeConstantS)),
    ohmicOhm,
  );
