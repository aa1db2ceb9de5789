import type { OpenCircuitCurve } from '../chemistry/openCircuit';
import { ImpossibleInput, positive } from '../impossibleInput';
import { type Contribution, exact, propagate, quadrature, type Quantity } from '../quantity/quantity';
import type { Warning } from '../warning';

export interface PartialCharge {
  /** Its own curve, or that of its chemistry. */
  curve: OpenCircuitCurve;
  /** Rested voltage of each cell or group before the charge, V. */
  startVoltagesV: number[];
  chargeAh: number;
  /** Rested voltage at the end; full where not given. */
  endVoltageV?: number;
  /** Limit of what the charger says it put in, a share; 0.02 where nothing is known. */
  chargeAccuracyShare?: number;
  /** Standard uncertainty of a voltage reading, V. */
  voltageUncertaintyV?: number;
  /** Whether the charger balanced the groups as it filled them; left out where not known. */
  balanced?: boolean;
}

export interface PartialCapacity {
  /** Mean over the cells. */
  startSoc: Quantity;
  capacityAh: Quantity;
  perCell: { startSoc: Quantity; capacityAh: Quantity }[];
  /** Where the uncertainty of the capacity comes from, largest first, Ah. */
  budget: Contribution<PartialInput>[];
  warnings: Warning[];
}

export type PartialInput = 'charge put in' | 'start voltage' | 'curve' | 'end';

/** Below this slope, V per whole charge, 10 mV of uncertainty cost 4 % of charge. */
const flatSlope = 0.25;
const reserveSoc = 0.2;
/** Start and end nearer than this give no capacity. */
const leastApart = 0.05;
/** For a healthy lithium cell what went in is within a per cent or two of what comes out. */
const assumedChargeFraction = 0.02;
const apartV = 0.02;

/**
 * Capacity from a part of the charge: charge put in / (state of charge at the end − at the start), each cell by its own
 * voltage. The table's uncertainty is left out where the caller gives no voltage uncertainty of its own: it is in every
 * state of charge already. Where groups in series lie apart, the group that ended the charge decides: with balancing
 * the one with the least capacity so measured. Without, the fullest ended it, unless the lowest is weak rather than
 * low: between these two the capacity stays open. Source: common practice.
 *
 * @throws ImpossibleInput when nothing was charged, no voltage is given, or start and end do not differ
 */
export function partialCapacity({
  curve,
  startVoltagesV,
  chargeAh,
  endVoltageV,
  chargeAccuracyShare,
  voltageUncertaintyV = 0.005,
  balanced,
}: PartialCharge): PartialCapacity {
  positive('chargeAh', chargeAh);
  if (startVoltagesV.length === 0) throw new ImpossibleInput('startVoltagesV', { code: 'no-start-voltage' });
  const endSoc = endVoltageV === undefined ? exact(1) : curve.socAt({ value: endVoltageV, u: voltageUncertaintyV });
  const charge = { value: chargeAh, u: (chargeAh * (chargeAccuracyShare ?? assumedChargeFraction)) / Math.sqrt(3) };

  const capacityFrom = (start: Quantity): Quantity => {
    if (endSoc.value - start.value < leastApart) {
      throw new ImpossibleInput('startVoltagesV', { code: 'start-near-end', least: leastApart });
    }
    const { value, u } = propagate(({ put, start: from, end }) => put / Math.max(leastApart, end - from), {
      put: charge,
      start,
      end: endSoc,
    });
    return { value, u };
  };

  const perCell = startVoltagesV.map((value) => {
    const startSoc = curve.socAt({ value, u: voltageUncertaintyV });
    return { startSoc, capacityAh: capacityFrom(startSoc) };
  });
  // The curve's uncertainty is common to all cells, so the mean is no surer than one of them.
  const mean = (pick: (cell: (typeof perCell)[number]) => number) =>
    perCell.reduce((sum, cell) => sum + pick(cell), 0) / perCell.length;
  const startSoc = { value: mean((cell) => cell.startSoc.value), u: mean((cell) => cell.startSoc.u) };
  const isApart = Math.max(...startVoltagesV) - Math.min(...startVoltagesV) > apartV;
  const decides = isApart ? decidingOf(perCell, balanced === true) : { startSoc, capacityAh: capacityFrom(startSoc) };

  return {
    startSoc,
    capacityAh: decides.capacityAh,
    perCell,
    budget: budgetOf(
      decides.capacityAh,
      decides.startSoc,
      endSoc,
      charge,
      voltageUncertaintyV / curve.uAt(startSoc.value),
    ),
    warnings: [
      ...warningsOf(startVoltagesV, startSoc.value, curve.slopeAt(startSoc.value)),
      ...(chargeAccuracyShare === undefined ? [chargeAssumed] : []),
    ],
  };
}

type Filled = PartialCapacity['perCell'][number];

/** The group that decides; where the charger did not balance, either that of the least or that of the most. */
function decidingOf(groups: readonly Filled[], balanced: boolean): Filled {
  const ascending = groups.toSorted((one, other) => one.capacityAh.value - other.capacityAh.value);
  const [least, most] = [ascending[0] as Filled, ascending.at(-1) as Filled];
  if (balanced) return least;
  const rangeAh = most.capacityAh.value - least.capacityAh.value;
  return {
    startSoc: least.startSoc,
    capacityAh: {
      value: least.capacityAh.value + rangeAh / 2,
      u: quadrature(Math.max(least.capacityAh.u, most.capacityAh.u), rangeAh / 2),
    },
  };
}

/** @param readingToCurve how much larger the uncertainty of the reading is than that of the curve */
function budgetOf(
  capacity: Quantity,
  start: Quantity,
  end: Quantity,
  charge: Quantity,
  readingToCurve: number,
): Contribution<PartialInput>[] {
  const span = Math.max(leastApart, end.value - start.value);
  const ofStart = (capacity.value * start.u) / span;
  const curve = ofStart / Math.hypot(1, readingToCurve);
  const fractions: Record<PartialInput, number> = {
    'charge put in': charge.u / span,
    'start voltage': curve * readingToCurve,
    curve,
    end: (capacity.value * end.u) / span,
  };
  return (Object.entries(fractions) as [PartialInput, number][])
    .filter(([, u]) => u > 0)
    .map(([input, u]) => ({ input, u }))
    .sort((one, other) => other.u - one.u);
}

const chargeAssumed: Warning = { code: 'charge-accuracy-assumed', share: assumedChargeFraction };

function warningsOf(startVoltagesV: number[], soc: number, slope: number): Warning[] {
  const warnings: Warning[] = [];
  if (slope < flatSlope && soc > reserveSoc + 0.01) warnings.push({ code: 'charge-flat', soc });
  if (soc < reserveSoc - 0.01) warnings.push({ code: 'start-below-reserve', soc });
  const spreadV = Math.max(...startVoltagesV) - Math.min(...startVoltagesV);
  if (spreadV > apartV) warnings.push({ code: 'voltages-apart', apartV: spreadV });
  return warnings;
}
