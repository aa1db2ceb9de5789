import { givenOrUsual, type PlainCurve, type Rechargeable } from '../chemistry/openCircuit';
import type { Warning } from '../warning';
import type { RelaxationBranch } from './cell';
import { groupOf } from './packCharge';
import { type Load, type PackRun, packRun } from './packRun';

/** A cell by its ten-second resistance, or by its ohmic part and branches. */
export type PlainCell = { capacityAh: number; soc: number } & (
  { resistanceOhm: number } | { ohmicOhm: number; branches: readonly RelaxationBranch[] }
);

/** A pack and its load as plain values, which any thread can be given. */
export interface PlainRun {
  chemistry: Rechargeable;
  /** The cells' own open-circuit curve; null: that of the chemistry. */
  curve: PlainCurve | null;
  groups: readonly (readonly PlainCell[])[];
  load: Load;
  cutoffPerGroupV: number;
  stepS?: number | undefined;
}

/**
 * Follows that pack under its load. A ten-second resistance is split as `groupOf` does.
 *
 * @throws ImpossibleInput as `packRun` does
 */
export function runPlain(
  { chemistry, curve: points, groups, ...request }: PlainRun,
  onProgress?: (fraction: number) => void,
) {
  const curve = givenOrUsual(points, chemistry);
  return packRun({
    ...request,
    groups: groups.map((group) =>
      group.map((cell) => {
        const { capacityAh, soc } = cell;
        return 'resistanceOhm' in cell
          ? groupOf({ curve, capacityAh, soc }, cell.resistanceOhm)
          : { curve, capacityAh, soc, ohmicOhm: cell.ohmicOhm, branches: cell.branches };
      }),
    ),
    onProgress,
  });
}

/** Cells of a group carry shares that differ by more than this many times: the first ages for all. */
const unevenTimes = 1.5;
/** A cell that would grow warmer by more if nothing carried its heat away is named, K. */
const warmK = 20;
/** An end within this time counts as an end when the load comes on, s. */
const atOnceS = 1;

/** What is to be said of a run. */
export function runWarnings({ ends, runTimeS, limitingGroup, currentShare, hottest }: PackRun): Warning[] {
  const warnings: Warning[] = [];
  if (ends === 'cutoff' && runTimeS < atOnceS) warnings.push({ code: 'cutoff-at-once', group: limitingGroup });
  if (ends === 'not-carried') warnings.push({ code: 'load-not-carried', afterS: runTimeS });
  if (ends === 'profile-over') warnings.push({ code: 'profile-over' });
  currentShare.start.forEach((fractions, g) => {
    const times = Math.max(...fractions) / Math.min(...fractions);
    if (fractions.length > 1 && times > unevenTimes) warnings.push({ code: 'carries-unevenly', group: g + 1, times });
  });
  if (hottest.riseAtMostK > warmK)
    warnings.push({ code: 'cell-warms', group: hottest.group, cell: hottest.cell, riseK: hottest.riseAtMostK });
  return warnings;
}
