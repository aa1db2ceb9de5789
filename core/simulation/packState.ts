import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import type { RelaxationBranch } from './cell';
import { tableBeyond, tablesOf, tableSteps } from './curveTable';

/** A cell of a pack as a load meets it. */
export interface RunCell {
  curve: OpenCircuitCurve;
  capacityAh: number;
  /** At rest as the load comes on. */
  soc: number;
  ohmicOhm: number;
  branches: readonly RelaxationBranch[];
}

/**
 * A pack of cells in parallel groups in series, moved on step by step. Cells of a group share its current so that they
 * all have one voltage at the end of a step; each is an open-circuit curve behind an ohmic part and branches that
 * relax exactly. Currents are positive on discharge. Source: linear circuits (Kirchhoff's laws, first-order RC).
 */
export class PackState {
  /** Of each cell, group after group. */
  readonly soc: Float64Array;
  /** In the mean over the last step, A. */
  readonly currentA: Float64Array;
  /** Turned into heat since the beginning, J. */
  readonly heatJ: Float64Array;
  /** Where the cells of a group begin; one more than there are groups. */
  readonly starts: Int32Array;
  /** Of each group at the end of the last step, V; as it rests before the first. */
  readonly groupV: Float64Array;

  private readonly cells: readonly RunCell[];
  private readonly tables: Float64Array[];
  private readonly branches: number;
  private readonly branchV: Float64Array;
  private readonly branchOhm: Float64Array;
  private readonly branchTau: Float64Array;
  private readonly perAs: Float64Array;
  private readonly ohmic: Float64Array;
  private readonly branchSiemens: Float64Array;
  /** What a branch keeps over a step, what each ampere adds to it, and of which length that step is. */
  private readonly keeps: Float64Array;
  private readonly stepOhm: Float64Array;
  private keptS = NaN;
  /** The current of a cell over a step is what it conducts of `openV` less its voltage at the end of the step. */
  private readonly openV: Float64Array;
  private readonly stepSiemens: Float64Array;
  /** The same of a group, under the current of the pack. */
  private readonly groupOpenV: Float64Array;
  private readonly groupOhm: Float64Array;

  constructor(groups: readonly (readonly RunCell[])[]) {
    const cells = groups.flat();
    const n = cells.length;
    this.cells = cells;
    this.starts = Int32Array.from([0, ...groups.map((_, g) => groups.slice(0, g + 1).flat().length)]);
    this.tables = tablesOf(cells);
    this.branches = cells.reduce((most, cell) => Math.max(most, cell.branches.length), 0);
    this.soc = Float64Array.from(cells, (cell) => cell.soc);
    this.perAs = Float64Array.from(cells, (cell) => 1 / 3600 / cell.capacityAh);
    this.ohmic = Float64Array.from(cells, (cell) => cell.ohmicOhm);
    const ofBranches = (value: (branch: RelaxationBranch) => number, none: number): Float64Array =>
      Float64Array.from({ length: n * this.branches }, (_, k) => {
        const branch = cells[Math.floor(k / this.branches)]?.branches[k % this.branches];
        return branch ? value(branch) : none;
      });
    this.branchOhm = ofBranches((branch) => branch.resistanceOhm, 0);
    this.branchTau = ofBranches((branch) => branch.timeConstantS, 1);
    this.branchV = new Float64Array(n * this.branches);
    this.branchSiemens = this.branchOhm.map((ohm) => (ohm > 0 ? 1 / ohm : 0));
    this.keeps = new Float64Array(n * this.branches);
    this.stepOhm = new Float64Array(n * this.branches);
    this.openV = new Float64Array(n);
    this.stepSiemens = new Float64Array(n);
    this.currentA = new Float64Array(n);
    this.heatJ = new Float64Array(n);
    this.groupV = new Float64Array(groups.length);
    this.groupOpenV = new Float64Array(groups.length);
    this.groupOhm = new Float64Array(groups.length);
    this.lookAhead(1e-6);
    this.groupV.set(this.groupOpenV);
  }

  /** One of its groups by itself, in its present state. */
  only(g: number): PackState {
    const [from, to] = [this.starts[g] as number, this.starts[g + 1] as number];
    const own = new PackState([
      this.cells.slice(from, to).map((cell, k) => ({ ...cell, soc: this.soc[from + k] as number })),
    ]);
    for (let k = 0; k < to - from; k += 1)
      for (let b = 0; b < own.branches; b += 1)
        own.branchV[k * own.branches + b] = this.branchV[(from + k) * this.branches + b] as number;
    own.groupV[0] = this.groupV[g] as number;
    return own;
  }

  capacityAhOf(i: number): number {
    return (this.cells[i] as RunCell).capacityAh;
  }

  /** What the whole comes to at the end of a step: its voltage without a current, and what each ampere takes of it. */
  lookAhead(stepS: number): { openV: number; ohm: number } {
    if (stepS !== this.keptS) this.stepBy(stepS);
    // Taken out of the object once: this is walked for every cell of every step.
    const { starts, tables, soc, ohmic, perAs, branches, keeps, branchV, stepOhm, stepSiemens, openV: openVs } = this;
    const [rows, beyond] = [tableSteps, tableBeyond];
    let [openV, ohm] = [0, 0];
    for (let g = 0; g < this.groupV.length; g += 1) {
      let [conducted, siemens] = [0, 0];
      for (let i = starts[g] as number; i < (starts[g + 1] as number); i += 1) {
        const table = tables[i] as Float64Array;
        const full = soc[i] as number;
        const at = (full < -beyond ? 0 : full + beyond) * rows;
        const k = at >= table.length - 1 ? table.length - 2 : at | 0;
        const rise = (table[k + 1] as number) - (table[k] as number);
        let cellV = (table[k] as number) + (at - k) * rise;
        // What its charge falls within the step counts as well, so that no step goes beyond.
        let cellOhm = (ohmic[i] as number) + rise * rows * (perAs[i] as number) * stepS;
        for (let b = i * branches; b < (i + 1) * branches; b += 1) {
          const kept = keeps[b] as number;
          cellV -= (branchV[b] as number) * kept;
          cellOhm += stepOhm[b] as number;
        }
        const conducts = 1 / cellOhm;
        openVs[i] = cellV;
        stepSiemens[i] = conducts;
        conducted += cellV * conducts;
        siemens += conducts;
      }
      this.groupOpenV[g] = conducted / siemens;
      this.groupOhm[g] = 1 / siemens;
      openV += conducted / siemens;
      ohm += 1 / siemens;
    }
    return { openV, ohm };
  }

  private stepBy(stepS: number): void {
    this.keptS = stepS;
    this.branchTau.forEach((tau, k) => {
      const kept = Math.exp(-stepS / tau);
      this.keeps[k] = kept;
      this.stepOhm[k] = (this.branchOhm[k] as number) * (1 - kept);
    });
  }

  /** Moves on by the step that was looked ahead to, under that current of the pack. */
  moveOn(packA: number): void {
    const {
      keptS: stepS,
      starts,
      soc,
      ohmic,
      perAs,
      branches,
      keeps,
      branchV,
      branchSiemens,
      stepOhm,
      stepSiemens,
      openV,
      currentA,
      heatJ,
      groupV,
      groupOpenV,
      groupOhm,
    } = this;
    for (let g = 0; g < groupV.length; g += 1) {
      const v = (groupOpenV[g] as number) - packA * (groupOhm[g] as number);
      groupV[g] = v;
      for (let i = starts[g] as number; i < (starts[g + 1] as number); i += 1) {
        const current = ((openV[i] as number) - v) * (stepSiemens[i] as number);
        currentA[i] = current;
        soc[i] = (soc[i] as number) - current * (perAs[i] as number) * stepS;
        let watts = current * current * (ohmic[i] as number);
        for (let b = i * branches; b < (i + 1) * branches; b += 1) {
          const across = (branchV[b] as number) * (keeps[b] as number) + current * (stepOhm[b] as number);
          watts += across * across * (branchSiemens[b] as number);
          branchV[b] = across;
        }
        heatJ[i] = (heatJ[i] as number) + watts * stepS;
      }
    }
  }
}
