import { givenOrUsual } from '../chemistry/openCircuit';
import type { Leak } from './cycleDrift';
import { inParallel, sumOf } from '../matching/groupFigures';
import { quadrature, type Quantity } from '../quantity/quantity';
import type { PackRun } from './packRun';
import { type PlainRun, runPlain, runWarnings } from './plainRun';
import type { Warning } from '../warning';

/** A cell as it was measured: what it holds, and its ten-second resistance. */
export interface KnownCell {
  capacity: Quantity;
  resistance: Quantity;
  /** Its self-discharge current; null without a test result. */
  leak?: Leak | null;
}

export interface PredictInput extends Omit<PlainRun, 'groups' | 'stepS'> {
  /** From the negative end; full, as the run begins. */
  groups: readonly (readonly KnownCell[])[];
}

/** What a pack is predicted to do. */
export interface Prediction {
  run: PackRun;
  /** Until its first group is at the cut-off, or the load is over, s. */
  runTimeS: Quantity;
  /** Ten seconds after a current comes on, of the whole, V for each ampere. */
  sagOhm: Quantity;
  warnings: Warning[];
}

/** What lags over hours is known to this share of the ten-second resistance (standard). From memory. */
const lagU = 0.15;
/** A cell gives at another rate and another warmth than it was measured at what it gave to this share. From memory. */
const otherDayU = 0.01;

/**
 * How a full pack of measured cells carries a load, with the uncertainty of its run time: of capacities and
 * resistances, that lean the same way, of the curve of the chemistry, and of another day. Source: JCGM 100:2008 (GUM)
 * 5.2.2; another run for each, a standard uncertainty off.
 *
 * @throws ImpossibleInput as `packRun` does
 */
export function predictRun({ groups, ...request }: PredictInput, onProgress?: (fraction: number) => void): Prediction {
  const [likeliest, ...otherOptions] = givenOrUsual(request.curve, request.chemistry).options;
  const likeliestU = likeliest?.curve.uAt(0) ?? 0;
  const off = (capacity: number, resistance: number) =>
    groups.map((group) =>
      group.map(({ capacity: ah, resistance: ohm }) => ({
        capacityAh: Math.max(ah.value / 10, ah.value + capacity * ah.u),
        resistanceOhm: ohm.value + resistance * quadrature(ohm.u, lagU * ohm.value),
        soc: 1,
      })),
    );
  const timeOf = (at: ReturnType<typeof off>, changed: Partial<PlainRun> = {}): number =>
    runPlain({ ...request, groups: at, ...changed }).runTimeS;
  const run = runPlain({ ...request, groups: off(0, 0) }, onProgress);
  const value = run.runTimeS;
  const u = quadrature(
    timeOf(off(-1, 0)) - value,
    timeOf(off(0, 1)) - value,
    timeOf(off(0, 0), { cutoffPerGroupV: request.cutoffPerGroupV + likeliestU }) - value,
    ...otherOptions.map(
      ({ probability, curve }) => Math.sqrt(probability) * (timeOf(off(0, 0), { curve: curve.plain }) - value),
    ),
    otherDayU * value,
  );
  return {
    run,
    runTimeS: { value, u: run.ends === 'profile-over' ? 0 : u },
    sagOhm: sumOf(groups.map((group) => inParallel(group.map(({ resistance }) => resistance)))),
    warnings: runWarnings(run),
  };
}
