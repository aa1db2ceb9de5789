import { type Quantity, quadrature } from '../quantity/quantity';
import { chiSquareQuantile } from '../statistics/distributions';
import { median } from 'simple-statistics';

/** What one instrument, or one channel of it, read on one battery. */
export interface Opinion {
  /** Instrument and channel. */
  of: string;
  /** The instrument: its channels share its reference, and are one witness together. */
  instrument: string;
  reading: Quantity;
}

export type Consensus =
  | {
      kind: 'agreed';
      reference: Quantity;
      consistent: string[];
      apart: string[];
      chiSquare: number;
      limit: number;
      leastU: number;
    }
  /** A certified instrument was believed. */
  | { kind: 'declared'; reference: Quantity; by: string }
  | { kind: 'nobody-knows'; witnesses: number };

/** Beyond this many, subsets are not all tried: the worst one out is dropped time and again. */
const mostForAllSubsets = 14;
const confidence = 0.95;

/**
 * The value that the largest consistent subset of the instruments agrees on: the most whose chi-square lies below its
 * 95 % point; of equally many, those with the least chi-square. More than half must agree, and at least three, or
 * it cannot be known. Then every channel is compared with it.
 *
 * In the reference no instrument counts as surer than the median one, and one that claims to be much finer must agree
 * with what the others say together: a fine meter that is wrong must not outweigh coarse ones that agree. Source: Cox,
 * The evaluation of key comparison data: determining the largest consistent subset, Metrologia 44, 187 (2007); the
 * limit to a weight is common practice in such comparisons.
 */
export function consensusOf(opinions: readonly Opinion[]): Consensus {
  const witnesses = witnessesOf(opinions);
  if (witnesses.length < 3) return { kind: 'nobody-knows', witnesses: witnesses.length };
  const agreeing = witnesses.length <= mostForAllSubsets ? largestConsistent(witnesses) : byDropping(witnesses);
  const found = agreeing && withoutWrongFine(agreeing, witnesses.length);
  if (!found || found.length * 2 <= witnesses.length || found.length < 3) {
    return { kind: 'nobody-knows', witnesses: witnesses.length };
  }
  const { chiSquare } = weightedMean(found);
  const leastU = median(found.map(({ reading }) => reading.u));
  const evened = found.map(({ reading, ...one }) => ({
    ...one,
    reading: { ...reading, u: Math.max(reading.u, leastU) },
  }));
  const { mean } = weightedMean(evened);
  // By how much those that claim to be finer pull: should one of them be wrong, the reference is off by that and by the
  // luck of the others that let it pass.
  const pulls = evened
    .filter((_, i) => isMuchFiner(found[i] as Opinion, leastU))
    .map((one) => mean.value - weightedMean(evened.filter((other) => other !== one)).mean.value);
  const reference = {
    value: mean.value,
    u: quadrature(mean.u * (found.length < witnesses.length ? choosing : 1), ...pulls.map((pull) => luck * pull)),
  };
  const members = new Set(found.map((one) => one.instrument));
  const excluded = new Set(witnesses.map((one) => one.instrument).filter((instrument) => !members.has(instrument)));
  const isApart = ({ instrument, reading }: Opinion): boolean => {
    // What alone spoke for a member of the consensus agrees; a channel beside it, or of no witness, is compared with
    // it.
    if (found.some((one) => one.instrument === instrument && one.reading.value === reading.value)) return false;
    const { value, u } = differenceFrom(reference, reading, false);
    return excluded.has(instrument) || Math.abs(value) > 2 * u;
  };
  const apart = opinions.filter(isApart).map((one) => one.of);
  return {
    kind: 'agreed',
    reference,
    consistent: opinions.map((one) => one.of).filter((of) => !apart.includes(of)),
    apart,
    chiSquare,
    limit: limitFor(found.length),
    leastU,
  };
}

/** Those that were chosen because they agree seem surer than they are. */
const choosing = 1.1;
/** A fine meter that is wrong is let pass where the others happen to err its way. */
const luck = 3;
/** A meter that claims to be this many times finer than the median one counts only if the others confirm it. */
const timesFiner = 2;

const isMuchFiner = ({ reading }: Opinion, usualU: number): boolean => reading.u * timesFiner <= usualU;

/** Without a fine meter that lies off what all the others say together; its weight had hidden that. */
function withoutWrongFine(members: readonly Opinion[], witnesses: number): Opinion[] {
  const usualU = median(members.map(({ reading }) => reading.u));
  const kept = members.filter((one) => {
    const rest = members.filter((other) => other !== one);
    if (!isMuchFiner(one, usualU) || rest.length < 3) return true;
    const { mean } = weightedMean(rest);
    return Math.abs(one.reading.value - mean.value) <= 1.5 * quadrature(one.reading.u, mean.u);
  });
  return kept.length * 2 > witnesses && kept.length >= 3 ? kept : [...members];
}

/** One witness an instrument: of several channels the median one; of two that contradict each other none. */
function witnessesOf(opinions: readonly Opinion[]): Opinion[] {
  const byInstrument = new Map<string, Opinion[]>();
  for (const one of opinions) byInstrument.set(one.instrument, [...(byInstrument.get(one.instrument) ?? []), one]);
  return [...byInstrument.values()].flatMap((channels): Opinion[] => {
    const sorted = [...channels].sort((a, b) => a.reading.value - b.reading.value);
    const [low, high] = [sorted[(sorted.length - 1) >> 1] as Opinion, sorted[sorted.length >> 1] as Opinion];
    if (low === high) return [low];
    const apartV = high.reading.value - low.reading.value;
    if (sorted.length === 2 && apartV > 2 * quadrature(low.reading.u, high.reading.u)) return [];
    return [{ ...low, reading: { value: (low.reading.value + high.reading.value) / 2, u: low.reading.u } }];
  });
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

/**
 * Tries all subsets of one size after the other, the largest first; a size at which any is consistent is the answer.
 */
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
  for (let i = from; i <= opinions.length - size; i++)
    for (const rest of subsetsOf(opinions, size - 1, i + 1)) yield [opinions[i] as Opinion, ...rest];
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
 * difference less uncertain; anyone else adds its own uncertainty to it. Source: Cox 2007, degrees of equivalence.
 */
export function differenceFrom(reference: Quantity, reading: Quantity, isMember: boolean): Quantity {
  const u = isMember ? Math.sqrt(Math.max(0, reading.u ** 2 - reference.u ** 2)) : quadrature(reading.u, reference.u);
  return { value: reading.value - reference.value, u };
}
