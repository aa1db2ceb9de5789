import type { SelfDischarge } from '../selfDischarge/selfDischarge';
import { type Quantity, quadrature } from '../quantity/quantity';
import { ImpossibleInput, positive } from '../impossibleInput';

/** The self-discharge current of a cell, from a test. */
export interface Leak {
  currentA: Quantity;
  /** The part of its standard uncertainty that is its own, A; the rest leans alike for cells of one curve. */
  ownU: number;
}

/** The self-discharge current from a cell's drift in a test. */
export const leakOf = ({ value, u, budget }: SelfDischarge): Leak => ({
  currentA: { value, u },
  ownU: budget.find(({ input }) => input === 'fell')?.u ?? u,
});

export interface DriftRequest {
  /** From the negative end: the capacity and self-discharge current of each cell; null without a test result. */
  groups: readonly (readonly { capacityAh: number; leak: Leak | null }[])[];
  cycles: number;
  daysPerCycle: number;
}

/** How far the groups of a pack drift apart, as far as they lose within. */
export interface CycleDrift {
  /** Of each group against the mean of all, of its own charge: negative where it falls behind. */
  byGroup: Quantity[];
  /** What balancing takes at each charge from the group that loses least, to keep it with the worst, Ah. */
  bledAh: Quantity;
}

/**
 * How far groups drift over this many cycles without balancing, and what balancing has to take at each charge: what
 * each loses within between charges, against the others. All groups are charged and discharged by one current, so that
 * nothing else drives them apart as long as they age alike. Null where a cell has no test result.
 * Source: I·t; uncertainty by JCGM 100:2008 (GUM) 5.2.2, the curve's part alike for all.
 *
 * @throws ImpossibleInput where a figure is not above zero, or a group has no cell
 */
export function cycleDrift({ groups, cycles, daysPerCycle }: DriftRequest): CycleDrift | null {
  positive('cycles', cycles);
  positive('daysPerCycle', daysPerCycle);
  if (groups.length === 0 || groups.some((cells) => cells.length === 0))
    throw new ImpossibleInput('groups', { code: 'group-without-cells' });
  const leaks = groups.map((cells) => cells.flatMap(({ leak }) => leak ?? []));
  if (leaks.some((own, g) => own.length < (groups[g]?.length ?? 0))) return null;

  const losses = leaks.map((own) => ({
    a: own.reduce((sum, { currentA }) => sum + currentA.value, 0),
    ownU: quadrature(...own.map(({ ownU }) => ownU)),
  }));
  const meanA = losses.reduce((sum, { a }) => sum + a, 0) / losses.length;
  const leanFraction = commonFraction(leaks.flat());
  const meanU = quadrature(...losses.map(({ ownU }) => ownU)) / losses.length;
  const hours = 24 * daysPerCycle;
  const most = losses.reduce((one, other) => (other.a > one.a ? other : one));
  const least = losses.reduce((one, other) => (other.a < one.a ? other : one));
  return {
    byGroup: losses.map(({ a, ownU }, g) => {
      const perA = (cycles * hours) / (groups[g] ?? []).reduce((sum, { capacityAh }) => sum + capacityAh, 0);
      const behindA = meanA - a;
      // Its own loss is a part of the mean.
      const apartU = Math.sqrt(Math.max(0, ownU ** 2 * (1 - 2 / losses.length) + meanU ** 2));
      return { value: perA * behindA, u: perA * quadrature(apartU, leanFraction * behindA) };
    }),
    bledAh: {
      value: hours * (most.a - least.a),
      u: hours * quadrature(most.ownU, least.ownU, leanFraction * (most.a - least.a)),
    },
  };
}

/** By which share the leaks of all are off alike: by the slope of their curve, the larger leaks weighing more. */
function commonFraction(leaks: readonly Leak[]): number {
  const all = leaks.reduce((sum, { currentA: { value } }) => sum + Math.abs(value), 0);
  const alike = leaks.reduce((sum, { currentA: { u }, ownU }) => sum + Math.sqrt(Math.max(0, u ** 2 - ownU ** 2)), 0);
  return all === 0 ? 0 : alike / all;
}
