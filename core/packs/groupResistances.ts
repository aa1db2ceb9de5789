import { median } from 'simple-statistics';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import { ImpossibleInput } from '../impossibleInput';
import { type Quantity, quadrature } from '../quantity/quantity';

/** The whole and the sum of the groups, read at one time, agree within this share: leads and joints. From memory. */
export const sumFraction = 0.1;

/** A group's resistance compared with those of its pack. */
export type ResistanceLevel = 'even' | 'watch' | 'failing';

/** A group's own figure of another day, or of another pack, taken the same way. */
export interface ComparedWith {
  resistance: Quantity;
  at: Date;
}

export interface GroupResistancesRead {
  /** Each group that was read, from the negative terminal. */
  groups: readonly (Pick<GroupResistance, 'position' | 'resistance'> & Partial<Pick<GroupResistance, 'digitU'>>)[];
  /** How many groups the pack has. */
  series: number;
  /** From terminal to terminal, where it was measured or reported, too. */
  whole: Quantity | null;
  /** The oldest figure of each group under the same protocol, by position. */
  first: ReadonlyMap<number, ComparedWith>;
  /** Of each group when new, Ω, from the negative terminal; null where not noted. */
  asNewOhm: readonly number[] | null;
}

export interface GroupResistance {
  position: number;
  resistance: Quantity;
  /** Standard uncertainty of its last digit alone, Ω: what its pack's groups do not share. */
  digitU: number;
  /** Times the median of the groups; null in a pack of one group, or where it alone was read. */
  timesMedian: number | null;
  level: ResistanceLevel;
  /** Times its first figure under the same protocol; null where that is this one. */
  sinceFirst: { times: Quantity; at: Date } | null;
  /** Times its figure when new; null where not noted. */
  sinceNew: number | null;
}

/** What the house rules say of a pack's resistances, with the facts; its sentence is in words/packs.ts. */
export type ResistanceSaying = (
  | { code: 'group-failing' | 'group-watch'; position: number; resistance: Quantity; medianOhm: number; times: number }
  | { code: 'groups-even'; lowestOhm: number; highestOhm: number }
  | { code: 'risen' | 'risen-since-new'; positions: number[]; times: number }
  | { code: 'whole-not-sum'; sum: Quantity; whole: Quantity }
) & { urgent: boolean; rule?: RuleKey };

export interface GroupResistances {
  groups: GroupResistance[];
  /** The median of the groups, Ω; null where none was read. */
  medianOhm: number | null;
  /** Of all groups; null unless every one was read. */
  sum: Quantity | null;
  whole: Quantity | null;
  /** Null unless groups and whole were read. */
  sumAgrees: boolean | null;
  /** A group's mean share, from the whole where it was read, else from the groups; null without either. */
  perGroup: Quantity | null;
  /** The most urgent first. */
  says: ResistanceSaying[];
}

/**
 * Judges the resistances of a pack's groups, read at one time, against each other, against their own past and against
 * when they were new. Only a high resistance is a fault. Source: common practice (22 among 6, 6 and 8 is on its way
 * out, 18 between 13.7 and 15.4 a warning, 9.3 between 8.4 and 9.0 nothing); every limit is a house rule.
 *
 * @throws ImpossibleInput for a resistance not above zero
 */
export function judgeGroupResistances(read: GroupResistancesRead, rules: HouseRules): GroupResistances {
  for (const { resistance } of read.groups) {
    if (!(resistance.value > 0)) throw new ImpossibleInput('groups', { code: 'resistance-not-above-zero' });
  }
  const ohms = read.groups.map(({ resistance }) => resistance.value);
  const medianOhm = ohms.length === 0 ? null : medianOf(ohms);
  const groups = read.groups.map(({ position, resistance, digitU = 0 }): GroupResistance => {
    const timesMedian = medianOhm === null || ohms.length < 2 ? null : resistance.value / medianOhm;
    const first = read.first.get(position) ?? null;
    const asNew = read.asNewOhm?.[position - 1];
    return {
      position,
      resistance,
      digitU,
      timesMedian,
      level: levelOf(timesMedian, rules),
      sinceFirst: first && { times: ratioOf(resistance, first.resistance), at: first.at },
      sinceNew: asNew === undefined ? null : resistance.value / asNew,
    };
  });
  const sum =
    groups.length === read.series
      ? {
          value: ohms.reduce((total, ohm) => total + ohm, 0),
          // One charger or meter read them all: its error leans the same way in each (JCGM 100:2008, 5.2.2 note 1).
          u: groups.reduce((total, { resistance }) => total + resistance.u, 0),
        }
      : null;
  const { whole } = read;
  const sumAgrees =
    sum && whole && read.series > 1 ? Math.abs(whole.value - sum.value) <= sumFraction * sum.value : null;
  const judged = { groups, medianOhm, sum, whole, sumAgrees, perGroup: fractionOf(whole ?? sum, read.series) };
  return { ...judged, says: sayingsOf(judged, rules) };
}

/** Of two groups the lower: only a high resistance is a fault. */
export const medianOf = (ohms: readonly number[]): number =>
  ohms.length === 2 ? Math.min(...ohms) : median([...ohms]);

const fractionOf = (of: Quantity | null, series: number): Quantity | null =>
  of && { value: of.value / series, u: of.u / series };

const ratioOf = (now: Quantity, then: Quantity): Quantity => {
  const value = now.value / then.value;
  return { value, u: value * quadrature(now.u / now.value, then.u / then.value) };
};

function levelOf(times: number | null, rules: HouseRules): ResistanceLevel {
  if (times === null) return 'even';
  if (times >= rules.groupResistanceFailing) return 'failing';
  return times >= rules.groupResistanceWatch ? 'watch' : 'even';
}

function sayingsOf(
  { groups, medianOhm, sum, whole, sumAgrees }: Omit<GroupResistances, 'says'>,
  rules: HouseRules,
): ResistanceSaying[] {
  const says = groups
    .toSorted((a, b) => (b.timesMedian ?? 0) - (a.timesMedian ?? 0))
    .flatMap(({ position, resistance, timesMedian: times, level }): ResistanceSaying[] => {
      if (medianOhm === null || times === null || level === 'even') return [];
      const of = { position, resistance, medianOhm, times };
      return level === 'failing'
        ? [{ code: 'group-failing', ...of, urgent: true, rule: 'groupResistanceFailing' }]
        : [{ code: 'group-watch', ...of, urgent: false, rule: 'groupResistanceWatch' }];
    });
  // A rise must be more than the uncertainty of both figures.
  const risen = groups.filter(
    ({ sinceFirst }) =>
      sinceFirst &&
      sinceFirst.times.value >= rules.resistanceRisen &&
      sinceFirst.times.value - 1 > 2 * sinceFirst.times.u,
  );
  const steepest = risen.toSorted((a, b) => (b.sinceFirst?.times.value ?? 0) - (a.sinceFirst?.times.value ?? 0))[0];
  if (steepest?.sinceFirst)
    says.push({
      code: 'risen',
      positions: risen.map(({ position }) => position),
      times: steepest.sinceFirst.times.value,
      urgent: false,
      rule: 'resistanceRisen',
    });
  const aged = groups.filter(({ sinceNew }) => sinceNew !== null && sinceNew >= rules.resistanceRisen);
  if (aged.length > 0)
    says.push({
      code: 'risen-since-new',
      positions: aged.map(({ position }) => position),
      times: Math.max(...aged.map(({ sinceNew }) => sinceNew ?? 0)),
      urgent: false,
      rule: 'resistanceRisen',
    });
  if (sum && whole && sumAgrees === false) says.push({ code: 'whole-not-sum', sum, whole, urgent: false });
  if (groups.length > 1 && groups.every(({ level }) => level === 'even')) {
    const ohms = groups.map(({ resistance }) => resistance.value);
    says.push({
      code: 'groups-even',
      lowestOhm: Math.min(...ohms),
      highestOhm: Math.max(...ohms),
      urgent: false,
      rule: 'groupResistanceWatch',
    });
  }
  return says;
}
