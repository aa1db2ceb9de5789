import type { MeasuredQuantity } from '../instruments/instrument';

/** What a method sees of a cell: the time after the load came on that its value is for. */
export type SeenAfter = '1 kHz' | '1 s' | '10 s' | 'its own';

export interface Method {
  name: string;
  /** In one line, what one does. */
  does: string;
  seenAfter: SeenAfter;
  /** What its instrument must measure. */
  needs: MeasuredQuantity;
  /** What is typed for one cell, as an example and in words. */
  example: string;
  typed: string;
}

export const methods = {
  'ac-meter': {
    name: 'AC meter, 1 kHz',
    does: 'A meter with its own 1 kHz current shows the resistance.',
    seenAfter: '1 kHz',
    needs: 'resistance',
    example: '21.4',
    typed: 'resistance in mΩ, and perhaps the volts it shows',
  },
  resistor: {
    name: 'Resistor load',
    does: 'Voltage open, then under a known resistor.',
    seenAfter: '10 s',
    needs: 'voltage',
    example: '4.03 3.91',
    typed: 'open, loaded, and perhaps the recovery voltage',
  },
  ammeter: {
    name: 'Load with ammeter',
    does: 'Voltage open, then under any load whose current is read.',
    seenAfter: '10 s',
    needs: 'voltage',
    example: '4.03 3.91 1.74',
    typed: 'open, loaded, current, and perhaps the recovery voltage',
  },
  preload: {
    name: 'Preloaded step',
    does: 'A tiny load takes off the surface voltage first; the recovery voltage after the main load shows the droop.',
    seenAfter: '10 s',
    needs: 'voltage',
    example: '4.01 3.89 1.74 4.00',
    typed: 'preloaded, loaded, current, recovery voltage',
  },
  'two-current': {
    name: 'Two currents',
    does: '0.2 of the rated current for 10 s, then all of it for 1 s.',
    seenAfter: '1 s',
    needs: 'voltage',
    example: '3.98 0.5 3.87 2.5',
    typed: 'voltage and current low, voltage and current high',
  },
  pulse: {
    name: 'Logged pulse',
    does: 'A step of current found in a log of the cell.',
    seenAfter: '10 s',
    needs: 'voltage',
    example: 'log',
    typed: 'taken from the log on its own page',
  },
  told: {
    name: 'Told by a charger',
    does: 'The figure a charger shows while it charges.',
    seenAfter: 'its own',
    needs: 'resistance',
    example: '38',
    typed: 'resistance in mΩ, and perhaps the volts it shows',
  },
} as const satisfies Record<string, Method>;

export type MethodKey = keyof typeof methods;
export const methodKeys = Object.keys(methods) as MethodKey[];

/**
 * Currents that a method asks for, A, in their order: of a cell of that rated capacity, at the protocol's rate where it
 * has one. Empty where any current will do.
 */
export function currentsAsked(method: MethodKey, ratedCapacityAh: number, rateC: number | null): number[] {
  if (method === 'two-current') return [0.2 * ratedCapacityAh, ratedCapacityAh];
  return rateC === null ? [] : [rateC * ratedCapacityAh];
}

/** A load held for as long as this shows the ten-second figure, s. */
const aboutTenSeconds = { from: 5, to: 20 };

/**
 * Whether a reading shows the resistance after ten seconds, by which cells are graded.
 *
 * @param holdS when its protocol reads the figure after the load came on, s
 */
export function showsTenSeconds(method: MethodKey, holdS: number): boolean {
  // A logged pulse is evaluated at ten seconds whatever the protocol says.
  return (
    method === 'pulse' ||
    (methods[method].seenAfter === '10 s' && holdS >= aboutTenSeconds.from && holdS <= aboutTenSeconds.to)
  );
}

/** Why two methods differ; its sentence is in words/resistance.ts. */
export type RatioReason =
  '1 kHz and 10 s' | '1 kHz and 1 s' | '1 s and 10 s' | 'rule of its own' | 'same time' | 'other times';

/** How much more the slower of two methods usually shows on a sound lithium cell. From memory of common practice. */
const usualRatios: { quick: SeenAfter; slow: SeenAfter; least: number; most: number; why: RatioReason }[] = [
  {
    quick: '1 kHz',
    slow: '10 s',
    least: 1.3,
    most: 2,
    why: '1 kHz and 10 s',
  },
  {
    quick: '1 kHz',
    slow: '1 s',
    least: 1.1,
    most: 1.6,
    why: '1 kHz and 1 s',
  },
  {
    quick: '1 s',
    slow: '10 s',
    least: 1.05,
    most: 1.5,
    why: '1 s and 10 s',
  },
];

export interface RatioVerdict {
  why: RatioReason;
  usual: { least: number; most: number } | null;
  isUsual: boolean | null;
}

/**
 * Whether a ratio (second method over first) is one that such methods usually have, and why they differ.
 *
 * @param ratio median of second over first on the cells measured both ways
 */
export function judgeRatio(first: MethodKey, second: MethodKey, ratio: number): RatioVerdict {
  const [a, b] = [methods[first].seenAfter, methods[second].seenAfter];
  if (a === 'its own' || b === 'its own')
    return {
      why: 'rule of its own',
      usual: null,
      isUsual: null,
    };
  if (a === b) {
    const usual = { least: 0.9, most: 1.1 };
    return {
      why: 'same time',
      usual,
      isUsual: ratio >= usual.least && ratio <= usual.most,
    };
  }
  const known = usualRatios.find(({ quick, slow }) => (quick === a && slow === b) || (quick === b && slow === a));
  if (!known) return { why: 'other times', usual: null, isUsual: null };
  const usual =
    known.quick === a ? { least: known.least, most: known.most } : { least: 1 / known.most, most: 1 / known.least };
  return { why: known.why, usual, isUsual: ratio >= usual.least && ratio <= usual.most };
}
