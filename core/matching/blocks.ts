import { ImpossibleInput } from '../impossibleInput';

export interface MatchCell {
  id: string;
  capacityAh: number;
  resistanceOhm: number;
  voltageV?: number | undefined;
  /** Cells with the same bond stay in one group. */
  bond?: string | undefined;
}

/** Cells that move together: a single cell or a bonded set. */
export interface Block {
  cells: readonly MatchCell[];
  size: number;
  capacityAh: number;
}

const capacityOf = (cells: readonly MatchCell[]): number => cells.reduce((sum, cell) => sum + cell.capacityAh, 0);

/**
 * Capacity per cell, strongest first; equal ones in the order of their codes, so that a match is the same every time.
 */
export const strongestFirst = (a: Block, b: Block): number =>
  b.capacityAh / b.size - a.capacityAh / a.size ||
  (a.cells[0] as MatchCell).id.localeCompare((b.cells[0] as MatchCell).id);

/**
 * Gathers bonded cells into blocks, strongest first.
 *
 * @throws ImpossibleInput for too few cells, a cell given twice, a capacity or resistance that is not positive, or a
 * bond with more cells than a group holds
 */
export function blocksOf(cells: readonly MatchCell[], series: number, parallel: number): Block[] {
  if (!Number.isInteger(series) || series < 1)
    throw new ImpossibleInput('series', { code: 'not-a-count', what: 'series' });
  if (!Number.isInteger(parallel) || parallel < 1)
    throw new ImpossibleInput('parallel', { code: 'not-a-count', what: 'parallel' });
  if (cells.length < series * parallel) {
    throw new ImpossibleInput('cells', { code: 'too-few-cells', series, parallel, given: cells.length });
  }
  const seen = new Set<string>();
  const bonds = new Map<string, MatchCell[]>();
  const blocks: Block[] = [];
  for (const cell of cells) {
    if (seen.has(cell.id)) throw new ImpossibleInput('cells', { code: 'cell-twice', cell: cell.id });
    seen.add(cell.id);
    if (!(cell.capacityAh > 0) || !(cell.resistanceOhm > 0))
      throw new ImpossibleInput('cells', { code: 'cell-without-figures', cell: cell.id });
    if (cell.bond === undefined) blocks.push({ cells: [cell], size: 1, capacityAh: cell.capacityAh });
    else bonds.set(cell.bond, [...(bonds.get(cell.bond) ?? []), cell]);
  }
  for (const [bond, members] of bonds) {
    if (members.length > parallel) {
      throw new ImpossibleInput('cells', { code: 'bond-too-large', bond, cells: members.length, parallel });
    }
    blocks.push({ cells: members, size: members.length, capacityAh: capacityOf(members) });
  }
  return blocks.sort(strongestFirst);
}
