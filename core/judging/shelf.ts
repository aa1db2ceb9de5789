import { groupedBy } from '@/core/grouped';
import type { JudgedCell } from './judgeCell';
import { isPack, type JudgedSubject } from './subject';

/** Judged cells in the order of their codes. */
export interface CellShelf {
  cells: readonly JudgedCell[];
}

const byCode = (one: JudgedCell, other: JudgedCell): number => (one.code < other.code ? -1 : 1);

/** The place of the cell of that code, or where it would go. */
function placeOf(cells: readonly JudgedCell[], code: string): number {
  let [from, to] = [0, cells.length];
  while (from < to) {
    const mid = (from + to) >> 1;
    if ((cells[mid]?.code ?? '') < code) from = mid + 1;
    else to = mid;
  }
  return from;
}

/** The cell of that code; null where there is none. */
export function cellOfCode({ cells }: CellShelf, code: string): JudgedCell | null {
  const cell = cells[placeOf(cells, code)];
  return cell?.code === code ? cell : null;
}

/** The numbers of a cell and those welded to it, which are used as one; of a pack its own. */
export const idsTogether = (subject: JudgedSubject, shelf: CellShelf): number[] => [
  subject.id,
  ...(isPack(subject) ? [] : subject.weldedTo.flatMap((code) => cellOfCode(shelf, code)?.id ?? [])),
];

/** The same cells with those judged again in their places, and new ones where their codes belong. */
export function withChanged({ cells }: CellShelf, changed: readonly JudgedCell[]): CellShelf {
  if (changed.length === 0) return { cells };
  const all = cells.slice();
  const added: JudgedCell[] = [];
  for (const cell of changed) {
    const place = placeOf(cells, cell.code);
    if (cells[place]?.code === cell.code) all[place] = cell;
    else added.push(cell);
  }
  added.sort(byCode);
  all.push(...added);
  const [first, last] = [added[0], cells.at(-1)];
  if (first && last && first.code < last.code) all.sort(byCode);
  return { cells: all };
}

const batches = new WeakMap<readonly JudgedCell[], Map<string, JudgedCell[]>>();

/** The cells of each batch in their order; gone through once for each state of the shelf. */
export function cellsByBatch({ cells }: CellShelf): Map<string, JudgedCell[]> {
  const before = batches.get(cells);
  if (before) return before;
  const byBatch: Map<string, JudgedCell[]> = groupedBy(cells, ({ batchCode }) => batchCode);
  batches.set(cells, byBatch);
  return byBatch;
}

export const cellsOfBatch = (shelf: CellShelf, batchCode: string): JudgedCell[] =>
  cellsByBatch(shelf).get(batchCode) ?? [];
