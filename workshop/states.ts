import 'server-only';
import { benchMeterU } from '@/core/instruments/instrument';
import type { ClinicVerdict } from '@/core/judging/judgeClinic';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import type { JobKind } from '@/core/planning/benchPlan';
import type { Quantity } from '@/core/quantity/quantity';
import type { SubjectFacts, VoltageRound } from '@/core/state/facts';
import { type About, type NextStep, nextSteps } from '@/core/state/nextSteps';
import { type Barrier, permission } from '@/core/state/permissions';
import { factsOfSubject, stateOfSubject } from '@/core/state/ofSubject';
import { stateOf, type SubjectState } from '@/core/state/subjectState';
import { now } from './clock';
import type { Workshop } from './judged';

/**
 * What is known of a cell or pack now.
 *
 * @param lastJob what was done last with it at the bench; left out where that is not asked for
 */
export function stateNow(
  subject: JudgedSubject,
  workshop: Workshop,
  lastJob?: { kind: JobKind; endedAt: Date },
): SubjectState {
  const moved =
    lastJob && lastJob.kind !== 'resistance' && lastJob.kind !== 'hold'
      ? { kind: lastJob.kind, endedAt: lastJob.endedAt }
      : null;
  return stateOfSubject(subject, workshop.rules.limits, workshop, now(), moved);
}

/** Groups that were filed within this time, and not charged or used since, are still as they were. */
const freshMs = 24 * 3_600_000;

/** What a meter shows now, before a sheet. */
export interface MeasuredNow {
  /** At the terminals, V. */
  measuredV: number | null;
  /** From the negative end, V. */
  groupsV: readonly number[] | null;
}

/** The state with what a meter shows now; groups that were filed lately count beside terminals that were typed. */
export function stateMeasured(
  subject: JudgedSubject,
  workshop: Workshop,
  { measuredV, groupsV }: MeasuredNow,
): { state: SubjectState; groupsV: readonly number[] | null } {
  const at = now();
  const facts = factsOfSubject(subject, workshop, null);
  const read = (value: number) => ({ value, u: benchMeterU });
  const filed = groupsV === null ? freshGroups(facts, at) : null;
  const round: VoltageRound = {
    state: 'rest',
    at,
    groupsV: groupsV?.map(read) ?? filed ?? [],
    terminalV: measuredV === null ? null : read(measuredV),
  };
  const state = stateOf({ ...facts, rounds: [round, ...facts.rounds], moves: [] }, workshop.rules.limits, at);
  return { state, groupsV: groupsV ?? filed?.map(({ value }) => value) ?? null };
}

function freshGroups({ rounds, moves, series }: SubjectFacts, now: Date): Quantity[] | null {
  const newest = rounds.find(({ state }) => state === 'rest');
  if (!newest || now.getTime() - newest.at.getTime() > freshMs || moves.some(({ at }) => at > newest.at)) return null;
  const groups = newest.groupsV.filter((v) => v !== null);
  return series > 1 && groups.length === series ? groups : null;
}

/** Of these cells those that are not joined with others, each with the first reason. */
export const notToJoin = (cells: readonly JudgedCell[], workshop: Workshop): { code: string; barrier: Barrier }[] =>
  cells.flatMap((cell) => {
    const join = permission(stateNow(cell, workshop), 'join', workshop.rules.limits);
    const [barrier] = join.allowed ? [] : join.because;
    return barrier ? [{ code: cell.code, barrier }] : [];
  });

/** What is done next with a cell or pack, in order. */
export const nextStepsNow = (subject: JudgedSubject, workshop: Workshop, clinic: ClinicVerdict | null): NextStep[] =>
  nextSteps(stateNow(subject, workshop), aboutOf(subject, clinic), workshop.rules.limits);

const aboutOf = (subject: JudgedSubject, clinic: ClinicVerdict | null): About => ({
  waits: subject.waits,
  standing: subject.standing,
  buildId: isPack(subject) ? null : subject.buildId,
  leaks: subject.held?.verdict === 'leaks',
  clinic,
});
