import { ImpossibleInput } from '../impossibleInput';

/** A measured or computed value with its standard uncertainty (k = 1), both in the same SI unit. */
export interface Quantity {
  value: number;
  u: number;
}

/** One input's share of a result's uncertainty: |∂f/∂x| · u(x), in the unit of the result. */
export interface Contribution<K extends string = string> {
  input: K;
  u: number;
}

export interface Propagated<K extends string = string> extends Quantity {
  /** Largest first. */
  budget: Contribution<K>[];
}

/** A value taken as free of uncertainty. */
export const exact = (value: number): Quantity => ({ value, u: 0 });

/**
 * Standard uncertainty of a figure known only to its last step: a rectangular distribution
 * of full width `step`. Source: JCGM 100:2008 (GUM), 4.3.7.
 */
export const rectangular = (step: number): number => Math.abs(step) / Math.sqrt(12);

/** Reading with a display step: value and the rectangular uncertainty of that step. */
export const read = (value: number, step: number): Quantity => ({ value, u: rectangular(step) });

/** Square root of the sum of squares. */
export const quadrature = (...parts: number[]): number => Math.hypot(...parts);

/**
 * Law of propagation of uncertainty for any number of inputs, with correlations if given.
 * Each sensitivity is taken as half the difference of the model at x ± u.
 * Source: JCGM 100:2008 (GUM), 5.1.2, 5.2.2 and the numerical form of 5.1.3 note 2.
 *
 * @param model the measurement function, on plain values
 * @param inputs every input with its standard uncertainty
 * @param correlation r(a, b) between two inputs' estimates; 0 where not given
 * @throws ImpossibleInput when the model gives no finite number there
 */
export function propagate<K extends string>(
  model: (x: Record<K, number>) => number,
  inputs: Record<K, Quantity>,
  correlation?: (a: K, b: K) => number,
): Propagated<K> {
  const names = Object.keys(inputs) as K[];
  // One record is moved up and down input by input: this runs for every cell of a shelf.
  const x = Object.fromEntries(names.map((name) => [name, inputs[name].value])) as Record<K, number>;
  const value = model(x);

  const fractions = names.map((name) => {
    const { value: centre, u } = inputs[name];
    if (u === 0) return 0;
    x[name] = centre + u;
    const above = model(x);
    x[name] = centre - u;
    const below = model(x);
    x[name] = centre;
    return (above - below) / 2;
  });

  let variance = 0;
  names.forEach((a, i) => {
    variance += (fractions[i] as number) ** 2;
    if (correlation)
      names.forEach(
        (b, j) => (variance += i === j ? 0 : correlation(a, b) * (fractions[i] as number) * (fractions[j] as number)),
      );
  });

  // Full negative correlation may leave a rounding error below zero.
  const u = Math.sqrt(Math.max(0, variance));
  if (!Number.isFinite(value) || !Number.isFinite(u)) {
    throw new ImpossibleInput(names.join(', '), { code: 'no-finite-result' });
  }
  const budget = names
    .map((input, i) => ({ input, u: Math.abs(fractions[i] ?? 0) }))
    .filter((fraction) => fraction.u > 0)
    .sort((a, b) => b.u - a.u);
  return { value, u, budget };
}
