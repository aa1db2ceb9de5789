import { sound, type Unknowns } from './faults';
import { expectedOf, logLikelihood } from './likelihood';
import type { RoundMedian } from './roundMedians';
import type { Diagnosed } from './visit';

/** A reading counts as evidence where it makes the case this many times likelier. */
const counts = Math.log(3);

/**
 * The readings that a way of what is wrong rests on: those that alone speak for it against a sound group, and those
 * without which the others speak less.
 *
 * @param apartV how far the group was from the median in each round, V; null where it was not read
 * @returns places among the rounds
 */
export function evidenceOf(
  look: Unknowns,
  apartV: readonly (number | null)[],
  roundMedians: readonly (RoundMedian | null)[],
  { curve, beforehand: { evenShift } }: Pick<Diagnosed, 'curve' | 'beforehand'>,
): number[] {
  const read = apartV.flatMap((v, r) => {
    const median = roundMedians[r];
    return v === null || !median ? [] : [{ v, r, median }];
  });
  const speaksFor = (some: typeof read): number => {
    if (some.length === 0) return 0;
    const at = some.map(({ median }) => median);
    const volts = some.map(({ v }) => v);
    const logOf = (one: Unknowns): number =>
      logLikelihood(volts, expectedOf(one, at, curve, { isKeptEven: true, alikeShift: evenShift }));
    return logOf(look) - logOf(sound);
  };
  const whole = speaksFor(read);
  return read
    .filter((one) => speaksFor([one]) > counts || whole - speaksFor(read.filter((other) => other !== one)) > counts)
    .map(({ r }) => r);
}
