import { median } from 'simple-statistics';
import { type Chemistry, chemistries, groupAboveFullV } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV } from '../chemistry/houseRules';
import { givenOrUsual, type OpenCircuitCurve } from '../chemistry/openCircuit';
import { usualOhmAh } from '../packs/diagnosis/roundMedians';
import { quadrature, type Quantity } from '../quantity/quantity';
import type { ChargeMove, OutOfService, SubjectFacts, VoltageRound } from './facts';
import { estimated, type Known, known } from './known';
import type { UnfitReason } from '../judging/fitForUse';

/** What is known of one group now. A cell has one. */
export interface GroupState {
  /** From the negative end. */
  position: number;
  /** Its newest voltage at rest, or corrected to rest, V; null: not known. */
  restV: Known | null;
  /** State of charge now; null: not known. */
  soc: Known | null;
  /** Ah. */
  capacity: Known;
  /** After ten seconds, Ω. */
  resistance: Known;
}

/** The weakest group's capacity sets the rates, Ah: in series every group has the whole current. */
export const leastAh = ({ groups }: Pick<SubjectState, 'groups'>): number =>
  Math.min(...groups.map(({ capacity }) => capacity.value));

export type Condition =
  'sound' | 'watch' | 'out-of-service' | 'rescue-only' | 'rescued-untested' | 'scrapped' | 'retired';

/** What is known of a cell or pack now, group by group: the one source of advice. */
export interface SubjectState {
  code: string;
  chemistry: Chemistry;
  series: number;
  groups: readonly GroupState[];
  /** Its own open-circuit voltage curve; null: the table of its chemistry. */
  curve: SubjectFacts['curve'];
  board: 'closed' | 'cut-off' | 'none' | 'unknown';
  connector: 'balance' | 'none' | 'unknown';
  /** Of a group, V. */
  limits: { chargeA: number | null; dischargeA: number | null; endV: number; floorV: number };
  condition: Condition;
  outOfService: OutOfService | null;
  unfit: readonly UnfitReason[];
  /** The lowest group lies below the floor of a lithium chemistry. */
  belowFloor: { position: number; voltageV: number } | null;
  /** By its terminals alone a group may be below its floor. */
  mayBeLow: boolean;
  /** A group is above full by more than any charger leaves. */
  aboveFull: { position: number; voltageV: number } | null;
  imbalance: Imbalance | null;
  rescues: number;
  isUntested: boolean;
  /** When the voltages were measured that the charge rests on; null: never. */
  readAt: Date | null;
  /** Each group was measured then: not the terminals alone. */
  isGroupsRead: boolean;
}

/** How the groups differ; null where not each was measured. */
export interface Imbalance {
  /** Highest minus lowest voltage at rest, V. */
  voltageV: number;
  /** Largest minus smallest charge missing until full, Ah. */
  missingAh: number;
  lowest: number;
  /** Beyond the house's good limit, and by a charge that matters. */
  isLarge: boolean;
}

/** A label, a cell of unknown make: standard uncertainties as fractions. From memory. */
const ratedU = 0.15;
/** Of a cell without a measurement: standard uncertainty of its usual resistance, a fraction. From memory. */
const usualOhmU = 0.4;
/** A voltage just after use, or as a charge ends, rests this much higher and is known no better, V. From memory. */
const toRest = { 'after-use': { addV: 0.01, u: 0.02 }, 'charge-end': { addV: -0.01, u: 0.008 } } as const;
/** A pack measured at its terminals alone says so little of each group, V. From memory. */
const terminalsOnlyU = 0.02;
/** Terminals below this fraction of the sum of the groups are cut off by the board. */
const cutOffBelow = 0.5;
/** Self-discharge blurs a charge by this fraction a month, and by no more than this. From memory. */
const [driftAMonth, mostDrift] = [0.02, 0.2];
/** A charge that ended is full to this fraction; one brought to storage is there to this. From memory. */
const [fullU, storedU, emptiedU, usedU] = [0.02, 0.05, 0.03, 0.05];
/** Below this difference of charge, as a fraction, an imbalance does not matter. */
const mattersFraction = 0.05;
const monthMs = 30 * 86_400_000;

/** The open-circuit voltage curve by which a subject's charge is read; null of a primary cell. */
export function curveOf({ chemistry, curve }: Pick<SubjectState, 'chemistry' | 'curve'>): OpenCircuitCurve | null {
  if (chemistry === 'alkaline') return null;
  return givenOrUsual(curve, chemistry);
}

/**
 * What is known of a subject now, from what is on file, the house rules and the time. A voltage is used as far as its
 * state allows; charge that moved since is carried forward. What is not known stays null.
 */
export function stateOf(facts: SubjectFacts, rules: HouseRules, now: Date): SubjectState {
  const { code, chemistry, series, rescues, isUntested, outOfService, unfit } = facts;
  const { family, fullV } = chemistries[chemistry];
  const floorV = lowestVoltageV(chemistry, rules);
  const round = usedRound(facts.rounds);
  const board = boardOf(facts);
  const groups = groupsOf(facts, round, rules, board, now);
  const isGroupsRead = round !== null && round.groupsV.length === series && round.groupsV.every((v) => v !== null);
  const lowest = extreme(groups, Math.min);
  const highest = extreme(groups, Math.max);
  const isLow = family === 'lithium' && lowest !== null && lowest.voltageV < floorV;
  // Of terminals alone no group is said to be low: they ask for each group.
  const belowFloor = isLow && (isGroupsRead || series === 1) ? lowest : null;
  const state = {
    code,
    chemistry,
    series,
    groups,
    curve: facts.curve,
    board,
    connector: connectorOf(facts.balanceConnector),
    limits: { chargeA: facts.labelChargeA, dischargeA: facts.labelDischargeA, endV: fullV, floorV },
    outOfService,
    unfit,
    belowFloor,
    mayBeLow: isLow && belowFloor === null,
    aboveFull: highest && highest.voltageV > fullV + groupAboveFullV ? highest : null,
    imbalance: isGroupsRead && series > 1 ? imbalanceOf(groups, rules, family === 'lithium') : null,
    rescues,
    isUntested,
    readAt: round?.at ?? null,
    isGroupsRead,
  };
  return { ...state, condition: conditionOf(state) };
}

const connectorOf = (has: boolean | null): SubjectState['connector'] => {
  if (has === null) return 'unknown';
  return has ? 'balance' : 'none';
};

/** The newest round that shows the state of charge: not one under load. */
const usedRound = (rounds: readonly VoltageRound[]): VoltageRound | null =>
  newestFirst(rounds).find(({ state }) => state === 'rest' || state === 'charge-end' || state === 'after-use') ?? null;

/** In whatever order they were filed. */
const newestFirst = (rounds: readonly VoltageRound[]): VoltageRound[] =>
  rounds.toSorted((a, b) => b.at.getTime() - a.at.getTime());

/** Terminals that are dead while the groups are not: the board has cut off. */
function boardOf({ rounds, hasBoard }: SubjectFacts): SubjectState['board'] {
  const read = newestFirst(rounds).find(
    ({ terminalV, groupsV }) => terminalV !== null && groupsV.some((v) => v !== null),
  );
  const sumV = read?.groupsV.reduce((sum, v) => sum + (v?.value ?? 0), 0) ?? 0;
  if (read?.terminalV && sumV > 0 && read.terminalV.value < cutOffBelow * sumV) return 'cut-off';
  if (hasBoard === null) return 'unknown';
  return hasBoard ? 'closed' : 'none';
}

function groupsOf(
  facts: SubjectFacts,
  round: VoltageRound | null,
  rules: HouseRules,
  board: SubjectState['board'],
  now: Date,
): GroupState[] {
  const curve = curveOf(facts);
  const rested = Array.from({ length: facts.series }, (_, i) => round && restedV(facts, round, i, board));
  const capacities = rested.map(
    (_, i) =>
      facts.capacities[i] ?? known({ value: facts.ratedCapacityAh, u: ratedU * facts.ratedCapacityAh }, 'rated'),
  );
  const socs = rested.map((restV) =>
    restV && curve && tellsCharge(facts.chemistry) ? socOf(restV, curve, now) : null,
  );
  const moved = moveOn(socs, capacities, facts, round?.at ?? null, curve, rules);
  return rested.map((restV, i): GroupState => {
    const capacity = capacities[i] as Known;
    const usualOhm = usualOhmAh / capacity.value;
    return {
      position: i + 1,
      restV,
      soc: moved[i] ?? null,
      capacity,
      resistance: facts.resistances[i] ?? known({ value: usualOhm, u: usualOhmU * usualOhm }, 'usual'),
    };
  });
}

/** The rested voltage of a nickel cell does not show its charge. */
const tellsCharge = (chemistry: Chemistry): boolean => chemistries[chemistry].family !== 'nickel';

/** A group's voltage corrected to rest; null where neither it nor the terminals were measured. */
function restedV(
  { series }: SubjectFacts,
  { state, at, groupsV, terminalV }: VoltageRound,
  i: number,
  board: SubjectState['board'],
): Known | null {
  const own = groupsV[i] ?? null;
  if (own) {
    if (state === 'rest' || state === 'load' || state === 'discharge-end') return known(own, 'measured', at);
    const { addV, u } = toRest[state];
    return estimated({ value: own.value + addV, u: quadrature(own.u, u) }, at);
  }
  // Dead terminals say nothing of the groups behind the board.
  if (!terminalV || groupsV.length > 0 || board === 'cut-off') return null;
  const value = terminalV.value / series;
  const u = quadrature(terminalV.u / series, series > 1 ? terminalsOnlyU : 0);
  return known({ value, u }, series > 1 ? 'estimated' : 'measured', at);
}

function socOf(restV: Known, curve: OpenCircuitCurve, now: Date): Known {
  const { value, u } = curve.socAt(restV);
  const months = restV.at ? Math.max(0, now.getTime() - restV.at.getTime()) / monthMs : 0;
  return estimated({ value, u: quadrature(u, Math.min(mostDrift, driftAMonth * months)) }, restV.at);
}

/** Adds the charge that flowed since the voltage of each group was measured. */
function moveOn(
  socs: readonly (Known | null)[],
  capacities: readonly Known[],
  { moves, chemistry }: SubjectFacts,
  since: Date | null,
  curve: OpenCircuitCurve | null,
  rules: HouseRules,
): (Known | null)[] {
  const later = moves
    .filter(({ at }) => since === null || at > since)
    .toSorted((a, b) => a.at.getTime() - b.at.getTime());
  return later.reduce((now, move) => afterMove(now, capacities, move, chemistry, curve, rules), [...socs]);
}

function afterMove(
  socs: readonly (Known | null)[],
  capacities: readonly Known[],
  move: ChargeMove,
  chemistry: Chemistry,
  curve: OpenCircuitCurve | null,
  rules: HouseRules,
): (Known | null)[] {
  const { at } = move;
  if (move.kind !== 'used') {
    const left = leftAt(move.kind, chemistry, curve, rules);
    return socs.map(() => estimated(left, at));
  }
  const { chargeAh } = move;
  if (chargeAh === null) return socs.map(() => null);
  return socs.map((soc, i) => {
    if (!soc) return null;
    const fraction = chargeAh / (capacities[i] as Known).value;
    return estimated({ value: Math.max(0, soc.value - fraction), u: quadrature(soc.u, usedU * fraction) }, at);
  });
}

/** The state of charge that a charge, a storage or a discharge to the floor leaves. */
function leftAt(
  kind: 'charged' | 'stored' | 'emptied',
  chemistry: Chemistry,
  curve: OpenCircuitCurve | null,
  rules: HouseRules,
): Quantity {
  switch (kind) {
    case 'charged':
      return { value: 1, u: fullU };
    case 'stored':
      return { value: curve ? storedSoc(chemistry, curve, rules) : 0.5, u: storedU };
    case 'emptied':
      return { value: curve ? floorSoc(chemistry, curve, rules) : 0, u: emptiedU };
  }
}

/** At the few voltages of the house rules: asked for every cell, worked out once a curve. */
function socAt(curve: OpenCircuitCurve, value: number): number {
  const made = madeSocs.get(curve) ?? new Map<number, number>();
  madeSocs.set(curve, made);
  const soc = made.get(value) ?? curve.socAt({ value, u: 0 }).value;
  made.set(value, soc);
  return soc;
}
const madeSocs = new WeakMap<OpenCircuitCurve, Map<number, number>>();

/** The state of charge that rests at the house's floor. */
export const floorSoc = (chemistry: Chemistry, curve: OpenCircuitCurve, rules: HouseRules): number =>
  socAt(curve, lowestVoltageV(chemistry, rules));

/** Stored at: charge of nickel, iron phosphate; volts of what no house rule names. Common practice. */
const stored = { nickelSoc: 0.8, lihvV: 3.85, lfpSoc: 0.3 };

/** The state of charge at which something is stored. Common practice; of 4.20 V lithium a house rule. */
export function storedSoc(chemistry: Chemistry, curve: OpenCircuitCurve, rules: HouseRules): number {
  if (chemistry === 'lfp') return stored.lfpSoc;
  if (chemistry === 'lihv') return socAt(curve, stored.lihvV);
  if (chemistry === 'nimh' || chemistry === 'nicd') return stored.nickelSoc;
  return chemistry === 'sla' ? 1 : socAt(curve, rules.storageLithiumV);
}

/** What a subject is like once something was done with it: no group is measured then. */
export function afterMoveOf(
  state: SubjectState,
  kind: 'charged' | 'stored' | 'emptied',
  rules: HouseRules,
): SubjectState {
  const curve = curveOf(state);
  if (!curve) return state;
  const { chemistry, groups } = state;
  const soc = leftAt(kind, chemistry, curve, rules);
  const restU = Math.abs(curve.slopeAt(soc.value)) * soc.u + curve.uAt(soc.value);
  const restV = known({ value: curve.voltageAt(soc.value), u: restU }, 'estimated');
  return {
    ...state,
    groups: groups.map((group) => ({ ...group, restV, soc: known(soc, 'estimated') })),
    belowFloor: null,
    mayBeLow: false,
    aboveFull: null,
    imbalance: null,
  };
}

function extreme(
  groups: readonly GroupState[],
  which: (...values: number[]) => number,
): { position: number; voltageV: number } | null {
  const measured = groups.flatMap(({ position, restV }) => (restV ? [{ position, voltageV: restV.value }] : []));
  if (measured.length === 0) return null;
  const value = which(...measured.map(({ voltageV }) => voltageV));
  return measured.find(({ voltageV }) => voltageV === value) ?? null;
}

/** Charge until full, Ah; null where a group's charge is not known. */
const missingAh = ({ soc, capacity }: GroupState): number | null => soc && (1 - soc.value) * capacity.value;

/** Nickel and lead-acid balance themselves while they are charged. */
function imbalanceOf(groups: readonly GroupState[], rules: HouseRules, isLithium: boolean): Imbalance | null {
  const volts = groups.map(({ restV }) => restV?.value ?? NaN);
  const [low, high] = [Math.min(...volts), Math.max(...volts)];
  // Differences of readings with steps of a millivolt carry binary dust.
  const voltageV = Math.round((high - low) * 1e9) / 1e9;
  const missing = groups.map(missingAh).filter((ah) => ah !== null);
  const apartAh = missing.length === groups.length ? Math.max(...missing) - Math.min(...missing) : 0;
  const isFar = apartAh > mattersFraction * median(groups.map(({ capacity }) => capacity.value));
  return {
    voltageV,
    missingAh: apartAh,
    lowest: volts.indexOf(low) + 1,
    isLarge: isLithium && voltageV > rules.spreadGoodV && isFar,
  };
}

function conditionOf({
  outOfService,
  belowFloor,
  unfit,
  isUntested,
  imbalance,
}: Omit<SubjectState, 'condition'>): Condition {
  if (outOfService === 'scrapped') return 'scrapped';
  if (outOfService === 'retired' || outOfService === 'apart' || outOfService === 'put-away') return 'retired';
  if (belowFloor || unfit.some(({ code }) => code === 'rescue-first')) return 'rescue-only';
  if (unfit.length > 0) return 'out-of-service';
  if (isUntested) return 'rescued-untested';
  return imbalance?.isLarge ? 'watch' : 'sound';
}
