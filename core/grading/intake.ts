import { weighClaim } from '../capacity/label';
import { aboveFullV, type Chemistry, chemistries, deadV } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV, type RuleKey } from '../chemistry/houseRules';
import type { Quantity } from '../quantity/quantity';

/** What eyes, nose and fingers found: the key it is typed with, whether it forbids any use, and on what it is found. */
export const inspectionFindings = {
  swollen: { key: 's', safety: true, on: 'any' },
  leaking: { key: 'l', safety: true, on: 'any' },
  dented: { key: 'd', safety: true, on: 'any' },
  hot: { key: 'h', safety: true, on: 'any' },
  smell: { key: 'm', safety: true, on: 'any' },
  rust: { key: 'r', safety: false, on: 'cell' },
  wrap: { key: 'w', safety: false, on: 'any' },
  dropped: { key: 'f', safety: false, on: 'any' },
  water: { key: 'i', safety: true, on: 'any' },
  /** It puffed up after it was run flat. */
  puffed: { key: 'u', safety: true, on: 'pack' },
  connector: { key: 'c', safety: false, on: 'pack' },
  lead: { key: 'e', safety: false, on: 'pack' },
} as const;

export type InspectionFinding = keyof typeof inspectionFindings;
export const inspectionKeys = Object.keys(inspectionFindings) as InspectionFinding[];

/** What may be found on a cell or on a pack. */
export const findingsOn = (kind: 'cell' | 'pack'): InspectionFinding[] =>
  inspectionKeys.filter((finding) => ['any', kind].includes(inspectionFindings[finding].on));

/** Findings as they are typed: their keys in one word, or `ok` for none; null for any other word. */
export function typedFindings(word: string, kind: 'cell' | 'pack'): InspectionFinding[] | null {
  if (word.toLowerCase() === 'ok') return [];
  const found = [...word.toLowerCase()].map((key) =>
    findingsOn(kind).find((finding) => inspectionFindings[finding].key === key),
  );
  return found.every((finding) => finding !== undefined) ? [...new Set(found)] : null;
}

export type IntakeClass = 'usable' | 'rescue-only' | 'out';

export interface IntakeFacts {
  chemistry: Chemistry;
  /** What its label or model claims. */
  ratedCapacityAh: number;
  /** What a good one of this model weighs, if known. */
  modelMassKg: number | null;
  /** Of the cell, or of each group of a pack from the negative terminal; empty until it was read. */
  restVoltagesV: readonly number[];
  /** Null until it was weighed. */
  massKg: Quantity | null;
  /** Packs are not. */
  isWeighed: boolean;
  /** Null until it was looked at. */
  findings: readonly InspectionFinding[] | null;
  /** Rescues so far. */
  rescues: number;
}

interface WeighedClaim {
  ratedCapacityAh: number;
  massKg: number;
  specificEnergyWhPerKg: number;
  /** What such a weight holds at the very most. */
  mostAh: number;
}

/** Why a cell may or may not be used, with the facts and the house rule it rests on; words/intake.ts says it. */
export type IntakeReason = (
  | { code: 'finding'; finding: InspectionFinding }
  | ({ code: 'weight-impossible' | 'weight-doubtful' } & WeighedClaim)
  | { code: 'weight-off'; massKg: number; modelMassKg: number }
  | { code: 'reversed'; voltageV: number }
  | { code: 'overcharged'; voltageV: number; fullV: number }
  | { code: 'in-range'; voltageV: number }
  | { code: 'empty-primary' | 'shorted'; voltageV: number }
  | { code: 'low-current-first' | 'attended-rescue' | 'never-rescued-here'; voltageV: number; floorV: number }
  | { code: 'beyond-rescue'; voltageV: number; rescueFloorV: number }
  | { code: 'rescued-already'; voltageV: number; floorV: number; rescues: number }
) & {
  rule?: RuleKey;
  /** The group of a pack that it is about. */
  group?: number;
};

export interface IntakeVerdict {
  /** Null while nothing has been read that decides. */
  class: IntakeClass | null;
  reasons: IntakeReason[];
  missing: ('voltage' | 'weight' | 'inspection')[];
  /** True where a finding forbids any use, whatever the numbers say. */
  unsafe: boolean;
}

const severity: Record<IntakeClass, number> = { usable: 0, 'rescue-only': 1, out: 2 };

/**
 * What may be done with a cell or a pack from its first reading, weight and inspection: usable, rescue only, or out,
 * the worst finding deciding, with every reason. It is usable only when nothing is missing. Source: common practice.
 */
export function judgeIntake(facts: IntakeFacts, rules: HouseRules): IntakeVerdict {
  const found = [...inspectionReasons(facts), ...weightReasons(facts, rules), ...voltageReasons(facts, rules)];
  const missing: IntakeVerdict['missing'] = [];
  if (facts.restVoltagesV.length === 0) missing.push('voltage');
  if (facts.isWeighed && facts.massKg === null) missing.push('weight');
  if (facts.findings === null) missing.push('inspection');

  const worst = found.reduce<IntakeClass>((so, { class: is }) => (severity[is] > severity[so] ? is : so), 'usable');
  const decided = worst !== 'usable' || missing.length === 0;
  return {
    class: decided ? worst : null,
    reasons: found.filter((one) => one.class !== 'usable' || worst === 'usable').map((one) => one.reason),
    missing,
    unsafe: found.some((one) => one.unsafe === true),
  };
}

interface Found {
  class: IntakeClass;
  reason: IntakeReason;
  unsafe?: boolean;
}

const inspectionReasons = ({ findings }: IntakeFacts): Found[] =>
  (findings ?? []).map((finding) => {
    const reason = { code: 'finding' as const, finding };
    return inspectionFindings[finding].safety ? { class: 'out', reason, unsafe: true } : { class: 'usable', reason };
  });

function weightReasons(facts: IntakeFacts, rules: HouseRules): Found[] {
  const { chemistry, ratedCapacityAh, modelMassKg, massKg } = facts;
  if (massKg === null) return [];
  const { family, nominalV } = chemistries[chemistry];
  if (family === 'lithium') {
    const rule = 'bestSpecificEnergyWhPerKg';
    const { claim, ...weighed } = weighClaim(ratedCapacityAh, nominalV, massKg, rules[rule]);
    const reason = { ratedCapacityAh, massKg: massKg.value, ...weighed, rule } as const;
    if (claim === 'impossible')
      return [{ class: 'out', reason: { code: 'weight-impossible', ...reason }, unsafe: true }];
    if (claim === 'doubtful') return [{ class: 'usable', reason: { code: 'weight-doubtful', ...reason } }];
  }
  if (modelMassKg === null) return [];
  const off = Math.max(0, Math.abs(massKg.value - modelMassKg) - 2 * massKg.u) / modelMassKg;
  if (off <= rules.weightTolerance) return [];
  const reason = { code: 'weight-off', massKg: massKg.value, modelMassKg, rule: 'weightTolerance' } as const;
  return [{ class: 'out', reason, unsafe: true }];
}

/** Of several groups every one that is not in range is named; else the lowest speaks for all. */
function voltageReasons(facts: IntakeFacts, rules: HouseRules): Found[] {
  const { restVoltagesV: volts } = facts;
  const found = volts.flatMap((voltageV, i) =>
    ofVoltage(voltageV, facts, rules).map((one) =>
      volts.length === 1 ? one : { ...one, reason: { ...one.reason, group: i + 1 } },
    ),
  );
  const off = found.filter(({ class: is }) => is !== 'usable');
  return off.length > 0 ? off : found.filter((_, i) => i === volts.indexOf(Math.min(...volts)));
}

function ofVoltage(voltageV: number, { chemistry, rescues }: IntakeFacts, rules: HouseRules): Found[] {
  const { family, fullV } = chemistries[chemistry];
  if (voltageV < 0) return [{ class: 'out', reason: { code: 'reversed', voltageV }, unsafe: true }];
  if (voltageV > fullV + aboveFullV)
    return [{ class: 'out', reason: { code: 'overcharged', voltageV, fullV }, unsafe: true }];
  const floorV = lowestVoltageV(chemistry, rules);
  if (voltageV >= floorV) return [{ class: 'usable', reason: { code: 'in-range', voltageV } }];
  if (family === 'primary') return [{ class: 'out', reason: { code: 'empty-primary', voltageV } }];
  if (family === 'nickel' && voltageV < deadV) return [{ class: 'out', reason: { code: 'shorted', voltageV } }];
  // Nickel and lead-acid need no rescue: they are charged at a low current.
  if (family !== 'lithium') return [{ class: 'usable', reason: { code: 'low-current-first', voltageV, floorV } }];
  return [emptyLithium(voltageV, floorV, rescues, rules)];
}

/** What comes of a lithium cell below its floor. */
function emptyLithium(voltageV: number, floorV: number, rescues: number, rules: HouseRules): Found {
  const { rescueFloorV, rescuesAllowed } = rules;
  if (voltageV < rescueFloorV)
    return { class: 'out', reason: { code: 'beyond-rescue', voltageV, rescueFloorV, rule: 'rescueFloorV' } };
  const rule = 'rescuesAllowed';
  if (rescuesAllowed === 0) return { class: 'out', reason: { code: 'never-rescued-here', voltageV, floorV, rule } };
  if (rescues >= rescuesAllowed)
    return { class: 'out', reason: { code: 'rescued-already', voltageV, floorV, rescues, rule } };
  return { class: 'rescue-only', reason: { code: 'attended-rescue', voltageV, floorV, rule } };
}
