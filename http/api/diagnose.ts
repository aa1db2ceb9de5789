import { chemistries } from '@/core/chemistry/chemistries';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { disagreeingIn } from '@/core/judging/judgeClinic';
import { diagnosePack, type PackDiagnosis } from '@/core/packs/diagnosis/diagnose';
import { nextMeasurement } from '@/core/packs/diagnosis/nextMeasurement';
import { type Diagnosed, type DiagnosedRound, medianV, nothingKnown } from '@/core/packs/diagnosis/visit';
import { looksTurned } from '@/core/packs/groupOrder';
import { refuseAbove } from '@/core/packs/remedies';
import { writtenDigitOf } from '@/core/quantity/lastDigit';
import { disagreeingText } from '@/words/clinic';
import { evidenceText, measurementText, roundQuestionText, settledText, whyMeasured } from '@/words/diagnosis';
import { refusalOf } from '@/words/impossible';
import { questionText } from '@/words/questions';
import type { z } from 'zod';
import type { diagnoseRequest, diagnoseResponse } from './schemas';

type DiagnoseRequest = z.infer<typeof diagnoseRequest>;

/** What is wrong with a pack, by the table of its chemistry. Nothing is stored. */
export function computeDiagnosis(request: DiagnoseRequest): z.infer<typeof diagnoseResponse> {
  const { order, ...pack } = packOf(request);
  const diagnosis = diagnosePack(pack);
  const next = nextMeasurement(diagnosis, pack);
  return {
    groups: diagnosis.groups.map((group) => ({
      position: group.position,
      stateOfCharge: group.stateOfCharge,
      findings: [...group.findings, { fault: 'none' as const, probability: group.soundProbability }].map(
        ({ fault, probability }) => ({ fault, probability, evidence: evidenceText(group, pack.rounds) }),
      ),
    })),
    pack: { findings: diagnosis.pack.map((finding) => ({ ...finding, evidence: wholeEvidence(diagnosis) })) },
    nextMeasurement: next
      ? { what: measurementText(next.what), why: whyMeasured(next) }
      : { what: 'none', why: settledText },
    questions: diagnosis.questions.map(({ round, code }) => ({
      round: order[round] as number,
      code,
      message: roundQuestionText(code),
    })),
    warnings: warningsOf(request, pack),
  };
}

/** What in the rounds does not go together. */
function warningsOf({ chemistry }: DiagnoseRequest, { rounds }: Diagnosed) {
  const rested = rounds.filter(({ state }) => state === 'rest');
  const disagreeing = disagreeingIn(
    rested.map((round) => ({
      state: round.state,
      at: new Date(round.atS * 1000),
      instrument: round.instrument,
      medianV: medianV(round) ?? NaN,
    })),
  );
  const isTurned = rested.some((round, i) => {
    const before = rested[i - 1];
    return before !== undefined && looksTurned(round.groupVoltagesV, before.groupVoltagesV);
  });
  const above = rested
    .map(({ groupVoltagesV }) => refusalOf(() => refuseAbove(chemistry, groupVoltagesV)))
    .find((refusal) => refusal !== null);
  return [
    ...(disagreeing ? [{ code: 'instruments-disagree', message: disagreeingText(disagreeing) }] : []),
    ...(isTurned ? [{ code: 'perhaps-from-red', message: questionText({ code: 'perhaps-from-red' }) }] : []),
    ...(above ? [{ code: 'above-its-chemistry', message: above }] : []),
  ];
}

/** Why little is said of it; empty where nothing is missing. */
const wholeEvidence = ({ groups }: PackDiagnosis): string[] =>
  groups.length < 2 ? ['one group alone cannot be compared'] : [];

/** With the place of each round as it was sent: they are put in the order of time. */
function packOf({
  chemistry,
  series,
  ratedCapacityAh,
  rounds,
  reason,
}: DiagnoseRequest): Diagnosed & { order: number[] } {
  const ordered = rounds
    .map((round, i) => ({ ...round, i, atMs: round.at === undefined ? null : new Date(round.at).getTime() }))
    .sort((one, other) => (one.atMs ?? 0) - (other.atMs ?? 0) || one.i - other.i);
  const fromMs = ordered.find(({ atMs }) => atMs !== null)?.atMs ?? 0;
  let atS = 0;
  return {
    order: ordered.map(({ i }) => i),
    curve: openCircuitOf(chemistry),
    series,
    ratedCapacityAh,
    beforehand: { ...nothingKnown, reason },
    floorV: chemistries[chemistry].lowestV,
    groupResistancesOhm:
      ordered.findLast(({ groupResistancesOhm }) => groupResistancesOhm)?.groupResistancesOhm ?? null,
    rounds: ordered.map((round): DiagnosedRound => {
      const { state, currentA, groupVoltagesV, terminalVoltageV, instrument, sinceChargeS, atMs } = round;
      // Rounds without a time follow each other at once.
      atS = atMs === null ? atS : (atMs - fromMs) / 1000;
      return {
        state,
        atS,
        currentA: currentA ?? 0,
        groupVoltagesV,
        digitV: digitOf(groupVoltagesV),
        instrument: instrument ?? null,
        sinceChargeS: sinceChargeS ?? null,
        terminalV:
          terminalVoltageV === undefined ? null : { value: terminalVoltageV, digitV: digitOf([terminalVoltageV]) },
      };
    }),
  };
}

/** The last digit of figures as they came, no finer than a millivolt: trailing zeros are not sent. */
const digitOf = (values: readonly (number | null)[]): number => {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? 1 : Math.min(0.1, Math.max(0.001, writtenDigitOf(known)));
};
