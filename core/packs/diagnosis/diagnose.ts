import { max, mean, sum } from 'simple-statistics';
import { ImpossibleInput } from '../../impossibleInput';
import { rectangular } from '../../quantity/quantity';
import { evidenceOf } from './evidence';
import type { Finding, GroupFault, PackFault, Way } from './faults';
import { deadV, type Middle, middlesOf } from './middles';
import type { Diagnosed, DiagnosedRound } from './visit';
import { type SumApart, weighGroups } from './weighing';

/** Terminals below this share of their groups are cut off. */
const cutOffShare = 0.5;
/** Two tools differ by this share of the whole (standard). */
const toolsDiffer = 0.003;
const certain = 0.97;

/** What a group's readings say, held against the pack's others. */
export interface GroupDiagnosis {
  position: number;
  /** At the newest round at rest, as it was read; null where none was. */
  stateOfCharge: number | null;
  /** The likeliest first; those below one per cent are left out. */
  findings: Finding<GroupFault>[];
  /** Of nothing being wrong with it. */
  soundProbability: number;
  /** How its readings may have come about; empty where its voltage alone says what is wrong. */
  ways: Way[];
  /** How far it stands from the middle of the groups in each round, V; null where it was not read. */
  apartV: (number | null)[];
  /** The rounds, by their place, whose readings its likeliest fault rests on; empty while it is likelier sound. */
  restsOn: number[];
}

export interface PackDiagnosis {
  groups: GroupDiagnosis[];
  /** Of the pack as a whole: `none`, its board, all of it run down. */
  pack: Finding<PackFault>[];
  /** Where the middle of its groups stood in each round; null where none was read. */
  middles: (Middle | null)[];
}

/**
 * What is wrong with a pack, by whatever was read of it. Of each group the ways in which its readings may have come
 * about are weighed against each other: sound, or with one or two faults of any size, each predicted through the
 * open-circuit curve from where the middle of the groups stands, with what alike cells and one tool differ by. What
 * remains open stays open: few readings give broad answers. Source: Bayes' rule; the signatures are common practice.
 *
 * @throws ImpossibleInput where no round reads any group
 */
export function diagnosePack(pack: Diagnosed): PackDiagnosis {
  const read = pack.rounds.filter(({ groupVoltagesV }) => groupVoltagesV.some((v) => v !== null));
  if (read.length === 0) throw new ImpossibleInput('rounds', { code: 'no-group-voltages' });
  const rounds = pack.rounds;
  const middles = middlesOf(pack);
  const apart = Array.from({ length: pack.series }, (_, i) =>
    rounds.map(({ groupVoltagesV }, r) => {
      const [own, middle] = [groupVoltagesV[i] ?? null, middles[r]];
      return own === null || !middle ? null : own - middle.voltageV;
    }),
  );
  const gross = Array.from({ length: pack.series }, (_, i) => grossFault(i, pack));
  const weighed = weighGroups(apart, middles, pack, gross.some(Boolean) ? [] : sumsApart(pack));
  const newestRest = rounds.findLastIndex(({ state }) => state === 'rest');

  const groups = weighed.groups.map(({ findings, soundProbability, ways }, i): GroupDiagnosis => {
    const restV = rounds[newestRest]?.groupVoltagesV[i] ?? null;
    const certainFault = gross[i];
    return {
      position: i + 1,
      stateOfCharge: restV === null ? null : pack.curve.socAt({ value: restV, u: 0 }).value,
      findings: certainFault ? [{ fault: certainFault, probability: certain }] : findings,
      soundProbability: certainFault ? 1 - certain : soundProbability,
      ways: certainFault ? [] : ways,
      apartV: apart[i] ?? [],
      restsOn: certainFault ? grossIn(certainFault, i, pack) : restsOn(ways, apart[i] ?? [], middles, pack),
    };
  });
  return { groups, pack: wholeOf(pack, groups, weighed.noneProbability), middles };
}

/** The readings that the likeliest way of its being faulty rests on. */
function restsOn(
  ways: readonly Way[],
  apartV: readonly (number | null)[],
  middles: readonly (Middle | null)[],
  pack: Diagnosed,
): number[] {
  const faulty = ways.filter(({ faults }) => faults.length > 0);
  const likeliest = faulty.find(({ probability }) => probability === max(faulty.map((way) => way.probability)));
  if (!likeliest || sum(faulty.map(({ probability }) => probability)) < 0.5) return [];
  return evidenceOf(likeliest.look, apartV, middles, pack);
}

/** A group that is dead or was run too far down needs no weighing. */
function grossFault(i: number, { rounds, floorV }: Diagnosed): GroupFault | null {
  const own = rounds.flatMap(({ groupVoltagesV, state, currentA }) => {
    const v = groupVoltagesV[i] ?? null;
    return v === null ? [] : [{ v, isRest: state === 'rest' && currentA === 0 }];
  });
  if (own.some(({ v }) => v <= deadV)) return 'dead';
  return own.some(({ v, isRest }) => isRest && v < floorV) ? 'over-discharged' : null;
}

const grossIn = (fault: GroupFault, i: number, { rounds, floorV }: Diagnosed): number[] =>
  rounds.flatMap(({ groupVoltagesV }, r) => {
    const v = groupVoltagesV[i] ?? null;
    return v !== null && v < (fault === 'dead' ? deadV : floorV) ? [r] : [];
  });

const sumOf = ({ groupVoltagesV }: DiagnosedRound): number =>
  groupVoltagesV.reduce<number>((total, v) => total + (v ?? 0), 0);

/** The terminals are dead where the groups are not. */
const isCutOff = (round: DiagnosedRound): boolean =>
  round.terminalV !== null && sumOf(round) > 0 && round.terminalV.value < cutOffShare * sumOf(round);

/** By how much the terminals stand above the sum of the groups, in the mean of the rounds with each instrument. */
function sumsApart({ rounds, series }: Diagnosed): SumApart[] {
  const meters = [...new Set(rounds.map(({ instrument }) => instrument))];
  const told = rounds.flatMap((round) => {
    const { terminalV, groupVoltagesV, digitV } = round;
    if (!terminalV || groupVoltagesV.includes(null) || isCutOff(round)) return [];
    const sum = sumOf(round);
    const u = Math.hypot(rectangular(terminalV.digitV), rectangular(digitV) * Math.sqrt(series), toolsDiffer * sum);
    return [{ value: terminalV.value - sum, u, meter: meters.indexOf(round.instrument) }];
  });
  // In several rounds the two tools differ alike.
  return meters.flatMap((_, meter) => {
    const own = told.filter((one) => one.meter === meter);
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
  const down = groups.filter(({ findings: own }) => own[0]?.fault === 'over-discharged').length;
  if (down > series / 2) findings.push({ fault: 'over-discharged', probability: certain });
  const isGross = groups.some(({ ways }) => ways.length === 0);
  findings.push({ fault: 'none', probability: isGross || areCutOff ? 1 - certain : noneProbability });
  return findings.sort((one, other) => other.probability - one.probability);
}

/** A finding about a group, from the black lead, or about the whole: null. */
export type Placed = Finding<PackFault> & { position: number | null };

/** The one cause to name first: the likeliest finding of all, or that nothing is wrong with the pack. */
export function firstNamed({
  groups,
  pack,
}: {
  groups: readonly { position: number; findings: readonly Finding<PackFault>[] }[];
  pack: readonly Finding<PackFault>[];
}): Placed {
  const all = [
    ...pack.map((finding) => ({ ...finding, position: null })),
    ...groups.flatMap(({ position, findings }) =>
      findings.filter(({ fault }) => fault !== 'none').map((finding) => ({ ...finding, position })),
    ),
  ];
  return all.reduce<Placed>((best, one) => (one.probability > best.probability ? one : best), all[0] as Placed);
}
