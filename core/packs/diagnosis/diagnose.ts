import { max, mean, sum } from 'simple-statistics';
import { deadV } from '../../chemistry/chemistries';
import { ImpossibleInput } from '../../impossibleInput';
import { rectangular } from '../../quantity/quantity';
import { evidenceOf } from './evidence';
import type { Finding, GroupFault, PackFault, Way } from './faults';
import { type RoundMedian, roundMediansOf } from './roundMedians';
import { type Diagnosed, type DiagnosedRound, metersOf } from './visit';
import { questionsOf, roundsIfSo, type RoundQuestion } from './questions';
import { type Apart, type BalancePrior, type SumApart, weighGroups } from './weighing';

/** Terminals below this share of their groups are cut off. */
const cutOffFraction = 0.5;
/** Two tools differ by this share of the whole (standard). */
const toolsDiffer = 0.003;
const certain = 0.97;
/** From here on a cause is named before a state. */
const clear = 0.5;

/** What a group's readings say, compared with the pack's others. */
export interface GroupDiagnosis {
  position: number;
  /** At the newest round at rest, as it was read; null where none was. */
  stateOfCharge: number | null;
  /** The likeliest first; those below one per cent are left out. */
  findings: Finding<GroupFault>[];
  /** Of nothing being wrong with it. */
  soundProbability: number;
  /** How its readings may have come about; empty where it is dead. */
  ways: Way[];
  /** It was below its floor at rest: a state, beside whatever caused it. */
  isRunDown: boolean;
  /** Its distance from the median of the groups in each round, V; null where it was not read. */
  apartV: (number | null)[];
  /** The rounds, by their place, whose readings its likeliest fault rests on; empty while it is likelier sound. */
  restsOn: number[];
}

export interface PackDiagnosis {
  groups: GroupDiagnosis[];
  /** Of the pack as a whole: `none`, its board, all of it run down. */
  pack: Finding<PackFault>[];
  /** The median of its groups in each round; null where none was read. */
  roundMedians: (RoundMedian | null)[];
  /** What is asked about the rounds before a group is accused, with the probability that it is so. */
  questions: (RoundQuestion & { probability: number })[];
  /** How its groups were kept, as is likelier by the readings. */
  balancePrior: BalancePrior;
  /** The rounds by the likelier explanation: as noted, or as they were if they are mislabelled. */
  likelierRounds: readonly DiagnosedRound[];
}

/** Of two explanations of a visit: what its rounds were, and what that says of the pack. */
interface Explained {
  diagnosis: Omit<PackDiagnosis, 'questions'>;
  logEvidence: number;
}

/**
 * What is wrong with a pack. Where rounds do not go together, it is weighed twice: with the rounds as noted, and as
 * they were if they are mislabelled. Both count by how well they explain the readings; before that they are as likely
 * as each other (own rule). Source: Bayes' rule; the signatures of faults are common practice.
 *
 * @throws ImpossibleInput where no round reads any group
 */
export function diagnosePack(pack: Diagnosed): PackDiagnosis {
  const questions = questionsOf(pack.rounds);
  const noted = explain(pack);
  const rounds = roundsIfSo(pack, questions);
  const ifSo = rounds && explain({ ...pack, rounds });
  const probability = ifSo ? 1 / (1 + Math.exp(noted.logEvidence - ifSo.logEvidence)) : 0;
  return {
    ...(ifSo ? mixed(noted.diagnosis, ifSo.diagnosis, probability) : noted.diagnosis),
    questions: questions.map((one) => ({ ...one, probability: one.code === 'not-settled' ? 1 : probability })),
  };
}

/** Probabilities by both explanations; all else is that of the likelier. */
function mixed(
  noted: Explained['diagnosis'],
  ifSo: Explained['diagnosis'],
  probability: number,
): Explained['diagnosis'] {
  const likelier = probability > 0.5 ? ifSo : noted;
  const both = (one: number, other: number): number => (1 - probability) * one + probability * other;
  return {
    ...likelier,
    pack: mixedFindings(noted.pack, ifSo.pack, both),
    groups: likelier.groups.map((group, i): GroupDiagnosis => {
      const [one, other] = [noted.groups[i] as GroupDiagnosis, ifSo.groups[i] as GroupDiagnosis];
      return {
        ...group,
        findings: mixedFindings(one.findings, other.findings, both),
        soundProbability: both(one.soundProbability, other.soundProbability),
      };
    }),
  };
}

function mixedFindings<Fault>(
  one: readonly Finding<Fault>[],
  other: readonly Finding<Fault>[],
  both: (one: number, other: number) => number,
): Finding<Fault>[] {
  const of = (findings: readonly Finding<Fault>[], fault: Fault) => findings.find((finding) => finding.fault === fault);
  return [...new Set([...one, ...other].map(({ fault }) => fault))]
    .map((fault): Finding<Fault> => {
      const [first, second] = [of(one, fault), of(other, fault)];
      const probability = both(first?.probability ?? 0, second?.probability ?? 0);
      return { ...(first ?? second), fault, probability };
    })
    .sort((a, b) => b.probability - a.probability);
}

/**
 * What is wrong by the rounds as given. Of each group the ways in which its readings may have come about are weighed
 * against each other: sound, or with one or two faults of any size, each predicted through the open-circuit curve from
 * the median of the groups, with what sound groups and one instrument differ by. Few readings give broad answers.
 */
function explain(pack: Diagnosed): Explained {
  const read = pack.rounds.filter(({ groupVoltagesV }) => groupVoltagesV.some((v) => v !== null));
  if (read.length === 0) throw new ImpossibleInput('rounds', { code: 'no-group-voltages' });
  const rounds = pack.rounds;
  const roundMedians = roundMediansOf(pack);
  const apart = Array.from({ length: pack.series }, (_, i) =>
    rounds.map(({ groupVoltagesV }, r) => {
      const [own, median] = [groupVoltagesV[i] ?? null, roundMedians[r]];
      return own === null || !median ? null : own - median.voltageV;
    }),
  );
  const dead = apart.map((_, i) => isDead(i, pack));
  const runDown = apart.map((_, i) => !dead[i] && isRunDown(i, pack));
  const isGross = dead.includes(true) || runDown.includes(true);
  const weighed = weighGroups(
    onTheCurve(apart, roundMedians, pack),
    roundMedians,
    pack,
    isGross ? [] : sumsApart(pack),
  );
  const newestRest = rounds.findLastIndex(({ state }) => state === 'rest');

  const groups = weighed.groups.map(({ findings, soundProbability, ways }, i): GroupDiagnosis => {
    const restV = rounds[newestRest]?.groupVoltagesV[i] ?? null;
    const own = {
      position: i + 1,
      stateOfCharge: restV === null ? null : pack.curve.socAt({ value: restV, u: 0 }).value,
      isRunDown: runDown[i] === true,
      apartV: apart[i] ?? [],
    };
    if (dead[i])
      return {
        ...own,
        findings: [{ fault: 'dead', probability: certain }],
        soundProbability: 1 - certain,
        ways: [],
        restsOn: below(deadV, i, pack),
      };
    const rests = restsOn(ways, apart[i] ?? [], roundMedians, pack);
    const causes = findings.map((finding) => withInstrument(finding, ways, pack));
    return {
      ...own,
      findings: own.isRunDown ? causeFirst(causes) : causes,
      soundProbability: own.isRunDown ? Math.min(soundProbability, 1 - certain) : soundProbability,
      ways,
      restsOn: own.isRunDown ? [...new Set([...rests, ...below(pack.floorV, i, pack)])].sort((a, b) => a - b) : rests,
    };
  });
  return {
    logEvidence: weighed.logEvidence,
    diagnosis: {
      groups,
      pack: wholeOf(pack, groups, weighed.noneProbability),
      roundMedians,
      balancePrior: weighed.balancePrior,
      likelierRounds: rounds,
    },
  };
}

/** A channel that misreads belongs to an instrument of the visit. */
function withInstrument(
  finding: Finding<GroupFault>,
  ways: readonly Way[],
  { rounds }: Pick<Diagnosed, 'rounds'>,
): Finding<GroupFault> {
  if (finding.fault !== 'meter-channel') return finding;
  const meter = ways.find(({ faults }) => faults.includes('meter-channel'))?.look.misreadBy ?? null;
  const instrument = meter === null ? null : (metersOf(rounds)[meter] ?? null);
  return instrument === null ? finding : { ...finding, instrument };
}

/** The readings that the likeliest way of its being faulty rests on. */
function restsOn(
  ways: readonly Way[],
  apartV: readonly (number | null)[],
  roundMedians: readonly (RoundMedian | null)[],
  pack: Diagnosed,
): number[] {
  const faulty = ways.filter(({ faults }) => faults.length > 0);
  const likeliest = faulty.find(({ probability }) => probability === max(faulty.map((way) => way.probability)));
  if (!likeliest || sum(faulty.map(({ probability }) => probability)) < 0.5) return [];
  return evidenceOf(likeliest.look, apartV, roundMedians, pack);
}

const isDead = (i: number, { rounds }: Diagnosed): boolean =>
  rounds.some(({ groupVoltagesV }) => (groupVoltagesV[i] ?? Infinity) <= deadV);

const isRested = ({ state, currentA }: DiagnosedRound): boolean => state === 'rest' && currentA === 0;

const isRunDown = (i: number, { rounds, floorV }: Diagnosed): boolean =>
  rounds.some((round) => isRested(round) && (round.groupVoltagesV[i] ?? Infinity) < floorV);

/**
 * Below the floor a voltage says no more than that a group is empty: it counts as at the floor. Where the middle of the
 * groups is below it too, nothing distinguishes them.
 */
const onTheCurve = (
  apart: Apart,
  roundMedians: readonly (RoundMedian | null)[],
  { rounds, floorV }: Diagnosed,
): Apart =>
  apart.map((own) =>
    own.map((apartV, r) => {
      const [median, round] = [roundMedians[r], rounds[r]];
      if (apartV === null || !median || !round || !isRested(round)) return apartV;
      return median.voltageV < floorV ? null : Math.max(apartV, floorV - median.voltageV);
    }),
  );

/** A cause that is likelier than not is named before the state that it led to; else the state. */
function causeFirst(causes: readonly Finding<GroupFault>[]): Finding<GroupFault>[] {
  const state = { fault: 'over-discharged' as const, probability: certain };
  const isClear = (causes[0]?.probability ?? 0) >= clear;
  return isClear ? [...causes, state] : [state, ...causes];
}

const below = (limitV: number, i: number, { rounds }: Diagnosed): number[] =>
  rounds.flatMap(({ groupVoltagesV }, r) => ((groupVoltagesV[i] ?? Infinity) < limitV ? [r] : []));

const sumOf = ({ groupVoltagesV }: DiagnosedRound): number =>
  groupVoltagesV.reduce<number>((total, v) => total + (v ?? 0), 0);

/** The terminals are dead where the groups are not. */
const isCutOff = (round: DiagnosedRound): boolean =>
  round.terminalV !== null && sumOf(round) > 0 && round.terminalV.value < cutOffFraction * sumOf(round);

/** By how much the terminal voltage exceeds the sum of the groups, in the mean of the rounds with each instrument. */
function sumsApart({ rounds, series }: Diagnosed): SumApart[] {
  const meters = metersOf(rounds);
  const differences = rounds.flatMap((round) => {
    const { terminalV, groupVoltagesV, digitV } = round;
    if (!terminalV || groupVoltagesV.includes(null) || isCutOff(round)) return [];
    const sum = sumOf(round);
    const u = Math.hypot(rectangular(terminalV.digitV), rectangular(digitV) * Math.sqrt(series), toolsDiffer * sum);
    return [{ value: terminalV.value - sum, u, meter: meters.indexOf(round.instrument) }];
  });
  // In several rounds the two tools differ alike.
  return meters.flatMap((_, meter) => {
    const own = differences.filter((one) => one.meter === meter);
    if (own.length === 0) return [];
    return { meter, value: mean(own.map(({ value }) => value)), u: max(own.map(({ u }) => u)) };
  });
}

/** What is said of the pack as a whole. */
function wholeOf(
  { rounds, series }: Diagnosed,
  groups: readonly GroupDiagnosis[],
  noneProbability: number,
): Finding<PackFault>[] {
  const findings: Finding<PackFault>[] = [];
  const areCutOff = rounds.some(isCutOff);
  if (areCutOff) findings.push({ fault: 'board-cut-off', probability: certain });
  const down = groups.filter((group) => group.isRunDown).length;
  if (down > series / 2) findings.push({ fault: 'over-discharged', probability: certain });
  const isGross = down > 0 || groups.some(({ ways }) => ways.length === 0);
  findings.push({ fault: 'none', probability: isGross || areCutOff ? 1 - certain : noneProbability });
  return findings.sort((one, other) => other.probability - one.probability);
}

/** A finding about a group, from the negative terminal, or about the whole: null. */
export type GroupFinding = Finding<PackFault> & { position: number | null };

const states: readonly PackFault[] = ['over-discharged', 'board-cut-off'];

/**
 * The one finding to name first: the likeliest cause where one is likelier than not, else the likeliest of all, states
 * and that nothing is wrong among them.
 */
export function firstNamed({
  groups,
  pack,
}: {
  groups: readonly { position: number; findings: readonly Finding<PackFault>[] }[];
  pack: readonly Finding<PackFault>[];
}): GroupFinding {
  const all = [
    ...pack.map((finding) => ({ ...finding, position: null })),
    ...groups.flatMap(({ position, findings }) =>
      findings.filter(({ fault }) => fault !== 'none').map((finding) => ({ ...finding, position })),
    ),
  ];
  const causes = all.filter(({ fault, probability }) => !states.includes(fault) && probability >= clear);
  const among = causes.length > 0 ? causes : all;
  return among.reduce<GroupFinding>(
    (best, one) => (one.probability > best.probability ? one : best),
    among[0] as GroupFinding,
  );
}
