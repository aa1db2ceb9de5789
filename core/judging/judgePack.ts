import { type HouseRules, lowestVoltageV } from '@/core/chemistry/houseRules';
import { judgeGroups, type PackJudgement } from '@/core/packs/groupVoltages';
import { type IntakeVerdict, judgeIntake } from '@/core/grading/intake';
import { cyclesNow } from '@/core/packs/cycles';
import { type GroupResistance, type GroupResistances, judgeGroupResistances } from '@/core/packs/groupResistances';
import { type Quantity, rectangular } from '@/core/quantity/quantity';
import type { Warning } from '@/core/warning';
import type { Pack, PackFacts, PackRound, StoredResistance } from './facts';
import type { DutyVerdict } from '@/core/grading/duty';
import { nextStation, type Waiting } from '@/core/grading/nextStation';
import { type Status, statusOf } from '@/core/grading/status';
import { type UnfitReason, unfitFor } from './fitForUse';
import { gradePack, tenSecondLeftOut, type WeakestGroup, weakestGroup } from './gradePack';
import { countsAfter } from './rescue';
import { correctedVoltage } from './correctedVoltage';
import { newestByProtocol, safetyFindings } from './judgeCell';
import { type HeldVerdict, heldOf } from './judgeSelfDischarge';
import { type CapacityBy, capacityOf, type JudgedPartial, judgePartial } from './judgePartial';
import type { Equipment } from './equipment';
import { apartU, channelOfGroup } from './instrumentBook';
import { type JudgedFor, judgePresses } from './judgeResistance';

/**
 * Group i is read by channel i of an instrument with several, all by the one of any other; the terminals by their own.
 */
export function judgePackRound(
  pack: Pack,
  round: PackRound,
  rules: HouseRules,
  { instruments: book, curves }: Pick<Equipment, 'instruments' | 'curves'>,
): PackJudgement {
  const volt = (valueV: number, stepV: number, instrumentId: number | null, channel: number) => {
    const { value, u } = correctedVoltage({ valueV, step: stepV, instrumentId, channel, takenAt: round.takenAt }, book);
    return { voltageV: value, stepV, u, apartU: apartU(value, stepV, book.byId(instrumentId)) };
  };
  const groups = round.groupVoltagesV.map((valueV, i) => {
    const stepV = round.groupStepsV[i] ?? null;
    if (valueV === null || stepV === null) return null;
    return volt(valueV, stepV, round.instrumentId, channelOfGroup(book, round.instrumentId, i + 1));
  });
  const terminal =
    round.terminalV === null || round.terminalStepV === null
      ? null
      : volt(round.terminalV, round.terminalStepV, round.terminalInstrumentId, 1);
  return judgeGroups(
    { chemistry: pack.chemistry, curve: curves.of(pack), state: round.state, groups, terminal },
    rules,
  );
}

/** What a pack is where its resistance is judged. */
export const packRead = ({
  code,
  chemistry,
  board,
  series,
}: Pick<Pack, 'code' | 'chemistry' | 'board' | 'series'>): JudgedFor => ({
  code,
  chemistry,
  board: board !== 'none',
  series,
});

/** The resistances of a pack that were read at one time, under one protocol. */
export interface PackResistances extends GroupResistances {
  roundId: number;
  protocolId: number;
  takenAt: Date;
  temperatureC: number | null;
  /** Why they are not compared with other days; null where they are. */
  leftOut: Warning | null;
}

/** What was read within this time, in one round, was read at one time, s. */
const atOneTimeS = 6 * 3600;

/** The readings of a pack, newest first, as they were taken together. */
function readTogether(readings: readonly StoredResistance[]): StoredResistance[][] {
  const together: StoredResistance[][] = [];
  for (const reading of readings) {
    const own = together.findLast(([newest]) => newest?.roundId === reading.roundId);
    const [newest] = own ?? [];
    if (newest && (newest.takenAt.getTime() - reading.takenAt.getTime()) / 1000 <= atOneTimeS) own?.push(reading);
    else together.push([reading]);
  }
  return together;
}

/** Every time that the resistances of a pack were read, newest first. Of several presses the newest counts. */
export function judgePackResistances(
  pack: Pick<PackFacts, 'code' | 'chemistry' | 'board' | 'series' | 'resistances' | 'asNew' | 'mends'>,
  rules: HouseRules,
  equipment: Equipment,
): PackResistances[] {
  const times = readTogether(pack.resistances).flatMap((readings) => {
    const judged = judgePresses(readings, packRead(pack), equipment);
    const at = new Map<number, { resistance: Quantity; digitU: number }>();
    judged.forEach(({ figure }, i) => {
      const { position = 1, facts } = readings[i] ?? {};
      if (!figure || at.has(position)) return;
      at.set(position, {
        resistance: figure,
        digitU: facts?.kind === 'resistance' ? rectangular(facts.step) : 0,
      });
    });
    const [newest] = readings;
    return newest && at.size > 0 ? [{ newest, at, leftOut: judged[0]?.leftOut ?? null }] : [];
  });
  return times.map(({ newest, at, leftOut }) => {
    const earlier = times.filter(
      (one) =>
        one.leftOut === null && one.newest.protocolId === newest.protocolId && one.newest.takenAt < newest.takenAt,
    );
    // They come newest first: the oldest of each group is what stays.
    const first = new Map(
      earlier.flatMap((one) =>
        [...one.at].flatMap(([position, { resistance }]) =>
          isMendedBetween(pack.mends, position, one.newest.takenAt, newest.takenAt)
            ? []
            : [[position, { resistance, at: one.newest.takenAt }] as const],
        ),
      ),
    );
    const asNewOhm = pack.mends.some(({ at }) => at <= newest.takenAt) ? null : (pack.asNew?.resistancesOhm ?? null);
    return {
      roundId: newest.roundId,
      protocolId: newest.protocolId,
      takenAt: newest.takenAt,
      temperatureC: newest.temperatureC,
      leftOut,
      ...judgeGroupResistances(
        {
          groups: [...at]
            .filter(([position]) => position > 0)
            .sort(([a], [b]) => a - b)
            .map(([position, read]) => ({ position, ...read })),
          series: pack.series,
          whole: at.get(0)?.resistance ?? null,
          first: leftOut === null ? first : new Map(),
          asNewOhm: leftOut === null ? asNewOhm : null,
        },
        rules,
      ),
    };
  });
}

/** The ratio of a pack's median to that of a twin, read the same way. */
export interface BesideTwin {
  code: string;
  times: number;
  /** Beyond what two alike differ by. */
  isOdd: boolean;
}

/** A pack beside its twins: those that were read under the protocol of its newest time. */
export function besideTwins(pack: JudgedPack, packs: readonly JudgedPack[], rules: HouseRules): BesideTwin[] {
  const own = pack.resistanceTimes.find((time) => time.leftOut === null && time.medianOhm !== null);
  if (!own?.medianOhm) return [];
  const { medianOhm, protocolId } = own;
  return pack.twins.flatMap((code) => {
    const times = packs.find((one) => one.code === code)?.resistanceTimes ?? [];
    const its = times.find((time) => time.leftOut === null && time.protocolId === protocolId)?.medianOhm ?? null;
    if (its === null) return [];
    const ratio = medianOhm / its;
    return [{ code, times: ratio, isOdd: ratio >= rules.resistanceRisen }];
  });
}

/** Of the times that a pack was read in a round that of a reading taken then; else its newest there. */
export const timeOfReading = (
  { resistanceTimes }: Pick<JudgedPack, 'resistanceTimes'>,
  { roundId, takenAt }: { roundId: number; takenAt: Date | undefined },
): PackResistances | undefined => {
  const own = resistanceTimes.filter((time) => time.roundId === roundId);
  return own.find((time) => time.takenAt.getTime() === takenAt?.getTime()) ?? own[0];
};

/** What a screen shows of a pack whose resistances were just read. Plain data: it goes to the browser. */
export type PackFigure = Pick<PackResistances, 'medianOhm' | 'whole' | 'perGroup' | 'says' | 'leftOut'> & {
  code: string;
  series: number;
  groups: Pick<GroupResistance, 'position' | 'resistance' | 'level'>[];
};

export const packFigure = (
  { code, series }: Pick<Pack, 'code' | 'series'>,
  { groups, medianOhm, whole, perGroup, says, leftOut }: PackResistances,
): PackFigure => ({
  code,
  series,
  groups: groups.map(({ position, resistance, level }) => ({ position, resistance, level })),
  medianOhm,
  whole,
  perGroup,
  says,
  leftOut,
});

/** A pack with what its facts say under the rules in force. */
export interface JudgedPack extends Omit<PackFacts, 'holds' | 'partial'> {
  /** Of its newest round. */
  judgement: PackJudgement | null;
  /** Every time its resistances were read, newest first. */
  resistanceTimes: PackResistances[];
  /** The newest time that distinguishes its groups, else the newest; null where none was read. */
  amongGroups: PackResistances | null;
  /** A hand is wanted: something that its voltages or its newest resistances say. */
  isUrgent: boolean;
  /** The newest self-discharge result of its worst group; null where it was in no test. */
  held: HeldVerdict | null;
  intake: IntakeVerdict;
  /** What it gave until its first group, or the whole by count, met the cut-off; or by a partial charge. */
  capacity: Quantity | null;
  /** Its discharge ended above the cut-off. */
  capacityIsAtLeast: boolean;
  capacityBy: CapacityBy | null;
  partial: JudgedPartial | null;
  weakest: WeakestGroup | null;
  /** Why its newest ten-second reading does not count; null where it does, or where there is none. */
  leftOut: Warning | null;
  /** Of its weakest group, after ten seconds. */
  resistance: Quantity | null;
  /** By protocol: the newest mean of a group that compares within it, Ω. */
  figures: [protocolId: number, resistanceOhm: number][];
  duty: DutyVerdict;
  standing: Status;
  waits: Waiting;
  /** Null where nothing is known of any. */
  cycles: number | null;
  /** Why it is not to be used; empty where nothing forbids it. */
  unfit: UnfitReason[];
  /** It was taken out, and not brought back since. */
  isOut: boolean;
}

/** Whether what was read of a pack then is of the pack as it is now. */
export const countsSinceMend = ({ mends }: Pick<PackFacts, 'mends'>) => countsAfter(mends[0]?.at ?? null);

/** Whether a group was given other cells after the one moment, and by the other. */
export const isMendedBetween = (mends: PackFacts['mends'], position: number, after: Date, by?: Date): boolean =>
  mends.some((mend) => mend.position === position && mend.at > after && (by === undefined || mend.at <= by));

/** Of a pack that was mended its newest rounds, as far as they are of now. */
function sinceMended<T extends Pick<PackFacts, 'mends' | 'latest' | 'rested' | 'afterUse'>>(pack: T): T {
  const counts = countsSinceMend(pack);
  const ofNow = <R extends { takenAt: Date }>(round: R | null): R | null =>
    round !== null && counts(round.takenAt) ? round : null;
  return { ...pack, latest: ofNow(pack.latest), rested: ofNow(pack.rested), afterUse: ofNow(pack.afterUse) };
}

export function judgePack(
  { holds: selfDischarges, ...facts }: PackFacts,
  rules: HouseRules,
  equipment: Equipment,
): JudgedPack {
  const pack = sinceMended(facts);
  const rested = pack.rested && judgePackRound(pack, pack.rested, rules, equipment);
  const judgement = pack.latest && judgePackRound(pack, pack.latest, rules, equipment);
  const resistanceTimes = judgePackResistances(pack, rules, equipment);
  const intake = judgeIntake(
    {
      ...pack,
      restVoltagesV: rested?.groups.map((group) => group.voltageV) ?? [],
      isWeighed: false,
      massKg: null,
      modelMassKg: null,
    },
    rules,
  );
  const ofNow = countsSinceMend(pack);
  const sinceRescue = countsAfter(pack.rescuedAt);
  const counts = (at: Date): boolean => ofNow(at) && sinceRescue(at);
  const timesOfNow = resistanceTimes.filter(({ takenAt }) => ofNow(takenAt));
  const weakest = weakestGroup(
    timesOfNow.filter(({ takenAt }) => sinceRescue(takenAt)),
    pack.series,
    equipment.protocols,
  );
  const amongGroups =
    timesOfNow.find(({ groups }) => groups.length >= Math.min(2, pack.series)) ?? timesOfNow[0] ?? null;
  const held = heldOf(
    selfDischarges.filter(({ beganAt }) => ofNow(beganAt)),
    pack.id,
    rules,
    equipment,
  );
  const leaking = held?.verdict === 'leaks' ? held.position : null;
  const partial = pack.partial && judgePartial(pack.partial, pack, equipment);
  const known = capacityOf(
    pack.run && counts(pack.run.endedAt) ? pack.run : null,
    partial && counts(partial.takenAt) ? partial : null,
    pack.noted && counts(pack.noted.takenAt) ? pack.noted : null,
  );
  const holdAsked = pack.rescuedAt !== null && !(held?.verdict === 'holds' && counts(held.beganAt));
  const duty = gradePack(pack, known, weakest, amongGroups, safetyFindings(pack.findings), leaking, holdAsked, rules);
  const standing = statusOf(intake.class, duty.duty);
  return {
    ...pack,
    judgement,
    resistanceTimes,
    amongGroups,
    isUrgent:
      pack.apart === null && [...(judgement?.says ?? []), ...(amongGroups?.says ?? [])].some(({ urgent }) => urgent),
    held,
    intake,
    ...known,
    partial,
    weakest,
    leftOut: tenSecondLeftOut(timesOfNow, equipment.protocols),
    resistance: weakest?.resistance ?? null,
    figures: newestByProtocol(
      timesOfNow.flatMap(({ protocolId, perGroup, leftOut }): [number, number][] =>
        perGroup && leftOut === null ? [[protocolId, perGroup.value]] : [],
      ),
    ),
    duty,
    standing,
    unfit: unfitFor({
      ...pack,
      intake,
      standing,
      held,
      amongGroups,
      rested: pack.rested && rested && { takenAt: pack.rested.takenAt, judgement: rested },
      afterUse: pack.afterUse && {
        takenAt: pack.afterUse.takenAt,
        judgement: judgePackRound(pack, pack.afterUse, rules, equipment),
      },
      floorV: lowestVoltageV(pack.chemistry, rules),
    }),
    isOut: pack.takenOut !== null && !(pack.uses[0] && pack.uses[0].at >= pack.takenOut.at),
    waits: nextStation(intake, duty, { inBuild: false, putAway: pack.apart !== null }),
    cycles: cyclesNow(pack.cyclesNoted, pack.chargeEnds),
  };
}
