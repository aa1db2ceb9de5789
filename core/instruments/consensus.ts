import { type Quantity, quadrature } from '../quantity/quantity';
import { chiSquareQuantile } from '../statistics/distributions';

/** What one instrument, or one channel of it, read on one battery. */
export interface Opinion {
  /** Instrument and channel. */
  of: string;
  reading: Quantity;
}

export type Consensus =
  | { kind: 'agreed'; reference: Quantity; consistent: string[]; apart: string[]; chiSquare: number; limit: number }
  /** A certified instrument was believed. */
  | { kind: 'declared'; reference: Quantity; by: string }
  | { kind: 'nobody-knows'; because: string };

/** Beyond so many, subsets are not all tried: the worst one out is dropped time and again. */
const mostForAllSubsets = 14;
const confidence = 0.95;

/**
 * The value that the largest consistent subset of the readings agrees on: the weighted mean of the most instruments whose
 * chi-square lies below its 95 % point; of equally many, those with the least chi-square. More than half must agree, and
 * at least three, or nobody can know.
 * Source: Cox, The evaluation of key comparison data: determining the largest consistent subset, Metrologia 44, 187 (2007).
 */
export function consensusOf(opinions: readonly Opinion[]): Consensus {
  if (opinions.length < 3) {
    return { kind: 'nobody-knows', because: `${opinions.length === 2 ? 'Two instruments' : 'One instrument'} cannot tell which is right. A third independent one would help, or one that is certified.` };
  }
  const found = opinions.length <= mostForAllSubsets ? largestConsistent(opinions) : byDropping(opinions);
  if (!found || found.length * 2 <= opinions.length || found.length < 3) {
    return { kind: 'nobody-knows', because: `No majority of these ${opinions.length} agrees within its own doubt. One certified instrument would settle it, or one more independent meter with a finer last digit.` };
  }
  const { mean, chiSquare } = weightedMean(found);
  const consistent = found.map((one) => one.of);
  return { kind: 'agreed', reference: mean, consistent, apart: opinions.map((one) => one.of).filter((of) => !consistent.includes(of)), chiSquare, limit: limitFor(found.length) };
}

const limitFor = (count: number): number => chiSquareQuantile(confidence, count - 1);

function weightedMean(opinions: readonly Opinion[]): { mean: Quantity; chiSquare: number } {
  let [weights, total] = [0, 0];
  for (const { reading } of opinions) {
    weights += 1 / reading.u ** 2;
    total += reading.value / reading.u ** 2;
  }
  const value = total / weights;
  const chiSquare = opinions.reduce((sum, { reading }) => sum + ((reading.value - value) / reading.u) ** 2, 0);
  return { mean: { value, u: 1 / Math.sqrt(weights) }, chiSquare };
}

/** Tries all subsets of one size after the other, the largest first; a size at which any is consistent is the answer. */
function largestConsistent(opinions: readonly Opinion[]): Opinion[] | null {
  for (let size = opinions.length; size >= 2; size--) {
    let best: { members: Opinion[]; chiSquare: number } | null = null;
    const limit = limitFor(size);
    for (const members of subsetsOf(opinions, size)) {
      const { chiSquare } = weightedMean(members);
      if (chiSquare <= limit && chiSquare < (best?.chiSquare ?? Infinity)) best = { members, chiSquare };
    }
    if (best) return best.members;
  }
  return null;
}

function* subsetsOf(opinions: readonly Opinion[], size: number, from = 0): Generator<Opinion[]> {
  if (size === 0) {
    yield [];
    return;
  }
  for (let i = from; i <= opinions.length - size; i++) for (const rest of subsetsOf(opinions, size - 1, i + 1)) yield [opinions[i] as Opinion, ...rest];
}

function byDropping(opinions: readonly Opinion[]): Opinion[] | null {
  let members = [...opinions];
  while (members.length >= 2) {
    const { mean, chiSquare } = weightedMean(members);
    if (chiSquare <= limitFor(members.length)) return members;
    const off = ({ reading }: Opinion) => Math.abs(reading.value - mean.value) / reading.u;
    const worst = members.reduce((a, b) => (off(b) > off(a) ? b : a));
    members = members.filter((one) => one !== worst);
  }
  return null;
}

/**
 * How far a reading lies from the reference. A member of the consensus is part of the reference, which makes the
 * difference less uncertain; anyone else adds its own doubt to it. Source: Cox 2007, degrees of equivalence.
 */
export function differenceFrom(reference: Quantity, reading: Quantity, isMember: boolean): Quantity {
  const u = isMember ? Math.sqrt(Math.max(0, reading.u ** 2 - reference.u ** 2)) : quadrature(reading.u, reference.u);
  return { value: reading.value - reference.value, u };
}
