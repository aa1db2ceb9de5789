import { chemistries } from '../chemistry/chemistries';
import { diagnosePack, firstNamed, type PackDiagnosis, type GroupFinding } from '../packs/diagnosis/diagnose';
import { nextMeasurement, type NextMeasurement } from '../packs/diagnosis/nextMeasurement';
import type { PackJudgement } from '../packs/groupVoltages';
import type { HouseRules } from '../chemistry/houseRules';
import {
  type Beforehand,
  type Diagnosed,
  nothingKnown,
  type VisitReason,
  type VisitsByReason,
} from '../packs/diagnosis/visit';
import type { Equipment } from './equipment';
import { channelOfGroup } from './instrumentBook';
import type { PackRound } from './facts';
import type { JudgedPack } from './judgePack';

/** A round of a pack with its voltages corrected. */
export type ReadRound = Pick<PackRound, 'state' | 'takenAt' | 'groupStepsV' | 'currentA' | 'instrumentId'> & {
  judgement: Pick<PackJudgement, 'groups' | 'terminal'>;
};

/** What is wrong with a pack, with its rounds and what to measure next. */
export interface JudgedDiagnosis extends PackDiagnosis {
  /** In the order of time. */
  rounds: ReadRound[];
  /** Of each round the code of its instrument; null: not noted. */
  instruments: (string | null)[];
  /** Why it is measured, which weighs how likely it is sound. */
  reason: VisitReason;
  next: NextMeasurement | null;
  first: GroupFinding;
}

/** Rounds further back are of another state of the pack. */
const visitMs = 30 * 86_400_000;
const mostRounds = 10;

/** What is on file of a pack beside the rounds of the visit. */
interface KnownBefore {
  /** Groups that were low before and equal to the others in between. */
  lowAgain?: readonly number[];
  /** When a device complained. */
  complainedAt?: Date | null;
  /** Visits of the workshop's packs that are over. */
  past?: VisitsByReason;
}

/**
 * What is wrong with a pack by its newest visit: the rounds at rest, at the end of a charge and under a known load
 * since it was charged last. Null where nothing of that kind was read, or where it is never charged.
 *
 * @param valid the newest first
 */
export function judgeDiagnosis(
  pack: Pick<
    JudgedPack,
    'chemistry' | 'series' | 'ratedCapacityAh' | 'code' | 'amongGroups' | 'board' | 'balanceConnector'
  >,
  valid: readonly ReadRound[],
  rules: HouseRules,
  equipment: Pick<Equipment, 'curves' | 'instruments'>,
  { lowAgain = [], complainedAt = null, past }: KnownBefore = {},
): JudgedDiagnosis | null {
  const curve = equipment.curves.of(pack);
  const rounds = visitOf(valid);
  const [began] = rounds;
  if (!curve || !began) return null;
  const reason = reasonOf(valid, isOfVisit(complainedAt, began.takenAt));
  const diagnosed: Diagnosed = {
    curve,
    series: pack.series,
    ratedCapacityAh: pack.ratedCapacityAh,
    floorV: chemistries[pack.chemistry].lowestV,
    groupResistancesOhm: resistancesOf(pack),
    beforehand: {
      ...beforehandOf(pack, rounds, rules, equipment, lowAgain),
      reason,
      past: past?.[reason] ?? nothingKnown.past,
    },
    rounds: rounds.map(({ state, takenAt, groupStepsV, currentA, instrumentId, judgement: { groups, terminal } }) => ({
      state,
      atS: (takenAt.getTime() - began.takenAt.getTime()) / 1000,
      currentA: currentA ?? 0,
      groupVoltagesV: Array.from(
        { length: pack.series },
        (_, i) => groups.find(({ position }) => position === i + 1)?.voltageV ?? null,
      ),
      digitV: Math.max(...groupStepsV.map((stepV) => stepV ?? 0)),
      instrument: instrumentCode(equipment, instrumentId),
      // The charge that a visit begins with is a round of its own: what follows it soon has not settled.
      sinceChargeS:
        began.state === 'charge-end' && state === 'rest' ? (takenAt.getTime() - began.takenAt.getTime()) / 1000 : null,
      terminalV: terminal && { value: terminal.value, digitV: terminal.u * Math.sqrt(12) },
    })),
  };
  const diagnosis = diagnosePack(diagnosed);
  return {
    ...diagnosis,
    rounds,
    instruments: diagnosed.rounds.map(({ instrument }) => instrument),
    reason,
    next: nextMeasurement(diagnosis, diagnosed),
    first: firstNamed(diagnosis),
  };
}

export const instrumentCode = ({ instruments }: Pick<Equipment, 'instruments'>, id: number | null): string | null =>
  id === null ? null : (instruments.byId(id)?.code ?? null);

/** A complaint up to a day before the first round of a visit belongs to it. */
const aboutMs = 86_400_000;
const isOfVisit = (complainedAt: Date | null, beganAt: Date): boolean =>
  complainedAt !== null && beganAt.getTime() - complainedAt.getTime() < aboutMs;

function reasonOf([newest]: readonly ReadRound[], isComplaint: boolean): VisitReason {
  if (isComplaint) return 'complaint';
  return newest?.state === 'after-use' ? 'after-use' : 'routine';
}

/** Four standard deviations are about the range of some groups; a volt or so is a charge, in the mean of the curve. */
const shiftPerImbalanceV = 0.27;
/** What balances it, or whether it could be, makes it so likely that it was kept even. From memory. */
const keptEven = { balances: 0.95, 'can-be': 0.85, 'cannot-be': 0.5 };
/** A channel that was compared with others is off so much more rarely; a group low again leaks so much oftener. */
const [checkedTimes, lowAgainTimes] = [0.2, 4];

/** What the house rules and the workshop's own past say of a pack before it is read. */
function beforehandOf(
  { board, balanceConnector }: Pick<JudgedPack, 'board' | 'balanceConnector'>,
  rounds: readonly ReadRound[],
  { spreadGoodV }: HouseRules,
  { instruments }: Pick<Equipment, 'instruments'>,
  lowAgain: readonly number[],
): Omit<Beforehand, 'reason' | 'past'> {
  const canBe = balanceConnector === false ? 'cannot-be' : 'can-be';
  const isChecked = rounds.every(({ instrumentId, takenAt, judgement }) =>
    judgement.groups.every(({ position }) => {
      const channel = channelOfGroup(instruments, instrumentId, position);
      return instruments.calibrationAt(instrumentId, channel, takenAt) !== null;
    }),
  );
  return {
    evenShift: Math.max(nothingKnown.evenShift / 4, shiftPerImbalanceV * spreadGoodV),
    keptEven: keptEven[board === 'full' ? 'balances' : canBe],
    channelTimes: isChecked ? checkedTimes : 1,
    leakTimes: new Map(lowAgain.map((position) => [position, lowAgainTimes])),
  };
}

/** The newest that distinguish the groups. */
function resistancesOf({ series, amongGroups }: Pick<JudgedPack, 'series' | 'amongGroups'>): (number | null)[] | null {
  if (!amongGroups || amongGroups.groups.length < 2) return null;
  const at = new Map(amongGroups.groups.map(({ position, resistance }) => [position, resistance.value]));
  return Array.from({ length: series }, (_, i) => at.get(i + 1) ?? null);
}

/** The useful rounds of the newest visit, the oldest first. */
function visitOf(valid: readonly ReadRound[]): ReadRound[] {
  const telling = valid.filter(({ state, currentA }) => state === 'rest' || state === 'charge-end' || currentA != null);
  const [newest] = telling;
  if (!newest) return [];
  const recent = telling
    .filter(({ takenAt }) => newest.takenAt.getTime() - takenAt.getTime() <= visitMs)
    .slice(0, mostRounds);
  const charged = recent.findIndex(({ state }) => state === 'charge-end');
  return recent.slice(0, charged < 0 ? undefined : charged + 1).toReversed();
}
