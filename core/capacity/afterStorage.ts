import type { Chemistry } from '../chemistry/chemistries';
import { chemistries } from '../chemistry/chemistries';

/** After this time in storage a nickel cell has lost noticeable charge. */
const storedMs = 30 * 86_400_000;

/**
 * Whether a discharge is the first after storage: with nickel it shows storage, not health; two or three cycles
 * settle it. Source: common practice.
 *
 * @param before when the other discharges of it ended
 */
export const isFirstAfterStorage = (at: Date, before: readonly Date[], chemistry: Chemistry): boolean =>
  chemistries[chemistry].family === 'nickel' &&
  !before.some((other) => other < at && at.getTime() - other.getTime() < storedMs);
