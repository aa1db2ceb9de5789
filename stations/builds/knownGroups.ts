import type { JudgedCell } from '@/core/judging/judgeCell';
import { isMendedBetween, type JudgedPack } from '@/core/judging/judgePack';
import { groupFigures } from '@/core/matching/groupFigures';
import { quadrature, type Quantity } from '@/core/quantity/quantity';
import { median } from 'simple-statistics';

/** What is known of one group of a pack. */
export interface KnownGroup {
  capacity: Quantity | null;
  /** As the groups were read last, whatever the method. */
  resistance: Quantity | null;
  voltageV: number | null;
}

/**
 * The groups of a pack from the negative terminal. What a group holds is what its discharge gave and the group had left
 * then; where none was logged by group, what its cells were measured to hold before they were built in.
 */
export function knownGroups(
  pack: Pick<JudgedPack, 'series' | 'amongGroups' | 'rested' | 'run' | 'mends'>,
  cellsOf: readonly (readonly JudgedCell[])[],
): KnownGroup[] {
  const { run, amongGroups, rested, mends } = pack;
  const capacityOf = (g: number): Quantity | null => {
    const left = run?.groups?.[g]?.leftAh ?? null;
    if (run && left && !isMendedBetween(mends, g + 1, run.endedAt))
      return { value: run.capacityAh + left.value, u: quadrature(run.capacityU, left.u) };
    const cells = cellsOf[g] ?? [];
    return cells.length > 0 ? groupFigures(cells).capacity : null;
  };
  return Array.from({ length: pack.series }, (_, g) => ({
    capacity: capacityOf(g),
    resistance: amongGroups?.groups.find(({ position }) => position === g + 1)?.resistance ?? null,
    voltageV: rested?.groupVoltagesV[g] ?? null,
  }));
}

/**
 * What a median cell of the pack resists after ten seconds, Ω: of its cells where it was built here, but for the
 * groups that are mended; else of its weakest group, by the ratio of the median to it. Null where neither is known.
 */
export function neighbourOf(
  pack: Pick<JudgedPack, 'parallel' | 'weakest' | 'amongGroups'>,
  cellsOf: readonly (readonly JudgedCell[])[],
  positions: readonly number[],
): number | null {
  const beside = cellsOf
    .flatMap((cells, g) => (positions.includes(g + 1) ? [] : cells))
    .flatMap(({ resistance }) => resistance?.value ?? []);
  if (beside.length > 0) return median(beside);
  const { weakest, amongGroups } = pack;
  const read = amongGroups?.groups.find((group) => group.position === weakest?.position)?.resistance.value;
  if (!weakest || !amongGroups || amongGroups.medianOhm === null || read === undefined) return null;
  return weakest.resistance.value * (amongGroups.medianOhm / read) * pack.parallel;
}
