import type { Chemistry } from '../chemistry/chemistries';
import { chemistries } from '../chemistry/chemistries';
import type { Cycle } from './segments';

/** What a charge and the discharge behind it say of a cell. */
export interface ChargeEfficiency {
  chargedAh: number;
  dischargedAh: number;
  /** Charge given / charge put in. */
  share: number;
  says:
    /** As healthy lithium does. */
    | 'agrees'
    /** It gave less than healthy lithium loses: resistance, a leak, a dying cell. */
    | 'lost'
    /** It gave more than went in: it was not empty as the charge began. */
    | 'not-empty'
    /** Nickel and lead take more than they give: nothing follows. */
    | 'no-measure';
}

/** Healthy lithium gives back all but a per cent or two; logged by one tool, the rest is known better than that. */
const lostBeyond = 0.96;
const moreThanIn = 1.02;

/**
 * Holds the first charge of a log against the discharge behind it; null without such a pair. Source: common practice.
 */
export function chargeEfficiency(cycles: readonly Cycle[], chemistry: Chemistry): ChargeEfficiency | null {
  const pair = cycles.find(({ chargedAh, dischargedAh }) => (chargedAh ?? 0) > 0 && (dischargedAh ?? 0) > 0);
  if (!pair?.chargedAh || !pair.dischargedAh) return null;
  const { chargedAh, dischargedAh } = pair;
  const fraction = dischargedAh / chargedAh;
  return { chargedAh, dischargedAh, share: fraction, says: saysOf(fraction, chemistry) };
}

function saysOf(fraction: number, chemistry: Chemistry): ChargeEfficiency['says'] {
  if (chemistries[chemistry].family !== 'lithium') return 'no-measure';
  if (fraction > moreThanIn) return 'not-empty';
  return fraction < lostBeyond ? 'lost' : 'agrees';
}
