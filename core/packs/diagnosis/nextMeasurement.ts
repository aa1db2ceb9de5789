import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import { logStudentAt, type Student } from '../../statistics/gaussian';
import type { PackDiagnosis } from './diagnose';
import type { Unknowns, Way } from './faults';
import { expectedOf, newestGiven } from './likelihood';
import { type RoundMedian, usualOhmAh } from './roundMedians';
import type { Diagnosed } from './visit';
import { type Known, knownOf, logSum } from './weighing';

/** What a person can measure next. */
export const measurements = ['load', 'days', 'discharge-end', 'other-instrument', 'reseat', 'terminals'] as const;
export type Measurement = (typeof measurements)[number];

export interface NextMeasurement {
  what: Measurement;
  /** The group that it would settle, from the negative terminal. */
  position: number;
  /** The two explanations that it separates, the likelier first. */
  between: [one: Way, other: Way];
}

/** Minutes of a person's time; waiting for days costs patience. */
const minutes: Record<Measurement, number> = {
  load: 4,
  days: 15,
  'discharge-end': 90,
  'other-instrument': 5,
  reseat: 3,
  terminals: 2,
};
const loadRate = 0.5;
const restedDays = 3;
const nearlyEmpty = 0.04;
/** Below this entropy nothing more is asked for, nats. */
const settled = 0.35;
/** A measurement must take this much off the entropy, nats. */
const leastGain = settled / 4;
/** Standard uncertainty of terminals less the sum of the groups, V a group. */
const terminalsU = 0.008;
/** A bad contact of a plug that is seated again is gone as often as not. From memory. */
const reseatCures = 0.5;
/** An instrument that has read nothing yet. */
const newMeter = -1;
/** Looks less likely than this are left out, to save time. */
const leastLook = 1e-4;
const manyDegrees = 30;
/** Outcomes of each look: deviations and their weights, as for a normal distribution (Gauss–Hermite). */
const outcomes = [
  [0, 2 / 3],
  [-Math.sqrt(3), 1 / 6],
  [Math.sqrt(3), 1 / 6],
] as const;

const entropy = (probabilities: readonly number[]): number =>
  probabilities.reduce((sum, p) => (p > 0 ? sum - p * Math.log(p) : sum), 0);

/** One look of one way, with its probability. */
interface Look {
  way: number;
  probability: number;
  unknowns: Unknowns;
}

/** What the next reading of a look would show. */
interface Predicted extends Pick<Look, 'way' | 'probability'> {
  shows: Student;
}

/**
 * The measurement that gives most information a minute about the group that is least settled: by how much the entropy
 * of its ways falls on average, each look being true in turn, when the new reading is weighed as all readings are. Null
 * where all is settled, or nothing would help. Source: expected information, D. V. Lindley, Ann. Math. Stat. 27 (1956).
 */
export function nextMeasurement(diagnosis: PackDiagnosis, asNoted: Diagnosed): NextMeasurement | null {
  const { groups, roundMedians, likelierRounds: rounds } = diagnosis;
  const pack = { ...asNoted, rounds };
  // A dead or empty group is not loaded to learn more.
  if (groups.some(({ ways, isRunDown }) => ways.length === 0 || isRunDown)) return null;
  const open = groups
    .map((group) => ({ ...group, openness: entropy(group.ways.map(({ probability }) => probability)) }))
    .sort((one, other) => other.openness - one.openness)[0];
  const own = open && knownOf(open.apartV, roundMedians);
  if (!open || !own || own[0].length === 0 || open.openness < settled) return null;
  const looks = open.ways.flatMap(({ looks: of, logs, probability }, way): Look[] => {
    const all = logSum(logs);
    return of.flatMap((unknowns, k) => {
      const ofLook = probability * Math.exp((logs[k] as number) - all);
      return ofLook < leastLook ? [] : [{ way, probability: ofLook, unknowns }];
    });
  });
  const gains = measurements.map((what) => {
    const gain =
      open.openness - entropyAfter(predictedBy(what, looks, own, open.ways, diagnosis, pack), open.ways.length);
    return { what, gain, perMinute: gain / minutes[what] };
  });
  const [best] = gains.filter(({ gain }) => gain >= leastGain).sort((a, b) => b.perMinute - a.perMinute);
  const [one, other] = open.ways.toSorted((a, b) => b.probability - a.probability);
  return best && one && other ? { what: best.what, position: open.position, between: [one, other] } : null;
}

/** What the measurement would show of each look; empty where it is known already. */
function predictedBy(
  what: Measurement,
  looks: readonly Look[],
  [apartV, at]: Known,
  ways: readonly Way[],
  { balancePrior }: PackDiagnosis,
  pack: Diagnosed,
): Predicted[] {
  const isTap = ({ way }: Look): boolean => ways[way]?.faults.includes('sense-tap') ?? false;
  if (what === 'terminals') {
    if (pack.rounds.some(({ terminalV }) => terminalV !== null)) return [];
    const scale = terminalsU * pack.series;
    const meter = at.at(-1)?.meter;
    return looks.map(({ unknowns, ...look }) => ({
      ...look,
      shows: {
        centre: unknowns.misreadBy !== null && unknowns.misreadBy === meter ? -unknowns.misreadV : 0,
        scale,
        degrees: manyDegrees,
      },
    }));
  }
  const next = nextRound(what, at, pack.curve);
  return looks.flatMap((look): Predicted[] => {
    const { way, probability, unknowns } = look;
    const shows = newestGiven(apartV, expectedOf(unknowns, [...at, next], pack.curve, balancePrior));
    if (what !== 'reseat' || !isTap(look)) return [{ way, probability, shows }];
    const cured = { ...shows, centre: shows.centre - unknowns.misreadV };
    return [
      { way, probability: (1 - reseatCures) * probability, shows },
      { way, probability: reseatCures * probability, shows: cured },
    ];
  });
}

/** Where the median group would be in that round. */
function nextRound(
  what: Exclude<Measurement, 'terminals'>,
  at: readonly RoundMedian[],
  curve: OpenCircuitCurve,
): RoundMedian {
  const last = at.at(-1) as RoundMedian;
  const jointV = at.find((median) => median.jointV > 0)?.jointV ?? usualOhmAh * loadRate;
  const rest = { ...last, jointV: 0 };
  switch (what) {
    case 'load':
      return { ...rest, jointV };
    case 'days':
      return { ...rest, hours: rest.hours + 24 * restedDays };
    case 'discharge-end':
      return { ...rest, soc: nearlyEmpty, openV: curve.voltageAt(nearlyEmpty), jointV };
    case 'other-instrument':
      return { ...rest, meter: newMeter };
    case 'reseat':
      return rest;
  }
}

/** Entropy of the ways on average after the measurement; without one it stays as it is. */
function entropyAfter(looks: readonly Predicted[], ways: number): number {
  if (looks.length === 0) return Infinity;
  const all = looks.reduce((sum, { probability }) => sum + probability, 0);
  return looks.reduce(
    (mean, { probability, shows }) =>
      outcomes.reduce((sum, [deviations, weight]) => {
        const value = shows.centre + deviations * shows.scale;
        const byWay = new Float64Array(ways);
        let total = 0;
        for (const look of looks) {
          const density = look.probability * Math.exp(logStudentAt(value, look.shows));
          byWay[look.way] = (byWay[look.way] as number) + density;
          total += density;
        }
        return sum + (weight * probability * entropy(Array.from(byWay, (p) => p / total))) / all;
      }, mean),
    0,
  );
}
