import 'server-only';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import { type HouseRules, lowestVoltageV } from '@/core/chemistry/houseRules';
import { chemistryKeys } from '@/core/chemistry/chemistries';
import { type DutyVerdict, gradeDuty } from '@/core/grading/duty';
import { inspectionFindings, type IntakeVerdict, judgeIntake } from '@/core/grading/intake';
import { nextStation, type Waiting } from '@/core/grading/nextStation';
import { ImpossibleInput } from '@/core/impossibleInput';
import { type PackJudgement, judgeGroups } from '@/core/packs/groupVoltages';
import { exact, type Quantity, read } from '@/core/quantity/quantity';
import { loadStep, type StepResult } from '@/core/resistance/loadStep';
import { type CellFacts, cellFacts, type LoadStepFacts } from '@/records/cells';
import { database, type Queryable, snapshotOf } from '@/records/database';
import { rulesInForce, type RulesInForce } from '@/records/houseRules';
import { listPacks, type Pack, type PackRound } from '@/records/packs';

/** A cell with what its facts say under the rules in force. */
export interface JudgedCell extends CellFacts {
  resistance: Quantity | null;
  capacity: Quantity | null;
  intake: IntakeVerdict;
  duty: DutyVerdict;
  waits: Waiting;
}

export interface Workshop {
  rules: RulesInForce;
  cells: JudgedCell[];
}

/** Cut-off of a test discharge by chemistry under these rules, V per cell. */
export const cutoffsOf = (rules: HouseRules): Record<string, number> => Object.fromEntries(chemistryKeys.map((key) => [key, lowestVoltageV(key, rules)]));

/** The computation of a kept load step; null for readings that give no resistance. */
export function stepOf(facts: LoadStepFacts): StepResult | null {
  const { openV, loadedV, afterV, currentA, step, currentStep, loadResistanceOhm, loadTolerance, loadRatingW } = facts;
  const droopV = afterV === null ? exact(0) : { value: openV - afterV, u: read(0, step).u * Math.SQRT2 };
  try {
    return loadStep({
      openV: read(openV, step),
      loadedV: read(loadedV, step),
      droopV,
      load:
        loadResistanceOhm === null
          ? { kind: 'ammeter', currentA: read(currentA ?? 0, currentStep ?? 0.01) }
          : {
              kind: 'resistor',
              resistanceOhm: { value: loadResistanceOhm, u: ((loadTolerance ?? 0.01) * loadResistanceOhm) / Math.sqrt(3) },
              ...(loadRatingW === null ? {} : { powerRatingW: loadRatingW }),
            },
    });
  } catch (error) {
    // A confirmed reading that makes no sense as a resistance stays a fact and gives no figure.
    if (!(error instanceof ImpossibleInput)) throw error;
    return null;
  }
}

export function judgeCell(facts: CellFacts, rules: HouseRules): JudgedCell {
  const massKg = facts.massKg === null ? null : read(facts.massKg, facts.massStepKg ?? 0);
  const intake = judgeIntake({ ...facts, restVoltageV: facts.voltageV, massKg }, rules);
  const step = facts.step && stepOf(facts.step);
  const resistance = step && { value: step.resistance.value, u: step.resistance.u };
  const capacity = facts.run && { value: facts.run.capacityAh, u: facts.run.capacityU };
  const safety = [
    ...(facts.findings ?? []).filter((finding) => inspectionFindings[finding].safety).map((finding) => inspectionFindings[finding].text),
    ...(intake.unsafe && facts.findings !== null ? intake.reasons.filter((reason) => reason.rule === 'bestSpecificEnergyWhPerKg' || reason.rule === 'weightTolerance').map((reason) => reason.text) : []),
  ];
  const duty = gradeDuty({ chemistry: facts.chemistry, asNewCapacityAh: facts.ratedCapacityAh, asNewIs: 'rated', capacityAh: capacity, resistanceOhm: resistance, safety }, rules);
  return { ...facts, resistance, capacity, intake, duty, waits: nextStation(intake, duty, facts.buildId !== null) };
}

const held = globalThis as typeof globalThis & { judgedWorkshop?: { snapshot: string; workshop: Workshop } };

/** Every cell judged. Kept by this process for as long as no transaction changes the database. */
export async function judgedWorkshop(): Promise<Workshop> {
  const db = database();
  const snapshot = await snapshotOf(db);
  if (held.judgedWorkshop?.snapshot === snapshot) return held.judgedWorkshop.workshop;
  const rules = await rulesInForce(db);
  const facts = await cellFacts(db, cutoffsOf(rules.limits), dischargeArithmetic);
  const workshop = { rules, cells: facts.map((cell) => judgeCell(cell, rules.limits)) };
  held.judgedWorkshop = { snapshot, workshop };
  return workshop;
}

export type JudgedPack = Pack & { latest: PackRound | null; judgement: PackJudgement | null };

export async function judgedPacks(rules: HouseRules, db: Queryable = database()): Promise<JudgedPack[]> {
  return (await listPacks(db)).map((pack) => ({ ...pack, judgement: pack.latest && judgePackRound(pack, pack.latest, rules) }));
}

export const judgePackRound = (pack: Pack, round: PackRound, rules: HouseRules): PackJudgement =>
  judgeGroups({ chemistry: pack.chemistry, state: round.state, groupVoltagesV: round.groupVoltagesV, terminalVoltageV: round.terminalV, stepV: round.stepV }, rules);
