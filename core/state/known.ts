import type { Quantity } from '../quantity/quantity';

/**
 * Where a figure comes from: an instrument here, a device that shows it as its own result, other readings, a label, or
 * what is usual for its size.
 */
export type KnownSource = 'measured' | 'reported' | 'estimated' | 'rated' | 'usual';

/** A quantity with its standard uncertainty and its source. */
export interface Known extends Quantity {
  source: KnownSource;
  /** When it was measured; null where it never was. */
  at: Date | null;
}

export const known = ({ value, u }: Quantity, source: KnownSource, at: Date | null = null): Known => ({
  value,
  u,
  source,
  at,
});

/** The same quantity, known less well because it was inferred. */
export const estimated = (quantity: Quantity, at: Date | null): Known => known(quantity, 'estimated', at);
