import type { Quantity } from '../quantity/quantity';

/** What is known of a cell that stands in a group. */
export interface MeasuredCell {
  capacity: Quantity;
  resistance: Quantity;
}

export interface GroupFigures {
  capacity: Quantity;
  /** Of all its cells in parallel. */
  resistance: Quantity;
}

/**
 * Capacity and resistance of cells in parallel. Cells of one pack are mostly measured with the same tools, so that
 * their errors lean the same way: uncertainties are added, not their squares. Source: JCGM 100:2008 (GUM), 5.2.2 note
 * 1.
 */
export function groupFigures(cells: readonly MeasuredCell[]): GroupFigures {
  const ohm = 1 / cells.reduce((sum, { resistance }) => sum + 1 / resistance.value, 0);
  return {
    capacity: {
      value: cells.reduce((sum, { capacity }) => sum + capacity.value, 0),
      u: cells.reduce((sum, { capacity }) => sum + capacity.u, 0),
    },
    resistance: {
      value: ohm,
      u: cells.reduce((sum, { resistance }) => sum + resistance.u * (ohm / resistance.value) ** 2, 0),
    },
  };
}

/** What groups in series come to: the weakest decides the capacity, resistances add. */
export function packFigures(groups: readonly GroupFigures[]): GroupFigures {
  const weakest = groups.reduce<Quantity>((least, { capacity }) => (capacity.value < least.value ? capacity : least), {
    value: Infinity,
    u: 0,
  });
  return {
    capacity: weakest,
    resistance: {
      value: groups.reduce((sum, { resistance }) => sum + resistance.value, 0),
      u: groups.reduce((sum, { resistance }) => sum + resistance.u, 0),
    },
  };
}
