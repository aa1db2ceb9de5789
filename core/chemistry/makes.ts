import { quadrature, type Quantity } from '../quantity/quantity';
import { logStudentAt } from '../statistics/gaussian';
import { curveOfMake, type Make, makes, type OpenCircuitCurve, usualMakes } from './openCircuit';

/** A discharge from full down to a cut-off, of one cell or group. */
export interface FullDischarge {
  /** Energy by charge, V. */
  meanV: Quantity;
  /** What the load took off the voltage on average, V. */
  lagV: Quantity;
  cutoffV: number;
}

/** The letter for the positive electrode in a cell's designation. Source: IEC 61960-3:2017, 5.2; from memory. */
const letters: Record<string, Make> = { C: 'cobalt', N: 'mixed-oxide', M: 'manganese' };
/** A letter is right this often: wrappers are changed, and makers use letters of their own. From memory. */
const letterHolds = 0.9;
/** Heavy tails: a discharge may not have begun full, or have been stopped by hand. */
const degrees = 4;
/** One more discharge seldom moves the rounded probabilities, so that what was judged by them stays judged. */
const roundedTo = 0.05;

/** The make that the designation of a model names, as ICR for cobalt; null where it names none. */
export function makeByDesignation(model: string | null | undefined): Make | null {
  const letter = /\bI([CNM])[RP] ?\d{2}/i.exec(model ?? '')?.[1];
  return (letter && letters[letter.toUpperCase()]) || null;
}

/** How likely each make is before anything was measured. */
export function makesByDesignation(model: string | null | undefined): Record<Make, number> {
  const named = makeByDesignation(model);
  if (!named) return { ...usualMakes };
  const others = 1 - usualMakes[named];
  return eachMake((make) => (make === named ? letterHolds : ((1 - letterHolds) * usualMakes[make]) / others));
}

/**
 * How likely each make is once discharges of that model were measured: the mean voltage of each make's curve from full
 * down to the cut-off is compared with the measured one. Discharges of one model share what the make's own curve
 * differs by, so that their mean counts as one. Bayes' theorem; own rule for the tails.
 */
export function makesAfter(before: Record<Make, number>, discharges: readonly FullDischarge[]): Record<Make, number> {
  if (discharges.length === 0) return before;
  const weighed = eachMake((make) => {
    const curve = curveOfMake(make);
    const misses = discharges.map(({ meanV, lagV, cutoffV }) => ({
      value: meanV.value + lagV.value - meanOpenV(curve, cutoffV + lagV.value),
      u: quadrature(meanV.u, lagV.u),
    }));
    const mean = misses.reduce((sum, { value }) => sum + value, 0) / misses.length;
    const u = quadrature(curve.uAt(0.5), Math.min(...misses.map((one) => one.u)));
    return before[make] * Math.exp(logStudentAt(mean, { centre: 0, scale: u, degrees }));
  });
  const all = sumOfMakes(weighed);
  const rounded = eachMake((make) => Math.round(weighed[make] / all / roundedTo));
  const roundedSum = sumOfMakes(rounded);
  return eachMake((make) => rounded[make] / roundedSum);
}

/** Mean rested voltage from full down to that voltage, V. */
function meanOpenV(curve: OpenCircuitCurve, downToV: number): number {
  const endSoc = curve.socAt({ value: downToV, u: 0 }).value;
  let sum = 0;
  for (let i = 0; i < steps; i += 1) sum += curve.voltageAt(endSoc + ((i + 0.5) / steps) * (1 - endSoc));
  return sum / steps;
}
const steps = 50;

const eachMake = (of: (make: Make) => number): Record<Make, number> =>
  Object.fromEntries(makes.map((make) => [make, of(make)])) as Record<Make, number>;
const sumOfMakes = (of: Record<Make, number>): number => makes.reduce((sum, make) => sum + of[make], 0);
