import type { Warning } from '@/core/warning';
import type { CellFacts, StoredResistance } from './facts';
import { type HouseRules, lowestVoltageV } from '@/core/chemistry/houseRules';
import { chemistryKeys } from '@/core/chemistry/chemistries';
import { type DutyVerdict, gradeDuty, type SafetyReason } from '@/core/grading/duty';
import {
  type InspectionFinding,
  inspectionFindings,
  type IntakeReason,
  type IntakeVerdict,
  judgeIntake,
} from '@/core/grading/intake';
import { type Status, statusOf } from '@/core/grading/status';
import { nextStation, type Waiting } from '@/core/grading/nextStation';
import { type Quantity, read } from '@/core/quantity/quantity';
import { showsTenSeconds } from '@/core/resistance/methods';
import { countsAfter } from './rescue';
import { correctedVoltage } from './correctedVoltage';
import { type HeldVerdict, heldOf } from './judgeSelfDischarge';
import { type CapacityBy, capacityOf, type JudgedPartial, judgePartial } from './judgePartial';
import type { Equipment } from './equipment';
import { type JudgedResistance, judgePresses } from './judgeResistance';

/** A cell with what its facts say under the rules in force. */
export interface JudgedCell extends Omit<CellFacts, 'resistances' | 'holds' | 'partial'> {
  /** Its newest voltage, corrected. */
  voltageV: number | null;
  /** After ten seconds. */
  resistance: Quantity | null;
  /** Why its newest ten-second reading does not count; null where it does, or where there is none. */
  leftOut: Warning | null;
  /** By protocol: the newest figure that compares within it, Ω. */
  figures: [protocolId: number, resistanceOhm: number][];
  capacity: Quantity | null;
  /** Its discharge ended above the cut-off. */
  capacityIsAtLeast: boolean;
  capacityBy: CapacityBy | null;
  /** By its newest partial charge; null where there was none. */
  partial: JudgedPartial | null;
  /** The newest result of a self-discharge test; null where it was in none. */
  held: HeldVerdict | null;
  intake: IntakeVerdict;
  duty: DutyVerdict;
  waits: Waiting;
  standing: Status;
}

/** Cut-off of a test discharge by chemistry under these rules, V per cell. */
export const cutoffsOf = (rules: HouseRules): Record<string, number> =>
  Object.fromEntries(chemistryKeys.map((key) => [key, lowestVoltageV(key, rules)]));

/** Of what was found in looking at a cell or pack, what rules it out whatever the figures say. */
export const safetyFindings = (findings: readonly InspectionFinding[] | null): IntakeReason[] =>
  (findings ?? [])
    .filter((finding) => inspectionFindings[finding].safety)
    .map((finding) => ({ code: 'finding' as const, finding }));

export function judgeCell(
  { resistances, holds: selfDischarges, partial, ...facts }: CellFacts,
  rules: HouseRules,
  equipment: Equipment,
): JudgedCell {
  const massKg = facts.massKg === null ? null : read(facts.massKg, facts.massStepKg ?? 0);
  const voltageV = facts.voltage && correctedVoltage(facts.voltage, equipment.instruments).value;
  const intake = judgeIntake(
    { ...facts, restVoltagesV: voltageV === null ? [] : [voltageV], massKg, isWeighed: true },
    rules,
  );
  const judged = judgePresses(resistances, facts, equipment).map((one, i): JudgedOne => ({
    ...one,
    stored: resistances[i] as StoredResistance,
  }));
  const counts = countsAfter(facts.rescuedAt);
  const { resistance, leftOut } = tenSecondOf(
    judged.filter(({ stored }) => counts(stored.takenAt)),
    equipment,
  );
  const judgedPartial = partial && judgePartial(partial, facts, equipment);
  const known = capacityOf(
    facts.run && counts(facts.run.endedAt) ? facts.run : null,
    judgedPartial && counts(judgedPartial.takenAt) ? judgedPartial : null,
    facts.noted && counts(facts.noted.takenAt) ? facts.noted : null,
  );
  const weighedFalse = intake.reasons.filter(({ code }) => code === 'weight-impossible' || code === 'weight-off');
  const held = heldOf(selfDischarges, facts.id, rules, equipment);
  const safety: SafetyReason[] = [
    ...safetyFindings(facts.findings),
    ...(facts.findings === null ? [] : weighedFalse),
    ...(held?.verdict === 'leaks' ? [{ code: 'leaks' as const, why: held.why }] : []),
  ];
  const duty = gradeDuty(
    {
      chemistry: facts.chemistry,
      asNewCapacityAh: facts.ratedCapacityAh,
      asNewIs: 'rated',
      capacityAh: known.capacity,
      capacityIsAtLeast: known.capacityIsAtLeast,
      resistanceOhm: resistance,
      rescues: facts.rescues,
      holdAsked: facts.rescuedAt !== null && !(held?.verdict === 'holds' && counts(held.beganAt)),
      safety,
    },
    rules,
  );
  return {
    ...facts,
    voltageV,
    resistance,
    leftOut,
    figures: newestByProtocol(
      judged.flatMap(({ stored, figure, leftOut }): [number, number][] =>
        figure && leftOut === null ? [[stored.protocolId, figure.value]] : [],
      ),
    ),
    ...known,
    partial: judgedPartial,
    held,
    intake,
    duty,
    waits: nextStation(intake, duty, { inBuild: facts.buildId !== null, putAway: facts.putAway }),
    standing: statusOf(intake.class, duty.duty),
  };
}

/** The newest ten-second figure that was taken as its protocol asks: another one would not compare with the limits. */
function tenSecondOf(judged: readonly JudgedOne[], equipment: Equipment): Pick<JudgedCell, 'resistance' | 'leftOut'> {
  let leftOut: Warning | null = null;
  for (const { stored, ...one } of judged) {
    const protocol = equipment.protocols.get(stored.protocolId);
    if (!protocol || !showsTenSeconds(stored.method, protocol.holdS)) continue;
    if (one.leftOut === null) return { resistance: one.figure, leftOut };
    leftOut ??= one.leftOut;
  }
  return { resistance: null, leftOut };
}

/** The newest figure of each protocol, Ω, of those that count, the newest first. */
export function newestByProtocol(figures: Iterable<[protocolId: number, resistanceOhm: number]>): [number, number][] {
  const newest = new Map<number, number>();
  for (const [protocolId, ohm] of figures) if (!newest.has(protocolId)) newest.set(protocolId, ohm);
  return [...newest];
}

interface JudgedOne extends JudgedResistance {
  stored: StoredResistance;
}
