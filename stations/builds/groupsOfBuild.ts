import type { JudgedCell } from '@/core/judging/judgeCell';
import { groupFigures } from '@/core/matching/groupFigures';
import type { BuildWithCells } from '@/records/builds';
import type { Group } from './GroupTable';

/** The cells of a build as they are judged today, by group from the negative end; none of what was not built here. */
export function cellsByGroup(
  build: Pick<BuildWithCells, 'cells'> | null,
  series: number,
  cells: readonly JudgedCell[],
): JudgedCell[][] {
  const byId = new Map(cells.map((cell) => [cell.id, cell]));
  return Array.from({ length: series }, (_, g) =>
    (build?.cells ?? []).flatMap(({ cellId, position }) => (position === g + 1 ? (byId.get(cellId) ?? []) : [])),
  );
}

/** The groups of a build from the negative end, with what its cells come to today. */
export const groupsOfBuild = (build: BuildWithCells, cells: readonly JudgedCell[]): Group[] =>
  cellsByGroup(build, build.series, cells).map((members) => ({
    codes: members.map((cell) => cell.code),
    ...groupFigures(members),
  }));
