import { median } from 'simple-statistics';
import type { GroupDiagnosis } from '../packs/diagnosis/diagnose';
import type { GroupFault } from '../packs/diagnosis/faults';
import type { Duty } from '../grading/duty';
import type { PackState } from '../packs/groupVoltages';
import { type Blamed, blamedBy, type Complaint } from '../packs/complaints';
import type { HouseRules } from '../chemistry/houseRules';
import type { Equipment } from './equipment';
import type { VisitsByReason } from '../packs/diagnosis/visit';
import { instrumentCode, judgeDiagnosis, type JudgedDiagnosis, type ReadRound } from './judgeDiagnosis';
import { countsSinceMend, type JudgedPack } from './judgePack';

const notThePack = ['cable', 'charger', 'setting'] as const satisfies Blamed[];
export type NotThePack = (typeof notThePack)[number];

/** What is to be done with a pack. */
export type ClinicVerdict =
  | { act: 'retire'; why: 'unsafe' | 'too-weak' }
  | { act: 'rescue' }
  /** By a complaint and its test it is something else. */
  | { act: 'not-the-pack'; blamed: NotThePack }
  | { act: 'mend-board' }
  | { act: 'mend-wire'; position: number }
  /** `isConfirmed`: another instrument reads the group with the others. */
  | { act: 'other-meter'; position: number; instrument: string | null; isConfirmed: boolean }
  /** Most of its groups are bad: what is good in it serves elsewhere. */
  | { act: 'take-apart'; positions: number[] }
  | { act: 'repair'; positions: number[]; faults: GroupFault[]; isRepeat: boolean }
  /** A group holds somewhat less: the pack serves a lighter use as it is. */
  | { act: 'downgrade'; duty: Duty | null; position: number | null }
  | { act: 'balance'; position: number; isAbove: boolean }
  | { act: 'use-on'; duty: Duty | null }
  /** `apart`: no fault explains why its groups differ so much. */
  /** `question`: a round looks mislabelled. */
  | { act: 'measure'; why: 'open' | 'question' | 'apart' };

/** What is wrong with a pack and what to do with it. */
export interface ClinicJudgement {
  diagnosis: JudgedDiagnosis;
  verdict: ClinicVerdict;
  repeats: RepeatedLow[];
  disagreeing: Disagreeing | null;
}

/** What a device said of a pack, and what its test showed. */
export interface Complained {
  takenAt: Date;
  said: Complaint;
  answer: string;
}

/**
 * A pack judged by its rounds; null where they say nothing of that kind, or where there is one group.
 *
 * @param every valid round, the newest first; those before it was mended are of another pack
 */
export function judgeClinic(
  pack: JudgedPack,
  every: readonly (ReadRound & RestedRound)[],
  rules: HouseRules,
  equipment: Pick<Equipment, 'curves' | 'instruments'>,
  complaint: Complained | null,
  past: VisitsByReason,
): ClinicJudgement | null {
  if (pack.series < 2 || pack.apart !== null) return null;
  const ofNow = countsSinceMend(pack);
  const rounds = every.filter(({ takenAt }) => ofNow(takenAt));
  const repeats = repeatedLows(rounds);
  const lowAgain = repeats.map(({ position }) => position);
  const diagnosis = judgeDiagnosis(pack, rounds, rules, equipment, {
    lowAgain,
    complainedAt: complaint?.takenAt ?? null,
    past,
  });
  if (!diagnosis) return null;
  // What was said of it before this visit was of another state.
  const blamed = complaint && diagnosis.reason === 'complaint' ? blamedBy(complaint.said, complaint.answer) : null;
  return {
    diagnosis,
    verdict: clinicVerdict(pack, diagnosis, repeats, blamed),
    repeats,
    disagreeing: disagreeingIn(
      diagnosis.rounds.map(({ state, takenAt, instrumentId, judgement }) => ({
        state,
        at: takenAt,
        instrument: instrumentCode(equipment, instrumentId),
        medianV: median(judgement.groups.map(({ voltageV }) => voltageV)),
      })),
    ),
  };
}

/** From here on a fault is taken to be there. */
const likely = 0.7;
/** A low charge is worth balancing from here on: it costs little where it was not so. */
const worthBalancing = 0.4;
/** A group that holds this share of the others' serves on. */
const holdsEnough = 0.8;
/** Of its groups this many bad are worth a repair; of a small pack one. */
const mostRepaired = 1 / 3;
const ofCells: readonly GroupFault[] = ['low-capacity', 'high-resistance', 'leak', 'dead'];

const probabilityOf = ({ findings }: GroupDiagnosis, fault: GroupFault): number =>
  findings.find((one) => one.fault === fault)?.probability ?? 0;

/** A round that is less likely mislabelled than this is taken as noted. Own rule. */
const worthAsking = 0.1;

/** A round looks mislabelled: no group is blamed until a person has answered. */
export const isRoundAsked = (verdict: ClinicVerdict): boolean =>
  verdict.act === 'measure' && verdict.why === 'question';

/** What a person should do with a pack, by its diagnosis, its grade, and whether the same group was low before. */
export function clinicVerdict(
  pack: Pick<JudgedPack, 'intake' | 'duty' | 'series' | 'judgement'>,
  diagnosis: Pick<JudgedDiagnosis, 'groups' | 'first' | 'questions' | 'instruments'>,
  repeats: readonly RepeatedLow[],
  blamed: Blamed | null = null,
): ClinicVerdict {
  const { groups, first, questions } = diagnosis;
  // What ends it overrides everything.
  if (pack.intake.class === 'out') return { act: 'retire', why: 'unsafe' };
  if (pack.intake.class === 'rescue-only') return { act: 'rescue' };
  if (pack.duty.duty === 'retire')
    return { act: 'retire', why: pack.duty.because.code === 'unsafe' ? 'unsafe' : 'too-weak' };
  // A round that looks mislabelled is settled before a group is accused.
  const isAsked = questions.some((one) => one.probability >= worthAsking);
  if (isAsked && first.position !== null) return { act: 'measure', why: 'question' };
  const elsewhere = notThePack.find((one) => one === blamed);
  // A group that is surely bad is bad whatever the cable does.
  if (elsewhere && (first.position === null || first.probability < likely))
    return { act: 'not-the-pack', blamed: elsewhere };
  if (first.fault === 'board-cut-off' || (blamed === 'board' && first.position === null)) return { act: 'mend-board' };
  const { position } = first;
  if (position !== null && first.probability >= likely) {
    if (first.fault === 'sense-tap') return { act: 'mend-wire', position };
    if (first.fault === 'meter-channel')
      return {
        act: 'other-meter',
        position,
        instrument: first.instrument ?? null,
        isConfirmed: new Set(diagnosis.instruments.filter((code) => code !== null)).size > 1,
      };
  }
  const bad = groups.flatMap((group) => {
    const faults = ofCells.filter((fault) => probabilityOf(group, fault) >= likely);
    return faults.length > 0 ? [{ group, faults }] : [];
  });
  const positions = bad.map(({ group }) => group.position);
  if (bad.length > Math.max(1, mostRepaired * pack.series)) return { act: 'take-apart', positions };
  const [one] = bad;
  if (
    one &&
    bad.length === 1 &&
    one.faults.every((fault) => fault === 'low-capacity') &&
    capacityOf(one.group) >= holdsEnough
  )
    return { act: 'downgrade', duty: pack.duty.duty, position: one.group.position };
  if (bad.length > 0)
    return { act: 'repair', positions, faults: [...new Set(bad.flatMap(({ faults }) => faults))], isRepeat: false };
  const low = groups.find((group) => probabilityOf(group, 'charge-shifted') >= worthBalancing);
  if (low && repeats.some((repeat) => repeat.position === low.position))
    return { act: 'repair', positions: [low.position], faults: ['leak'], isRepeat: true };
  if (low) {
    const isAbove = low.findings.some((finding) => finding.isAbove === true);
    return { act: 'balance', position: low.position, isAbove };
  }
  if (first.fault !== 'none' || first.probability < likely) return { act: 'measure', why: 'open' };
  const level = pack.judgement?.level;
  if (level === 'attention' || level === 'out-of-service') return { act: 'measure', why: 'apart' };
  if (pack.duty.duty === 'light') return { act: 'downgrade', duty: 'light', position: null };
  return { act: 'use-on', duty: pack.duty.duty };
}

/** What a group most likely holds, as times the others'. */
function capacityOf({ ways }: GroupDiagnosis): number {
  const likeliest = ways.reduce<GroupDiagnosis['ways'][number] | null>(
    (most, way) => (most && most.probability >= way.probability ? most : way),
    null,
  );
  return likeliest?.look.capacity ?? 1;
}

/** Two instruments that read the same pack at rest, and all of its groups differently. */
export interface Disagreeing {
  apartV: number;
  at: Date;
  instruments: [one: string, other: string];
  /** The one of the two that other instruments contradict; null where none did. */
  suspect: string | null;
}

/** The median of the groups in a round. */
export interface MedianReading {
  state: PackState;
  at: Date;
  instrument: string | null;
  medianV: number;
}

/** Between two instruments at rest nothing changes within this time. */
const soonMs = 2 * 3_600_000;
/** Good meters differ by less, V. */
const mostApartV = 0.01;

/**
 * Whether two instruments read the median of the groups differently at about one time.
 *
 * @param rounds in the order of time
 */
export function disagreeingIn(rounds: readonly MedianReading[]): Disagreeing | null {
  const rested = rounds.filter(({ state, instrument }) => state === 'rest' && instrument !== null);
  for (const [i, round] of rested.entries()) {
    const before = rested[i - 1];
    if (!before?.instrument || !round.instrument || before.instrument === round.instrument) continue;
    const apartV = Math.abs(round.medianV - before.medianV);
    if (!isSoon(round, before) || apartV <= mostApartV) continue;
    const pair = [before, round];
    const others = rested.filter(
      (other) => isSoon(round, other) && pair.every(({ instrument }) => instrument !== other.instrument),
    );
    const contradicted = pair.filter(({ medianV }) => others.every((other) => isApart(other, medianV)));
    const [suspect] = others.length > 0 && contradicted.length === 1 ? contradicted : [];
    return {
      apartV,
      at: round.at,
      instruments: [before.instrument, round.instrument],
      suspect: suspect?.instrument ?? null,
    };
  }
  return null;
}

const isSoon = (one: MedianReading, other: MedianReading): boolean =>
  Math.abs(one.at.getTime() - other.at.getTime()) <= soonMs;
const isApart = ({ medianV }: MedianReading, otherV: number): boolean => Math.abs(medianV - otherV) > mostApartV;

/** A group that was low, stood with the others afterwards, and is low again. */
export interface RepeatedLow {
  position: number;
  lowAt: Date;
  evenAt: Date;
}

interface RestedRound {
  state: PackState;
  takenAt: Date;
  judgement: { groups: readonly { position: number; odd: boolean; deviationV: number }[] };
}

/**
 * Groups that are low again in the newest round at rest, though they stood with the others in between. One low group is
 * ordinary; the same again is a fault. Source: common practice.
 *
 * @param rounds the newest first
 */
export function repeatedLows(rounds: readonly RestedRound[]): RepeatedLow[] {
  const [newest, ...before] = rounds.filter(({ state }) => state === 'rest');
  if (!newest) return [];
  const isLow = (round: RestedRound, position: number): boolean => {
    const group = round.judgement.groups.find((one) => one.position === position);
    return group !== undefined && group.odd && group.deviationV < 0;
  };
  return newest.judgement.groups.flatMap(({ position }) => {
    if (!isLow(newest, position)) return [];
    const evenSince = before.findIndex((round) => !isLow(round, position));
    const even = before[evenSince];
    const low = even && before.slice(evenSince).find((round) => isLow(round, position));
    return even && low ? [{ position, lowAt: low.takenAt, evenAt: even.takenAt }] : [];
  });
}
