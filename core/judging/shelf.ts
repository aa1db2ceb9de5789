import type { JudgedCell } from './judgeCell';

/** Judged cells in the order of their codes. */
export interface CellShelf {
  cells: JudgedCell[];
  /** Where in `cells` a cell stands, by its code. */
  places: ReadonlyMap<string, number>;
}

export const inOrder = (cells: JudgedCell[]): CellShelf => ({
  cells,
  places: new Map(cells.map((cell, place) => [cell.code, place])),
});

/** The cell of that code; null where there is none. */
export const cellOfCode = ({ cells, places }: CellShelf, code: string): JudgedCell | null =>
  cells[places.get(code) ?? -1] ?? null;

/** The same cells with those judged anew in their places, and new ones where their codes belong. */
export function withChanged({ cells, places }: CellShelf, anew: readonly JudgedCell[]): CellShelf {
  if (anew.length === 0) return { cells, places };
  const last = cells.at(-1);
  if (anew.every((cell, i) => cell.code > ((i > 0 ? anew[i - 1] : last)?.code ?? ''))) {
    const longer = new Map(places);
    anew.forEach((cell, i) => longer.set(cell.code, cells.length + i));
    return { cells: [...cells, ...anew], places: longer };
  }
  if (anew.some((cell) => !places.has(cell.code))) {
    const codes = new Set(anew.map((cell) => cell.code));
    return inOrder(
      [...cells.filter((cell) => !codes.has(cell.code)), ...anew].sort((a, b) => (a.code < b.code ? -1 : 1)),
    );
  }
  const all = cells.slice();
  for (const cell of anew) all[places.get(cell.code) as number] = cell;
  return { cells: all, places };
}

const batches = new WeakMap<readonly JudgedCell[], Map<string, JudgedCell[]>>();

/** The cells of each batch in their order; gone through once for each state of the shelf. */
export function cellsByBatch({ cells }: Pick<CellShelf, 'cells'>): Map<string, JudgedCell[]> {
  const before = batches.get(cells);
  if (before) return before;
  const byBatch = new Map<string, JudgedCell[]>();
  for (const cell of cells) {
    const own = byBatch.get(cell.batchCode);
    if (own) own.push(cell);
    else byBatch.set(cell.batchCode, [cell]);
  }
  batches.set(cells, byBatch);
  return byBatch;
}

export const cellsOfBatch = (shelf: Pick<CellShelf, 'cells'>, batchCode: string): JudgedCell[] =>
  cellsByBatch(shelf).get(batchCode) ?? [];
