import { type Chemistry, chemistries } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import { benchMeterU } from '../instruments/instrument';
import { bareFacts, type SubjectFacts } from '../state/facts';
import { permission } from '../state/permissions';
import { curveOf, type GroupState, stateOf, storedSoc, type SubjectState } from '../state/subjectState';
import { median } from 'simple-statistics';

/** What is to be done: with what lies there, with what is used, held or measured with. */
export const upkeepActs = [
  'down-to-storage',
  'up-to-storage',
  'to-full',
  'balance',
  'look',
  'resistance',
  'hold-reading',
  'calibrate',
] as const;
export type UpkeepAct = (typeof upkeepActs)[number];

/** What is wanted next, whenever that is. */
export interface Wanted {
  code: string;
  act: UpkeepAct;
  /** Null where a person set the day. */
  rule: RuleKey | null;
  dueAt: Date;
  readAt: Date;
  /** At which the group in question rested, V; null where that is not why. */
  perGroupV: number | null;
  /** Cycles since it was read; null where those are not why. */
  cycles: number | null;
}

export interface Upkeep extends Wanted {
  state: 'soon' | 'due' | 'overdue';
}

const hourMs = 3_600_000;
const dayMs = 24 * hourMs;
const weekMs = 7 * dayMs;
/** So far above its storage, in charge, it goes down; below this it goes up. From memory. */
const [aboveFraction, lowFraction] = [0.2, 0.15];
/** Lead-acid below this is not full any more. From memory. */
const leadFullFraction = 0.9;
/** A task is "soon" this long before it is due, and "overdue" this long after. Own rule. */
const around: Record<UpkeepAct, { soonMs: number; overdueMs: number }> = {
  'down-to-storage': { soonMs: 6 * hourMs, overdueMs: 2 * dayMs },
  'up-to-storage': { soonMs: dayMs, overdueMs: 7 * dayMs },
  'to-full': { soonMs: 6 * hourMs, overdueMs: 2 * dayMs },
  balance: { soonMs: 6 * hourMs, overdueMs: 2 * dayMs },
  look: { soonMs: 3 * dayMs, overdueMs: 7 * dayMs },
  resistance: { soonMs: 0, overdueMs: 30 * dayMs },
  'hold-reading': { soonMs: dayMs, overdueMs: 3 * dayMs },
  calibrate: { soonMs: 30 * dayMs, overdueMs: 90 * dayMs },
};

/**
 * What something that lies there wants, by its fullest and its emptiest group: full lithium goes down to storage, low
 * lithium up, lead-acid back to full; everything is looked at once a month. What may not be stored yet is balanced
 * first. Null of what was never measured, and of what waits for a rescue or is out of service. Source: common practice;
 * how soon is a house rule.
 */
export function wantedOf(state: SubjectState, rules: HouseRules): Wanted | null {
  const { readAt, code, outOfService, belowFloor, aboveFull } = state;
  if (readAt === null || outOfService || belowFloor || aboveFull) return null;
  const { act, rule, afterMs, group } = actFor(state, rules);
  const isStored = act === 'down-to-storage' || act === 'up-to-storage';
  const allowed = isStored ? permission(state, 'store', rules) : null;
  const isUnbalanced = allowed?.allowed === false && allowed.first === 'balance';
  // What went in or out since counts from then, and its voltage then is of before.
  const movedAt = group?.soc?.at ?? readAt;
  const isMoved = movedAt > readAt;
  return {
    code,
    perGroupV: isMoved ? null : (group?.restV?.value ?? null),
    readAt,
    act: isUnbalanced ? 'balance' : act,
    rule: isUnbalanced ? 'spreadGoodV' : rule,
    cycles: null,
    dueAt: new Date((isMoved ? movedAt : readAt).getTime() + afterMs),
  };
}

/**
 * The resistance of a pack that is used is read again after the house's count of charges; null where it was never read,
 * or not charged so often since. Source: common practice.
 *
 * @param chargeEnds when it was charged, in any order
 */
export function resistanceWanted(
  code: string,
  readAt: Date | null,
  chargeEnds: readonly Date[],
  { resistanceEvery }: HouseRules,
): Wanted | null {
  if (!readAt) return null;
  const since = chargeEnds.filter((end) => end > readAt).sort((a, b) => a.getTime() - b.getTime());
  const dueAt = since[resistanceEvery - 1];
  const rule = 'resistanceEvery' as const;
  return dueAt ? { code, act: 'resistance', rule, dueAt, readAt, perGroupV: null, cycles: since.length } : null;
}

/** An instrument whose calibration grows old. Source: common practice. */
export const calibrationWanted = (code: string, calibratedAt: Date, { calibrateEveryD }: HouseRules): Wanted => ({
  code,
  act: 'calibrate',
  rule: 'calibrateEveryD',
  dueAt: new Date(calibratedAt.getTime() + calibrateEveryD * dayMs),
  readAt: calibratedAt,
  perGroupV: null,
  cycles: null,
});

/** Whether it is time; null while it is not near. */
export function dueNow(wanted: Wanted, now: Date): Upkeep | null {
  const { soonMs, overdueMs } = around[wanted.act];
  const pastMs = now.getTime() - wanted.dueAt.getTime();
  if (pastMs < -soonMs) return null;
  if (pastMs < 0) return { ...wanted, state: 'soon' };
  return { ...wanted, state: pastMs > overdueMs ? 'overdue' : 'due' };
}

interface Acting {
  act: UpkeepAct;
  rule: RuleKey;
  afterMs: number;
  /** That it is about. */
  group: GroupState | null;
}

function actFor(state: SubjectState, rules: HouseRules): Acting {
  const { chemistry, groups } = state;
  const curve = curveOf(state);
  const lowest = extremeOf(groups, -1);
  const highest = extremeOf(groups, 1);
  const look: Acting = { act: 'look', rule: 'lookEveryD', afterMs: rules.lookEveryD * dayMs, group: lowest };
  // Without a charge that is known, as of nickel, it is looked at; a primary cell is never charged.
  if (!curve || !lowest?.soc || !highest?.soc) return look;
  const soon = { rule: 'storeWithinH' as const, afterMs: rules.storeWithinH * hourMs };
  if (chemistries[chemistry].family === 'lead')
    return lowest.soc.value < leadFullFraction ? { act: 'to-full', ...soon, group: lowest } : look;
  const stored = storedSoc(chemistry, curve, rules);
  // Where the curve is flat a voltage says little: only what is surely full is moved.
  if (highest.soc.value - highest.soc.u > stored + aboveFraction)
    return { act: 'down-to-storage', ...soon, group: highest };
  return lowest.soc.value + lowest.soc.u < lowFraction
    ? { act: 'up-to-storage', rule: 'storageLithiumV', afterMs: weekMs, group: lowest }
    : look;
}

/** The group with the least charge, or the most. */
function extremeOf(groups: readonly GroupState[], sign: 1 | -1): GroupState | null {
  const known = groups.filter(({ soc }) => soc !== null);
  return known.reduce<GroupState | null>(
    (most, one) => (most && sign * (most.soc?.value ?? 0) >= sign * (one.soc?.value ?? 0) ? most : one),
    groups[0] && known.length === 0 ? groups[0] : null,
  );
}

/** Where something is kept, °C. Common practice. */
const keptC = { least: 10, most: 25 };

/** Whether it lies too cold or too warm. */
export function liesTooC(temperatureC: number | null): 'cold' | 'warm' | null {
  if (temperatureC === null) return null;
  if (temperatureC < keptC.least) return 'cold';
  return temperatureC > keptC.most ? 'warm' : null;
}

/** What is worst first, then what was due first. */
export const byUrgency = (one: Upkeep, other: Upkeep): number =>
  states.indexOf(one.state) - states.indexOf(other.state) || one.dueAt.getTime() - other.dueAt.getTime();
const states = ['overdue', 'due', 'soon'];

/** All groups of a pack at rest at one time, from the negative terminal, V; null where one was not read. */
export interface Looked {
  groupsV: readonly (number | null)[];
  at: Date;
}

/** What a look at a stored pack comes to. */
export type LookSaying =
  | { code: 'go-down' | 'go-up' | 'back-to-full' }
  | { code: 'drifts'; position: number; fellV: number; days: number }
  | { code: 'keeps'; days: number }
  /** It was never looked at before, or was charged since. */
  | { code: 'first-look' };

const lookedFacts = (chemistry: Chemistry, { groupsV, at }: Looked): SubjectFacts => ({
  ...bareFacts({ code: '', chemistry, series: groupsV.length, ratedCapacityAh: 1 }),
  rounds: [
    {
      state: 'rest',
      at,
      groupsV: groupsV.map((v) => (v === null ? null : { value: v, u: benchMeterU })),
      terminalV: null,
    },
  ],
});

/** Two readings of one group by one tool differ by no more, V. */
const repeatsWithinV = 0.006;
/** A pack whose groups rose or sank together by more was charged or used, V. */
const movedV = 0.03;

/**
 * What a look at a stored pack says at once: whether it keeps, a group drifts away from the others beyond the house's
 * drift, or it wants to be moved. Source: common practice; the drift is a house rule.
 *
 * @param before the look before, at rest; null where there was none
 */
export function lookSays(chemistry: Chemistry, before: Looked | null, now: Looked, rules: HouseRules): LookSaying {
  const act = wantedOf(stateOf(lookedFacts(chemistry, now), rules, now.at), rules)?.act;
  if (act === 'down-to-storage') return { code: 'go-down' };
  if (act === 'up-to-storage') return { code: 'go-up' };
  if (act === 'to-full') return { code: 'back-to-full' };
  const changes = now.groupsV.map((v, i) => {
    const was = before?.groupsV[i] ?? null;
    return v === null || was === null ? null : v - was;
  });
  const known = changes.filter((change) => change !== null);
  const days = before ? (now.at.getTime() - before.at.getTime()) / dayMs : 0;
  if (known.length === 0 || days < 1 || Math.abs(median(known)) > movedV) return { code: 'first-look' };
  // Against the others, where there are others: a cold day lowers all of them.
  const common = known.length > 2 ? median(known) : 0;
  const allowedV = Math.max(repeatsWithinV, (rules.holdDriftV * days) / 7);
  const fell = changes.map((change) => (change === null ? 0 : common - change));
  const most = Math.max(...fell);
  return most > allowedV
    ? { code: 'drifts', position: fell.indexOf(most) + 1, fellV: most, days }
    : { code: 'keeps', days };
}
