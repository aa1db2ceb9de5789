import type { JudgedCell } from '@/core/judging/judgeCell';
import { groupFigures } from '@/core/matching/groupFigures';
import type { BuildWithCells } from '@/records/builds';
import type { Group } from './GroupTable';

/** The groups of a build from the negative end, with what its cells come to today. */
export function groupsOfBuild(build: BuildWithCells, cells: readonly JudgedCell[]): Group[] {
  const byId = new Map(cells.map((cell) => [cell.id, cell]));
  return Array.from({ length: build.series }, (_, i) => {
    const members = build.cells
      .filter(({ position }) => position === i + 1)
      .flatMap(({ cellId }) => byId.get(cellId) ?? []);
    return { codes: members.map((cell) => cell.code), ...groupFigures(members) };
  });
}
