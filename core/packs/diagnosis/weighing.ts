import { max } from 'simple-statistics';
import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import type { Finding, GroupFault, Unknowns, Way } from './faults';
import { sound } from './faults';
import {
  countPriorsOf,
  type Hypothesis,
  hypothesesOf,
  neverEven,
  tapPrior,
  taps,
  tapsDown,
  tapsUp,
} from './hypotheses';
import { type Expected, expectedOf, logLikelihood } from './likelihood';
import { type RoundMedian, medianOhm } from './roundMedians';
import type { Beforehand, Diagnosed } from './visit';

/** The distance of each group from the median in each round, V; null where it was not read. */
export type Apart = readonly (readonly (number | null)[])[];

/** By how much the terminal voltage exceeds the sum of the groups, V. */
export interface SumApart {
  /** The instrument that read the groups. */
  meter: number;
  value: number;
  u: number;
}

/** A way with its weight as a logarithm. */
interface WeighedWay {
  faults: GroupFault[];
  log: number;
  looks: readonly Unknowns[];
  logs: readonly number[];
}

/** What the readings of a group come to. */
export interface WeighedGroup {
  findings: Finding<GroupFault>[];
  soundProbability: number;
  ways: Way[];
}

/** A fault less likely than this is not listed. */
const leastKnown = 0.01;
/** Measured resistances of alike groups differ by this share (standard). From memory. */
const resistanceFraction = 0.12;
/**
 * Three figures on file in a thousand are of a bad contact, since an odd one was asked about as it was filed. It may
 * show anything up to some twelve times the resistance: its density beside the peak of a sound one. From memory.
 */
const badContact = (0.003 * Math.sqrt(2 * Math.PI) * resistanceFraction) / Math.log(12);

interface WeighedPack {
  groups: WeighedGroup[];
  noneProbability: number;
}

/** Whether the groups were kept even, and by how much the charges of sound ones differ (standard). */
export interface BalancePrior {
  isKeptEven: boolean;
  alikeShift: number;
}

/**
 * Weighs the ways in which the readings of all groups may have come about. A pack has none, one, two or three faults,
 * of any kind and anywhere; a tap that is off is one fault in two groups, one low and its neighbour high by the same.
 * Summed over all of these as a chain from the negative terminal to the positive one, for packs that were kept even and
 * for those that never were: the groups themselves show which it is.
 */
export function weighGroups(
  apart: Apart,
  roundMedians: readonly (RoundMedian | null)[],
  pack: Diagnosed,
  sums: readonly SumApart[],
): WeighedPack & { balancePrior: BalancePrior; logEvidence: number } {
  const { evenShift, keptEven } = pack.beforehand;
  const imbalancePrior = [
    { isKeptEven: true, alikeShift: evenShift, prior: keptEven },
    { isKeptEven: false, alikeShift: neverEven, prior: 1 - keptEven },
  ];
  const under = imbalancePrior.map(({ prior, ...balancePrior }) => {
    const { logEvidence, ...weighed } = weighUnder(balancePrior, apart, roundMedians, pack, sums);
    return { ...weighed, balancePrior, log: Math.log(prior) + logEvidence };
  });
  const all = logSum(under.map(({ log }) => log));
  const fractions = under.map(({ log }) => Math.exp(log - all));
  const mixed = (of: (one: WeighedPack) => number): number =>
    under.reduce((total, one, k) => total + (fractions[k] as number) * of(one), 0);
  const heaviest = under[fractions.indexOf(max(fractions))] as (typeof under)[number];
  return {
    balancePrior: heaviest.balancePrior,
    logEvidence: all,
    noneProbability: mixed((one) => one.noneProbability),
    groups: heaviest.groups.map(({ ways }, i) => {
      const weighed = ways.map((way, k) => ({
        ...way,
        probability: mixed(({ groups }) => groups[i]?.ways[k]?.probability ?? 0),
      }));
      return { ways: weighed, ...summed(weighed) };
    }),
  };
}

/** As above, of a pack that was kept so. */
function weighUnder(
  balancePrior: BalancePrior,
  apart: Apart,
  roundMedians: readonly (RoundMedian | null)[],
  { curve, series, groupResistancesOhm, beforehand }: Diagnosed,
  sums: readonly SumApart[],
): WeighedPack & { logEvidence: number } {
  const known = apart.map((apartV) => knownOf(apartV, roundMedians));
  const logOf = likelihoods(curve, balancePrior);
  const usualOhm = medianOhm(groupResistancesOhm);
  const hypotheses = hypothesesOf(1 + max(roundMedians.map((median) => median?.meter ?? 0)));
  const ohmLog = (look: Unknowns, i: number): number => resistanceLog(look, groupResistancesOhm?.[i] ?? null, usualOhm);
  const ways = known.map((own, i) =>
    hypotheses.map((hypothesis): WeighedWay => {
      const logs = hypothesis.looks.map((look) => logOf(look, own) + sumLog(look, sums) + ohmLog(look, i));
      return {
        faults: hypothesis.faults,
        log: priorLog(hypothesis, series) + beforehandLog(hypothesis, i + 1, beforehand) + logMean(logs),
        looks: hypothesis.looks,
        logs,
      };
    }),
  );
  const pairs = known.slice(1).map((next, i) => {
    const own = known[i] as Known;
    if (own[0].length === 0 || next[0].length === 0) return { log: -Infinity, logs: taps.map(() => 0) };
    const beside = 2 * sumLog(sound, sums) + ohmLog(sound, i) + ohmLog(sound, i + 1);
    const logs = taps.map(([up, down]) => logOf(up, own) + logOf(down, next) + beside);
    return { log: Math.log(tapPrior / series) + logMean(logs), logs };
  });
  const chain = chainOf(
    ways.map((own) => own.map(({ faults, log }) => ({ count: faults.length === 0 ? 0 : 1, log }))),
    pairs.map(({ log }) => log),
    countPriorsOf(beforehand),
  );
  return {
    noneProbability: chain.noneProbability,
    logEvidence: chain.logEvidence,
    groups: ways.map((own, i): WeighedGroup => {
      const weighed = own.map(({ faults, looks, logs }, way): Way => ({
        faults,
        looks,
        logs,
        look: likeliest(looks, logs),
        probability: chain.ofWay(i, way),
      }));
      // Its own tap above it, or that below, which lifts it as the other sinks.
      for (const [place, looks] of [
        [i, tapsUp],
        [i - 1, tapsDown],
      ] as const) {
        const logs = pairs[place]?.logs;
        if (!logs) continue;
        const probability = chain.ofPair(place);
        weighed.push({ faults: ['sense-tap'], looks, logs, look: likeliest(looks, logs), probability });
      }
      return { ways: weighed, ...summed(weighed) };
    }),
  };
}

const priorLog = ({ faults, prior }: Hypothesis, series: number): number =>
  faults.length === 0 ? 0 : Math.log(prior / series);

/** How much likelier it is with this group than with any. */
function beforehandLog({ faults }: Hypothesis, position: number, { channelTimes, leakTimes }: Beforehand): number {
  if (faults.includes('meter-channel')) return Math.log(channelTimes);
  return faults.includes('leak') ? Math.log(leakTimes.get(position) ?? 1) : 0;
}

/** Of each fault the probability that it is there, alone or beside another. */
function summed(ways: readonly Way[]): Pick<WeighedGroup, 'findings' | 'soundProbability'> {
  const byFault = new Map<GroupFault, number>();
  let soundProbability = 0;
  /** More likely above the others than below, where its charge is shifted. */
  let above = 0;
  for (const { faults, probability, look } of ways) {
    if (faults.length === 0) soundProbability += probability;
    if (faults.includes('charge-shifted')) above += Math.sign(look.shift) * probability;
    for (const fault of faults) byFault.set(fault, (byFault.get(fault) ?? 0) + probability);
  }
  const findings = [...byFault]
    .map(([fault, probability]) => ({
      fault,
      probability: Math.min(1, probability),
      ...(fault === 'charge-shifted' && above > 0 && { isAbove: true }),
    }))
    .filter(({ probability }) => probability >= leastKnown)
    .sort((one, other) => other.probability - one.probability);
  return { findings, soundProbability: Math.min(1, soundProbability) };
}

/**
 * Sums over every combination of ways along the groups.
 *
 * @param ways of each group: how many faults each is, 0 or 1, and its weight as a logarithm
 * @param pairs of each two neighbours: the weight of a fault in both together
 * @param counts the chances of this many faults in the pack
 */
function chainOf(
  ways: readonly (readonly { count: number; log: number }[])[],
  pairs: readonly number[],
  counts: readonly number[],
) {
  const series = ways.length;
  const most = counts.length - 1;
  const byCount = ways.map((own) =>
    [0, 1].map((count) => logSum(own.filter((way) => way.count === count).map(({ log }) => log))),
  );
  const none = (): number[] => new Array<number>(most + 1).fill(-Infinity);
  /** All that leads up to a group, or on from it, by how many faults it holds. */
  const before = [none()];
  (before[0] as number[])[0] = 0;
  for (let i = 0; i < series; i++) {
    const [sounds = -Infinity, faulty = -Infinity] = byCount[i] ?? [];
    before.push(
      none().map((_, m) =>
        logSum([
          at(before[i], m) + sounds,
          at(before[i], m - 1) + faulty,
          i === 0 ? -Infinity : at(before[i - 1], m - 1) + (pairs[i - 1] as number),
        ]),
      ),
    );
  }
  const after = Array.from({ length: series + 1 }, none);
  (after[series] as number[])[0] = 0;
  for (let i = series - 1; i >= 0; i--) {
    const [sounds = -Infinity, faulty = -Infinity] = byCount[i] ?? [];
    after[i] = none().map((_, m) =>
      logSum([
        at(after[i + 1], m) + sounds,
        at(after[i + 1], m - 1) + faulty,
        i + 1 >= series ? -Infinity : at(after[i + 2], m - 1) + (pairs[i] as number),
      ]),
    );
  }
  /** This many faults, shared out over the ways in which they may lie. */
  const countLog = counts.map((prior, m) => (m > series ? -Infinity : Math.log(prior) - logWaysToLie(series, m)));
  const all = logSum(countLog.map((log, m) => log + at(before[series], m)));
  const joined = (
    left: readonly number[] | undefined,
    log: number,
    count: number,
    right: readonly number[] | undefined,
  ) =>
    Math.exp(
      logSum(
        countLog.flatMap((prior, m) =>
          Array.from({ length: m - count + 1 }, (_, l) => prior + at(left, l) + log + at(right, m - count - l)),
        ),
      ) - all,
    );
  return {
    logEvidence: all,
    noneProbability: Math.exp((countLog[0] as number) + at(before[series], 0) - all),
    ofWay: (i: number, way: number): number => {
      const { count = 0, log = -Infinity } = ways[i]?.[way] ?? {};
      return joined(before[i], log, count, after[i + 1]);
    },
    ofPair: (i: number): number => joined(before[i], pairs[i] ?? -Infinity, 1, after[i + 2]),
  };
}

const at = (logs: readonly number[] | undefined, count: number): number => logs?.[count] ?? -Infinity;

/** Of m faults among n groups, at most as many, each as likely in any: C(n, m) / n^m. */
function logWaysToLie(n: number, m: number): number {
  let log = 0;
  for (let i = 0; i < m; i++) log += Math.log((n - i) / (i + 1) / n);
  return log;
}

/** A channel that reads too much makes the groups more than their terminals. */
const sumLog = ({ misreadV, misreadBy }: Unknowns, sums: readonly SumApart[]): number =>
  sums.reduce((log, { meter, value, u }) => log - 0.5 * ((value + (misreadBy === meter ? misreadV : 0)) / u) ** 2, 0);

/** A measured resistance beside the median of the groups, or a bad contact. */
function resistanceLog({ resistance }: Unknowns, ohm: number | null, usualOhm: number | null): number {
  if (ohm === null || usualOhm === null) return 0;
  const off = (Math.log(ohm / usualOhm) - Math.log(resistance)) / resistanceFraction;
  return Math.log(Math.exp(-0.5 * off ** 2) + badContact);
}

export type Known = [apartV: number[], at: RoundMedian[]];

/** What a look lets expect is the same for all groups that were read in the same rounds: it is worked out once. */
function likelihoods(curve: OpenCircuitCurve, balancePrior: BalancePrior): (look: Unknowns, known: Known) => number {
  const byRounds = new Map<string, Map<Unknowns, Expected>>();
  return (look, [apartV, at]) => {
    if (apartV.length === 0) return 0;
    const rounds = at.map(({ round }) => round).join();
    const ofRounds = byRounds.get(rounds) ?? new Map<Unknowns, Expected>();
    byRounds.set(rounds, ofRounds);
    const expected = ofRounds.get(look) ?? expectedOf(look, at, curve, balancePrior);
    ofRounds.set(look, expected);
    return logLikelihood(apartV, expected);
  };
}

export function knownOf(apartV: readonly (number | null)[], roundMedians: readonly (RoundMedian | null)[]): Known {
  const known: number[] = [];
  const at: RoundMedian[] = [];
  apartV.forEach((v, r) => {
    const median = roundMedians[r];
    if (v === null || !median) return;
    known.push(v);
    at.push(median);
  });
  return [known, at];
}

const likeliest = (looks: readonly Unknowns[], logs: readonly number[]): Unknowns =>
  looks[logs.indexOf(max([...logs]))] ?? sound;

const logMean = (logs: readonly number[]): number => logSum(logs) - Math.log(logs.length);
export function logSum(logs: readonly number[]): number {
  if (logs.length === 0) return -Infinity;
  const most = max([...logs]);
  if (most === -Infinity) return most;
  return most + Math.log(logs.reduce((sum, log) => sum + Math.exp(log - most), 0));
}
