import type { Quantity } from '../quantity/quantity';

/** What is known of a cell in a group; null for what is not. */
export interface MeasuredCell {
  capacity: Quantity | null;
  resistance: Quantity | null;
}

/** What is known of a group or a pack. A figure that one of its cells lacks is not known; it is not 0. */
export interface GroupFigures {
  capacity: Quantity | null;
  /** Of all its cells in parallel. */
  resistance: Quantity | null;
}

/** All of them, or null where one is not known. */
const allKnown = (figures: (Quantity | null)[]): Quantity[] | null =>
  figures.every((figure) => figure !== null) ? figures : null;

/** All of them together, as of cells in parallel their capacities, of groups in series their resistances. */
export const sumOf = (figures: readonly Quantity[]): Quantity => ({
  value: figures.reduce((sum, { value }) => sum + value, 0),
  u: figures.reduce((sum, { u }) => sum + u, 0),
});

/** Of resistances side by side. Source: Ohm's law. */
export function inParallel(resistances: readonly Quantity[]): Quantity {
  const ohm = 1 / resistances.reduce((sum, { value }) => sum + 1 / value, 0);
  return { value: ohm, u: resistances.reduce((sum, { value, u }) => sum + u * (ohm / value) ** 2, 0) };
}

/**
 * Capacity and resistance of cells in parallel. Cells of one pack are mostly measured with the same tools, so that
 * their errors lean the same way: uncertainties are added, not their squares. Of no cells nothing is known.
 * Source: JCGM 100:2008 (GUM), 5.2.2 note 1.
 */
export function groupFigures(cells: readonly MeasuredCell[]): GroupFigures {
  if (cells.length === 0) return { capacity: null, resistance: null };
  const capacities = allKnown(cells.map(({ capacity }) => capacity));
  const resistances = allKnown(cells.map(({ resistance }) => resistance));
  return { capacity: capacities && sumOf(capacities), resistance: resistances && inParallel(resistances) };
}

/** What groups in series come to: the weakest decides the capacity, resistances add. */
export function packFigures(groups: readonly GroupFigures[]): GroupFigures {
  const capacities = allKnown(groups.map(({ capacity }) => capacity));
  const resistances = allKnown(groups.map(({ resistance }) => resistance));
  return {
    capacity: capacities?.reduce((least, one) => (one.value < least.value ? one : least)) ?? null,
    resistance: resistances && sumOf(resistances),
  };
}
