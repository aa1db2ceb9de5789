import { median } from 'simple-statistics';
import { e24Near } from '../capacity/resistorPlan';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';

/** A cell that is to join others in one group. */
export interface JoinCell {
  id: string;
  /** At rest as it was read last; null where not read. */
  voltageV: number | null;
  capacityAh: number;
  resistanceOhm: number;
}

/** A cell too far from the others of its group, and what brings it to them. */
export interface ToBring {
  id: string;
  voltageV: number;
  /** Of the others, V. */
  towardsV: number;
  /** What would flow at first were it joined now, A. */
  surgeA: number;
  /** To charge into it, or to drain from it, Ah. */
  movedAh: number;
  /** It may be joined through this resistor for this time instead. */
  resistorOhm: number;
  resistorW: number;
  minutes: number;
}

export interface Joining {
  /** Between the highest and the lowest that was read, V. */
  apartV: number;
  toBring: ToBring[];
  unread: string[];
}

/** Through a resistor a cell is brought to the others at no more than this much of its capacity, C. Own rule. */
const gentleC = 0.1;

/**
 * What to see to before the cells of a group are joined: which cell is further from the median than half of what is
 * allowed between two, the current that would flow, and how it is brought to the others. Source: Ohm's law; the current
 * through a resistor falls with R·C, where the curve of the cells is straight between the two.
 */
export function joiningOf(cells: readonly JoinCell[], curve: OpenCircuitCurve, withinV: number): Joining {
  const read = cells.flatMap((cell) => (cell.voltageV === null ? [] : [{ ...cell, voltageV: cell.voltageV }]));
  const unread = cells.filter(({ voltageV }) => voltageV === null).map(({ id }) => id);
  if (read.length < 2) return { apartV: 0, toBring: [], unread };
  const voltages = read.map(({ voltageV }) => voltageV);
  const apartV = Math.max(...voltages) - Math.min(...voltages);
  if (apartV <= withinV + rounding) return { apartV, toBring: [], unread };
  const towardsV = median(voltages);
  const toBring = read
    .filter(({ voltageV }) => Math.abs(voltageV - towardsV) > withinV / 2 + rounding)
    .map((cell) =>
      broughtTo(
        cell,
        cells.filter((other) => other.id !== cell.id),
        towardsV,
        curve,
        withinV,
      ),
    );
  return { apartV, toBring, unread };
}

/** Readings of whole millivolts are compared, V. */
const rounding = 1e-9;

function broughtTo(
  cell: JoinCell & { voltageV: number },
  others: readonly JoinCell[],
  towardsV: number,
  curve: OpenCircuitCurve,
  withinV: number,
): ToBring {
  const { id, voltageV, capacityAh, resistanceOhm } = cell;
  const offV = Math.abs(voltageV - towardsV);
  const socAt = (value: number): number => curve.socAt({ value, u: 0 }).value;
  const socOff = Math.abs(socAt(voltageV) - socAt(towardsV));
  const ownOhm = resistanceOhm + 1 / others.reduce((sum, other) => sum + 1 / other.resistanceOhm, 0);
  const [, , resistorOhm] = e24Near(Math.max(offV / (gentleC * capacityAh), 0.1));
  const othersAh = others.reduce((sum, other) => sum + other.capacityAh, 0);
  // Two stores that even out behave as one of C₁·C₂/(C₁ + C₂), here in ampere seconds a volt.
  const storeAsPerV = (((capacityAh * othersAh) / (capacityAh + othersAh)) * 3600 * socOff) / offV;
  const seconds = (resistorOhm + ownOhm) * storeAsPerV * Math.log(Math.max(1, offV / (withinV / 2)));
  return {
    id,
    voltageV,
    towardsV,
    surgeA: offV / ownOhm,
    movedAh: socOff * capacityAh,
    resistorOhm,
    resistorW: offV ** 2 / resistorOhm,
    minutes: seconds / 60,
  };
}
