import { groupedBy } from '../grouped';
import { ImpossibleInput } from '../impossibleInput';

export interface MatchCell {
  id: string;
  capacityAh: number;
  resistanceOhm: number;
  voltageV?: number | undefined;
  /** Cells with the same bond stay in one group. */
  bond?: string | undefined;
  /** What it is; where a number of models is allowed, those of a group are of one. */
  model?: string | undefined;
  /** Of its capacity, Ah; groups are not matched beyond what is known of them. */
  capacityU?: number | undefined;
}

/** A cell that must be in the pack, in the group of this number from 1 where one is given. */
export interface Pin {
  cell: string;
  group?: number | undefined;
}

/** Cells that move together: a single cell or a bonded set. */
export interface Block {
  cells: readonly MatchCell[];
  size: number;
  capacityAh: number;
  /** The number of the group, from 0, that it was pinned to. */
  group?: number;
  /** It was pinned, and is not left over. */
  isPinned?: boolean;
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
 * @throws ImpossibleInput for too few cells, a cell given twice, a capacity or resistance that is not positive, a bond
 * with more cells than a group holds, and pins that contradict each other or the pack
 */
export function blocksOf(
  cells: readonly MatchCell[],
  series: number,
  parallel: number,
  pins: readonly Pin[] = [],
): Block[] {
  if (!Number.isInteger(series) || series < 1)
    throw new ImpossibleInput('series', { code: 'not-a-count', what: 'series' });
  if (!Number.isInteger(parallel) || parallel < 1)
    throw new ImpossibleInput('parallel', { code: 'not-a-count', what: 'parallel' });
  if (cells.length < series * parallel) {
    throw new ImpossibleInput('cells', { code: 'too-few-cells', series, parallel, given: cells.length });
  }
  const seen = new Set<string>();
  for (const cell of cells) {
    if (seen.has(cell.id)) throw new ImpossibleInput('cells', { code: 'cell-twice', cell: cell.id });
    seen.add(cell.id);
    if (!(cell.capacityAh > 0) || !(cell.resistanceOhm > 0))
      throw new ImpossibleInput('cells', { code: 'cell-without-figures', cell: cell.id });
  }
  const blocks: Block[] = [];
  for (const [bond, members] of groupedBy(cells, ({ id, bond }) => bond ?? `\0${id}`)) {
    if (members.length > parallel)
      throw new ImpossibleInput('cells', { code: 'bond-too-large', bond, cells: members.length, parallel });
    blocks.push({ cells: members, size: members.length, capacityAh: capacityOf(members) });
  }
  return pinned(blocks, series, parallel, pins).sort(strongestFirst);
}

/** The blocks with what the pins say of them. */
function pinned(blocks: Block[], series: number, parallel: number, pins: readonly Pin[]): Block[] {
  const blockOf = new Map(blocks.flatMap((block) => block.cells.map(({ id }) => [id, block] as const)));
  for (const { cell, group } of pins) {
    const block = blockOf.get(cell);
    if (!block) throw new ImpossibleInput('pins', { code: 'pin-not-there', cell });
    block.isPinned = true;
    if (group === undefined) continue;
    if (!Number.isInteger(group) || group < 1 || group > series)
      throw new ImpossibleInput('pins', { code: 'pin-beyond', cell, group, series });
    if (block.group !== undefined && block.group !== group - 1)
      throw new ImpossibleInput('pins', { code: 'pins-contradict', cell, groups: [block.group + 1, group] });
    block.group = group - 1;
  }
  const placesOf = (some: readonly Block[]): number => some.reduce((sum, { size }) => sum + size, 0);
  for (let g = 0; g < series; g++) {
    const held = placesOf(blocks.filter((block) => block.group === g));
    if (held > parallel) throw new ImpossibleInput('pins', { code: 'pins-too-many', cells: held, places: parallel });
  }
  const held = placesOf(blocks.filter(({ isPinned }) => isPinned));
  if (held > series * parallel)
    throw new ImpossibleInput('pins', { code: 'pins-too-many', cells: held, places: series * parallel });
  return blocks;
}
