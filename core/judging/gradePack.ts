import type { HouseRules } from '@/core/chemistry/houseRules';
import { type DutyVerdict, gradeDuty } from '@/core/grading/duty';
import type { IntakeReason } from '@/core/grading/intake';
import { quadrature, type Quantity } from '@/core/quantity/quantity';
import { showsTenSeconds } from '@/core/resistance/methods';
import { fixedDeviates } from '@/core/statistics/random';
import type { Warning } from '@/core/warning';
import { max, mean, sampleVariance, standardDeviation, sum } from 'simple-statistics';
import type { GroupResistance } from '../packs/groupResistances';
import type { PackFacts, Protocol } from './facts';
import type { PackResistances } from './judgePack';
import type { KnownCapacity } from './judgePartial';

/** The ten-second resistance of a pack's weakest group, and how it is known. */
export interface WeakestGroup {
  /** From the negative terminal. */
  position: number;
  resistance: Quantity;
  /** Each group was read so; or the whole was, and shared out as the groups stood to each other when they were read. */
  by: 'read' | 'shared';
  takenAt: Date;
}

/**
 * Groups compare under another method within this fraction (standard): the common error of the tool cancels, but quick
 * and slow parts differ from group to group. From memory.
 */
const sharedU = 0.022;
/** Leads and joints may take up to this fraction of the whole; the figure leans to the safe side. From memory. */
const mostLeads = 0.04;
/** Draws of the groups, to find which is the highest. */
const draws = 400;
const differentDeviates = 4096;

type Protocols = ReadonlyMap<number, Pick<Protocol, 'method' | 'holdS'>>;

/** The times that were read after ten seconds, the newest first. */
function tenSecondTimes(times: readonly PackResistances[], protocols: Protocols): PackResistances[] {
  return times.filter(({ protocolId }) => {
    const protocol = protocols.get(protocolId);
    return protocol !== undefined && showsTenSeconds(protocol.method, protocol.holdS);
  });
}

/** Why the newest ten-second reading does not count; null where it does, or where there is none. */
export const tenSecondLeftOut = (times: readonly PackResistances[], protocols: Protocols): Warning | null =>
  tenSecondTimes(times, protocols)[0]?.leftOut ?? null;

/**
 * The weakest group by its ten-second resistance: of the newest time that each group was read so, or that the whole was
 * read so, shared out by the newest figures of the groups among themselves, however these were read. Null where the
 * whole alone gives a mean that says nothing of the weakest, or nothing was read as the limits ask for.
 */
export function weakestGroup(
  times: readonly PackResistances[],
  series: number,
  protocols: Protocols,
): WeakestGroup | null {
  const isWhole = ({ groups }: PackResistances): boolean => groups.length === series;
  const amongThemselves = times.find(isWhole);
  for (const time of tenSecondTimes(times, protocols)) {
    if (time.leftOut !== null) continue;
    const read = isWhole(time) && highest(time);
    if (read) return { position: read.position, resistance: read.resistance, by: 'read', takenAt: time.takenAt };
    const among = amongThemselves && highest(amongThemselves);
    if (!time.whole || !among) continue;
    const fraction = highestFraction(amongThemselves.groups);
    const value = time.whole.value * fraction.value;
    const relativeU = quadrature(
      time.whole.u / time.whole.value,
      mostLeads / Math.sqrt(8),
      fraction.u / fraction.value,
    );
    return {
      position: among.position,
      resistance: { value, u: value * relativeU },
      by: 'shared',
      takenAt: time.takenAt,
    };
  }
  return null;
}

/**
 * The highest group as a fraction of the sum of all. The highest of several readings is mostly too high by its own
 * error: each is drawn towards the mean of its pack by its uncertainty, and the highest taken of many draws.
 * Source: empirical Bayes, B. Efron, C. Morris, J. Am. Stat. Assoc. 70 (1975).
 */
function highestFraction(groups: readonly Pick<GroupResistance, 'resistance' | 'digitU'>[]): Quantity {
  const ohms = groups.map(({ resistance }) => resistance.value);
  const meanOhm = mean(ohms);
  const readU = groups.map(({ resistance, digitU }) => quadrature(digitU, sharedU * resistance.value));
  const readVariance = mean(readU.map((u) => u * u));
  const trueVariance = Math.max(0, (ohms.length > 1 ? sampleVariance(ohms) : 0) - readVariance);
  const centred = ohms.map((ohm, i) => {
    const kept = trueVariance / (trueVariance + (readU[i] as number) ** 2);
    return { value: meanOhm + kept * (ohm - meanOhm), u: (readU[i] as number) * Math.sqrt(kept) };
  });
  const deviates = fixedDeviates();
  const fractions = Array.from({ length: draws }, (_, k) => {
    const drawn = centred.map(
      ({ value, u }, i) => value + u * (deviates[(k * 37 + i * 101) % differentDeviates] as number),
    );
    return max(drawn) / sum(drawn);
  });
  return {
    value: mean(fractions),
    u: quadrature(standardDeviation(fractions), sharedU / Math.sqrt(ohms.length) / ohms.length),
  };
}

const highest = ({ groups }: PackResistances) =>
  groups.toSorted((one, other) => other.resistance.value - one.resistance.value)[0];

/**
 * The duty of a pack by its weakest group: its capacity is that of the first group to be empty, its rate that at which
 * the group of the highest resistance sags by the house's share. A group that leaks or is failing leaves light
 * duty at best. Source: common practice.
 *
 * @param leaking the group that did not hold its voltage, from the negative terminal; null where none is known
 * @param holdAsked it was rescued, and no self-discharge test since says that it holds
 */
export function gradePack(
  pack: Pick<PackFacts, 'chemistry' | 'ratedCapacityAh' | 'asNew' | 'rescues'>,
  { capacity, capacityIsAtLeast }: KnownCapacity,
  weakest: WeakestGroup | null,
  amongGroups: PackResistances | null,
  safety: readonly IntakeReason[],
  leaking: number | null,
  holdAsked: boolean,
  rules: HouseRules,
): DutyVerdict {
  const asNewAh = pack.asNew?.capacityAh ?? null;
  const graded = gradeDuty(
    {
      chemistry: pack.chemistry,
      asNewCapacityAh: asNewAh ?? pack.ratedCapacityAh,
      asNewIs: asNewAh === null ? 'rated' : 'measured',
      capacityAh: capacity,
      capacityIsAtLeast,
      resistanceOhm: weakest?.resistance ?? null,
      rescues: pack.rescues,
      holdAsked,
      safety,
    },
    rules,
  );
  if (graded.duty !== 'surge' && graded.duty !== 'steady') return graded;
  if (leaking !== null)
    return {
      ...graded,
      duty: 'light',
      measureAgain: null,
      because: { code: 'group-leaks', position: leaking },
    };
  const worst = amongGroups && highest(amongGroups);
  if (worst?.level !== 'failing') return graded;
  const because = { code: 'group-failing', position: worst.position, times: worst.timesMedian ?? 1 } as const;
  return { ...graded, duty: 'light', measureAgain: null, because };
}
