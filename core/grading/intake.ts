import { weighClaim } from '../capacity/label';
import { type Chemistry, chemistries } from '../chemistry/chemistries';
import { type HouseRules, lowestVoltageV, type RuleKey } from '../chemistry/houseRules';
import { display, formatFigure } from '../quantity/format';
import type { Quantity } from '../quantity/quantity';

/** What eyes, nose and fingers found. */
export const inspectionFindings = {
  swollen: { key: 's', text: 'swollen or soft', safety: true },
  leaking: { key: 'l', text: 'leaking or wet', safety: true },
  dented: { key: 'd', text: 'dented', safety: true },
  hot: { key: 'h', text: 'warm at rest', safety: true },
  smell: { key: 'm', text: 'smells of solvent', safety: true },
  rust: { key: 'r', text: 'rusty at a pole', safety: false },
  wrap: { key: 'w', text: 'wrap torn', safety: false },
} as const;

export type InspectionFinding = keyof typeof inspectionFindings;
export const inspectionKeys = Object.keys(inspectionFindings) as InspectionFinding[];

export type IntakeClass = 'usable' | 'rescue-only' | 'out';

export interface IntakeFacts {
  chemistry: Chemistry;
  /** What its label or model claims. */
  ratedCapacityAh: number;
  /** What a good one of this model weighs, if known. */
  modelMassKg: number | null;
  restVoltageV: number | null;
  massKg: Quantity | null;
  /** Null until it was looked at. */
  findings: readonly InspectionFinding[] | null;
  /** Rescues so far. */
  rescues: number;
}

export interface Reason {
  text: string;
  /** The house rule that it rests on. */
  rule?: RuleKey;
}

export interface IntakeVerdict {
  /** Null while nothing has been read that decides. */
  class: IntakeClass | null;
  reasons: Reason[];
  missing: ('voltage' | 'weight' | 'inspection')[];
  /** True where a finding forbids any use, whatever the numbers say. */
  unsafe: boolean;
}

/** A rested cell above its charge end by more than this was overcharged, or the meter is wrong. */
const aboveFullV = 0.05;

const severity: Record<IntakeClass, number> = { usable: 0, 'rescue-only': 1, out: 2 };

/**
 * What may be done with a cell from its first reading, weight and inspection: usable, rescue only, or out, the worst
 * finding deciding, with every reason. A cell is usable only when nothing is missing. Source: common practice.
 */
export function judgeIntake(facts: IntakeFacts, rules: HouseRules): IntakeVerdict {
  const found = [...inspectionReasons(facts), ...weightReasons(facts, rules), ...voltageReasons(facts, rules)];
  const missing: IntakeVerdict['missing'] = [];
  if (facts.restVoltageV === null) missing.push('voltage');
  if (facts.massKg === null) missing.push('weight');
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
  reason: Reason;
  unsafe?: boolean;
}

function inspectionReasons({ findings }: IntakeFacts): Found[] {
  return (findings ?? []).map((key) => {
    const { text, safety } = inspectionFindings[key];
    return safety
      ? {
          class: 'out',
          reason: { text: `It is ${text}: never charge it.`.replace('It is smells', 'It smells') },
          unsafe: true,
        }
      : { class: 'usable', reason: { text: `Noted: ${text}.` } };
  });
}

function weightReasons({ chemistry, ratedCapacityAh, modelMassKg, massKg }: IntakeFacts, rules: HouseRules): Found[] {
  if (massKg === null) return [];
  const { family, nominalV } = chemistries[chemistry];
  const shown = formatFigure(massKg.value, display.mass);
  if (family === 'lithium') {
    const { claim, specificEnergyWhPerKg, mostAh } = weighClaim(
      ratedCapacityAh,
      nominalV,
      massKg,
      rules.bestSpecificEnergyWhPerKg,
    );
    const would = `${formatFigure(ratedCapacityAh, display.capacity, 2)} in ${shown} would be ${Math.round(specificEnergyWhPerKg)} Wh/kg`;
    if (claim === 'impossible') {
      const text = `This weight cannot hold that capacity: ${would}; ${formatFigure(mostAh, display.capacity, 2)} at the very most.`;
      return [{ class: 'out', reason: { text, rule: 'bestSpecificEnergyWhPerKg' }, unsafe: true }];
    }
    if (claim === 'doubtful')
      return [
        {
          class: 'usable',
          reason: {
            text: `Look at its label and weigh it again: ${would}, more than the best cells hold.`,
            rule: 'bestSpecificEnergyWhPerKg',
          },
        },
      ];
  }
  if (modelMassKg === null) return [];
  const off = Math.max(0, Math.abs(massKg.value - modelMassKg) - 2 * massKg.u) / modelMassKg;
  if (off <= rules.weightTolerance) return [];
  const text = `It weighs ${shown}, its model ${formatFigure(modelMassKg, display.mass)}: not what its label says, or it has dried out.`;
  return [{ class: 'out', reason: { text, rule: 'weightTolerance' }, unsafe: true }];
}

function voltageReasons(facts: IntakeFacts, rules: HouseRules): Found[] {
  const { chemistry, restVoltageV, rescues } = facts;
  if (restVoltageV === null) return [];
  const { family, fullV } = chemistries[chemistry];
  const shown = formatFigure(restVoltageV, display.voltage);
  const out = (text: string, rule?: RuleKey): Found[] => [
    { class: 'out', reason: { text, ...(rule ? { rule } : {}) } },
  ];
  if (restVoltageV < 0) return [{ class: 'out', reason: { text: `${shown}: reversed.` }, unsafe: true }];
  if (restVoltageV > fullV + aboveFullV)
    return [
      {
        class: 'out',
        reason: { text: `${shown} at rest is above its charge end of ${fullV} V: overcharged, or the meter is wrong.` },
        unsafe: true,
      },
    ];

  const lowestV = lowestVoltageV(chemistry, rules);
  if (restVoltageV >= lowestV)
    return [{ class: 'usable', reason: { text: `${shown} at rest lies within its range.` } }];
  if (family === 'primary') return out(`${shown}: empty, and it is never charged.`);
  if (family !== 'lithium')
    return [
      {
        class: 'rescue-only',
        reason: { text: `${shown} is below its floor of ${lowestV} V: bring it back with a low current first.` },
      },
    ];
  if (restVoltageV < rules.rescueFloorV)
    return out(`${shown} is too low even for rescue (${rules.rescueFloorV} V).`, 'rescueFloorV');
  if (rescues >= rules.rescuesAllowed) {
    const text =
      rules.rescuesAllowed === 0
        ? `${shown} is below its floor of ${lowestV} V, and this house never rescues lithium.`
        : `${shown} is below its floor of ${lowestV} V and it was rescued ${rescues === 1 ? 'once' : `${rescues} times`} already.`;
    return out(text, 'rescuesAllowed');
  }
  return [
    {
      class: 'rescue-only',
      reason: {
        text: `${shown} is below its floor of ${lowestV} V: only by the attended rescue.`,
        rule: 'rescuesAllowed',
      },
    },
  ];
}
