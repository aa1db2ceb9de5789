import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV, type RuleKey } from '../chemistry/houseRules';
import { ImpossibleInput } from '../impossibleInput';
import { quadrature, type Quantity, rectangular } from '../quantity/quantity';
import type { OpenCircuitCurve } from '../chemistry/openCircuit';

export const packStates = ['rest', 'load', 'charge-end', 'discharge-end', 'after-use'] as const;
export type PackState = (typeof packStates)[number];

export interface GroupReadings {
  chemistry: Chemistry;
  /** Tells charge by a rested voltage; null of what is never charged. */
  curve: OpenCircuitCurve | null;
  state: PackState;
  /** From the negative end, position 1 first; null where one could not be read. */
  groups: readonly (VoltageRead | null)[];
  terminal: VoltageRead | null;
}

export interface VoltageRead {
  voltageV: number;
  /** Its last digit, V. */
  stepV: number;
  /** Its standard uncertainty, V; half a last digit where not given. */
  u?: number;
  /** The same against the other groups of its round, without what is common to all of them. */
  apartU?: number;
}

/** `unclear`: the uncertainty is no smaller than the limit. */
export type ImbalanceLevel = 'excellent' | 'good' | 'uneven' | 'attention' | 'out-of-service' | 'unclear';

/** What is wrong with a group's voltage, with the house rule it rests on; its words are in words/packs.ts. */
export type GroupLimit = (
  | { code: 'reversed' }
  | { code: 'above-full'; fullV: number }
  | { code: 'beyond-rescue'; rescueFloorV: number }
  | { code: 'below-floor'; floorV: number }
) & { rule?: RuleKey };

/** What the house rules say of a pack, with the facts; its sentence is in words/packs.ts. */
export type PackSaying = (
  | { code: 'limit'; position: number; voltageV: number; stepV: number; limit: GroupLimit }
  | { code: 'sum'; sum: Quantity; terminal: Quantity }
  /** `furthest` is the group that causes the imbalance; null where none does. */
  | { code: 'unread'; positions: number[] }
  | {
      code: 'spread';
      spreadV: Quantity;
      level: ImbalanceLevel;
      furthest: { position: number; deviationV: number } | null;
    }
) & { urgent: boolean; rule?: RuleKey };

export interface GroupJudgement {
  position: number;
  voltageV: number;
  /** Its last digit as it was read, V. */
  stepV: number;
  /** From the median of the groups, V. */
  deviationV: number;
  /** At rest only: state of charge by the chemistry's curve. */
  soc: Quantity | null;
  /**
   * Stands apart from the others by more than a good imbalance, and is what causes the imbalance: not one of those that
   * only the median is off.
   */
  odd: boolean;
  /** Below its floor, above its charge end, or reversed. */
  limit: GroupLimit | null;
}

export interface PackJudgement {
  /** Those that were read. */
  groups: GroupJudgement[];
  medianV: number;
  spreadV: Quantity;
  level: ImbalanceLevel;
  levelRule: RuleKey;
  /** Null where one was not read. */
  sum: Quantity | null;
  /** As read, corrected, V; null where the terminals were not read. */
  terminal: Quantity | null;
  /** Null where the terminals or a group were not read. */
  sumCheck: { differenceV: Quantity; agrees: boolean } | null;
  /** What the house rules say, the most urgent first. */
  says: PackSaying[];
}

/**
 * Judges one round of a pack's group voltages: imbalance, deviations from the median, sum against the terminals,
 * limits. Source: common practice; every limit is a house rule.
 *
 * @throws ImpossibleInput where no group was read, or a reading is no number
 */
export function judgeGroups(readings: GroupReadings, rules: HouseRules): PackJudgement {
  const { chemistry, curve, state } = readings;
  const placed = readings.groups.flatMap((group, i) => (group === null ? [] : [{ ...group, position: i + 1 }]));
  const read = placed.map(quantityOf);
  const apart = placed.map(({ voltageV, stepV, apartU = rectangular(stepV) }) => ({ value: voltageV, u: apartU }));
  if (read.length === 0 || !read.every(({ value }) => Number.isFinite(value)))
    throw new ImpossibleInput('groups', { code: 'no-group-voltages' });
  const sorted = apart.toSorted((a, b) => a.value - b.value);
  const [lowest, highest] = [sorted[0] as Quantity, sorted[sorted.length - 1] as Quantity];
  const medianV =
    ((sorted[(sorted.length - 1) >> 1] as Quantity).value + (sorted[sorted.length >> 1] as Quantity).value) / 2;
  // Differences of readings with 1 mV steps carry binary dust; a limit of 30 mV must hold for an imbalance of exactly
  // 30 mV.
  const spreadV = { value: Math.round((highest.value - lowest.value) * 1e9) / 1e9, u: quadrature(highest.u, lowest.u) };
  const [level, levelRule] = levelOf(spreadV, rules);
  const furthestV = Math.max(...read.map(({ value }) => Math.abs(value - medianV)));
  const groups = placed.map(({ position, voltageV, stepV }, i): GroupJudgement => {
    const deviationV = voltageV - medianV;
    return {
      position,
      voltageV,
      stepV,
      deviationV,
      soc: state === 'rest' && curve ? curve.socAt(read[i] as Quantity) : null,
      odd: Math.abs(deviationV) > rules.spreadGoodV && Math.abs(deviationV) > causeFraction * furthestV,
      limit: limitOf(voltageV, chemistry, rules),
    };
  });
  const unread = readings.groups.flatMap((group, i) => (group === null ? [i + 1] : []));
  const added = { value: read.reduce((all, { value }) => all + value, 0), u: quadrature(...read.map(({ u }) => u)) };
  const sum = unread.length > 0 ? null : added;
  const terminal = readings.terminal && quantityOf(readings.terminal);
  const sumCheck = sum && terminal && checkSum(sum, terminal, groups.length, rules);
  const judged = { groups, medianV, spreadV, level, levelRule, sum, terminal, sumCheck };
  return { ...judged, says: sayings(judged, unread) };
}

const quantityOf = ({ voltageV, stepV, u = rectangular(stepV) }: VoltageRead): Quantity => ({ value: voltageV, u });

/** A group nearer to the median than this fraction of the furthest does not cause the imbalance. */
const causeFraction = 0.5;

/** A level needs an uncertainty below its limit. */
function levelOf({ value, u }: Quantity, rules: HouseRules): [ImbalanceLevel, RuleKey] {
  const isExcellent = value <= rules.spreadExcellentV && u < rules.spreadExcellentV;
  const [level, rule] = isExcellent ? (['excellent', 'spreadExcellentV'] as const) : levelBeyond(value, rules);
  return u < rules[rule] ? [level, rule] : ['unclear', rule];
}

function levelBeyond(spreadV: number, rules: HouseRules) {
  if (spreadV >= rules.spreadOutV) return ['out-of-service', 'spreadOutV'] as const;
  if (spreadV >= rules.spreadAttentionV) return ['attention', 'spreadAttentionV'] as const;
  return spreadV > rules.spreadGoodV ? (['uneven', 'spreadGoodV'] as const) : (['good', 'spreadGoodV'] as const);
}

function limitOf(voltageV: number, chemistry: Chemistry, rules: HouseRules): GroupJudgement['limit'] {
  const { fullV } = chemistries[chemistry];
  const floorV = lowestVoltageV(chemistry, rules);
  if (voltageV <= 0) return { code: 'reversed' };
  if (voltageV > fullV + 0.02) return { code: 'above-full', fullV };
  if (voltageV >= floorV) return null;
  const isLithium = chemistries[chemistry].family === 'lithium';
  return isLithium && voltageV < rules.rescueFloorV
    ? { code: 'beyond-rescue', rescueFloorV: rules.rescueFloorV, rule: 'rescueFloorV' }
    : { code: 'below-floor', floorV };
}

/**
 * The terminals against the sum of the groups: they disagree only beyond the house's tolerance and twice the
 * uncertainty of both.
 */
function checkSum(
  sum: Quantity,
  terminal: Quantity,
  count: number,
  rules: HouseRules,
): NonNullable<PackJudgement['sumCheck']> {
  const differenceV = { value: terminal.value - sum.value, u: quadrature(sum.u, terminal.u) };
  const agrees = Math.abs(differenceV.value) <= rules.sumToleranceV * count + 2 * differenceV.u + 1e-9;
  return { differenceV, agrees };
}

function sayings(
  { groups, spreadV, level, levelRule, sum, terminal, sumCheck }: Omit<PackJudgement, 'says'>,
  unread: number[],
) {
  const says = groups.flatMap(({ position, voltageV, stepV, limit }): PackSaying[] => {
    if (limit === null) return [];
    const saying: PackSaying = { code: 'limit', position, voltageV, stepV, limit, urgent: true };
    return [limit.rule ? { ...saying, rule: limit.rule } : saying];
  });
  if (unread.length > 0) says.push({ code: 'unread', positions: unread, urgent: false });
  if (sum && terminal && sumCheck && !sumCheck.agrees)
    says.push({ code: 'sum', sum, terminal, urgent: true, rule: 'sumToleranceV' });
  if (groups.length > 1) {
    const furthest = groups.reduce((a, b) => (Math.abs(b.deviationV) > Math.abs(a.deviationV) ? b : a));
    says.push({
      code: 'spread',
      spreadV,
      level,
      furthest: furthest.odd ? { position: furthest.position, deviationV: furthest.deviationV } : null,
      urgent: level === 'attention' || level === 'out-of-service',
      rule: levelRule,
    });
  }
  return says;
}
