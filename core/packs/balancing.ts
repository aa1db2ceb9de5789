import { chemistries } from '../chemistry/chemistries';
import type { Rechargeable } from '../chemistry/openCircuit';

/** The thin leads of a balance connector carry no more, A. Common practice. */
export const mostThroughPlugA = 1;

/** A charger of which no more is known bleeds from a tenth of a volt below full, and lets cells touch 4.21 V. */
export const usualBalancing = (chemistry: Rechargeable) => ({
  bleedFromV: chemistries[chemistry].fullV - 0.1,
  overshootV: 0.01,
});
