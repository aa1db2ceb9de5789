import type { JobKind } from '@/core/planning/benchPlan';
import { planJobs } from '@/core/planning/benchPlan';
import { chargerSheet } from '@/core/planning/chargerSheet';
import { type ChargerSheet, goalActs, nothingWanted, type SheetGoal, sheetGoals } from '@/core/planning/sheet';
import { wantedOf } from '@/core/judging/upkeep';
import { seededChance } from '@/core/statistics/random';
import { actOf, nextSteps } from '@/core/state/nextSteps';
import { permission } from '@/core/state/permissions';
import { stateOf, type SubjectState } from '@/core/state/subjectState';
import { bareFacts } from '@/core/state/facts';
import { carryOut, drawHistory, type History, historyNow, historyRules as rules } from './histories';

/** What was found over many histories. */
export interface StateFindings {
  histories: number;
  /** Two places that say something else of one pack. */
  contradictions: string[];
  /** Sheets that were carried out, and those that took a group beyond its limits. */
  carried: number;
  beyond: string[];
  /** Of the sheets carried out: how many times the truth lay within the 95 % interval. */
  within: Record<'minutes' | 'charge', { held: number; of: number }>;
}

/** A group may rise so far above its end, V: a balancing charger lets cells touch it; and a meter is no better. */
const mayRiseV = 0.05;
/** And fall so far below its floor under load, V. */
const mayFallV = 0.05;
const asFiled = { measuredV: null, groupsV: null, isCounted: true, isLabelRead: true };

const sheetFor = (state: SubjectState, goal: SheetGoal, { charger }: History) =>
  chargerSheet({ state, measured: asFiled, charger, goal, wanted: nothingWanted, rules, loadOhm: null });

/** Draws packs with histories, asks every place for advice, and carries it out on the packs as they really are. */
export function findings(histories: number, seed: number): StateFindings {
  const chance = seededChance(seed);
  const found: StateFindings = {
    histories,
    contradictions: [],
    carried: 0,
    beyond: [],
    within: { minutes: { held: 0, of: 0 }, charge: { held: 0, of: 0 } },
  };
  for (let i = 0; i < histories; i += 1) {
    const history = drawHistory(chance);
    const state = stateOf(history.facts, rules, historyNow);
    found.contradictions.push(...contradictionsIn(history, state).map((text) => `history ${i}: ${text}`));
    for (const goal of ['charge', 'storage', 'discharge'] as const) {
      const { sheet } = sheetFor(state, goal, history);
      if (sheet) follow(found, history, state, sheet, i);
    }
  }
  return found;
}

/** Sheet, plan, upkeep, use and next steps say the same of one pack. */
function contradictionsIn(history: History, state: SubjectState): string[] {
  const found: string[] = [];
  const jobs: Partial<Record<SheetGoal, JobKind>> = { charge: 'charge', storage: 'storage', discharge: 'discharge' };
  for (const goal of sheetGoals) {
    const allowed = permission(state, goalActs[goal], rules);
    const { sheet, refusal } = sheetFor(state, goal, history);
    if (sheet && !allowed.allowed) found.push(`${goal}: a sheet, though ${allowed.because[0]?.code}`);
    const kind = jobs[goal];
    if (!kind) continue;
    const { placed } = planJobs({
      subjects: [{ code: state.code, state, lastDone: null }],
      jobs: [{ id: 'it', of: state.code, kind, after: null, dueMin: null }],
      bench: { chargers: [{ id: 'C', limits: history.charger }], loads: [] },
      attended: [{ from: 0, to: 1e6 }],
      running: [],
      rules,
    });
    if (placed.length > 0 !== (sheet !== null)) found.push(`${goal}: the plan says otherwise than ${refusal?.code}`);
  }
  const upkeep = wantedOf(state, rules)?.act;
  const isStored = upkeep === 'down-to-storage' || upkeep === 'up-to-storage';
  if (isStored && !permission(state, 'store', rules).allowed) found.push('upkeep wants storage, which is refused');
  const about = { waits: 'shelf' as const, standing: 'steady' as const, buildId: null, leaks: false, clinic: null };
  for (const waits of ['shelf', 'resistance', 'capacity'] as const) {
    const [first] = nextSteps(state, { ...about, waits }, rules);
    const act = first ? actOf(first) : null;
    if (act && !permission(state, act, rules).allowed) found.push(`the next step, ${act}, is refused`);
  }
  return [...found, ...orderMatters(history, state)];
}

/** The order of filing does not matter, and without any fact it is a new subject. */
function orderMatters({ facts }: History, state: SubjectState): string[] {
  const turned = { ...facts, rounds: facts.rounds.toReversed(), moves: facts.moves.toReversed() };
  const isSame = JSON.stringify(stateOf(turned, rules, historyNow)) === JSON.stringify(state);
  const { code, chemistry, series, ratedCapacityAh } = facts;
  const isNew = stateOf(bareFacts({ code, chemistry, series, ratedCapacityAh }), rules, historyNow);
  return [
    ...(isSame ? [] : ['the order of filing matters']),
    ...(isNew.groups.every(({ soc, restV }) => soc === null && restV === null) ? [] : ['a new subject has a charge']),
  ];
}

function follow(found: StateFindings, history: History, state: SubjectState, sheet: ChargerSheet, i: number): void {
  // What was never measured group by group cannot be vouched for: the screen says so.
  if (!state.isGroupsRead || sheet.isBlind || sheet.seen.movedAh <= 0) return;
  const carried = carryOut(history, sheet);
  found.carried += 1;
  const { endV } = state.limits;
  const where = `history ${i}, ${sheet.goal} of ${state.series} ${state.chemistry}`;
  const isLithium = ['li-ion', 'lipo', 'lihv', 'lfp'].includes(state.chemistry);
  if (isLithium && sheet.main === 'charge' && carried.highestV > endV + mayRiseV)
    found.beyond.push(`${where}: a group rose to ${carried.highestV.toFixed(3)} V`);
  if (sheet.main === 'discharge' && carried.lowestV < sheet.floorPerGroupV - mayFallV)
    found.beyond.push(`${where}: a group fell to ${carried.lowestV.toFixed(3)} V`);
  if (!isLithium || sheet.steps.length > 2) return;
  const { minutes, charge } = sheet.forecast;
  const selfDischarges = (estimated: { value: number; u: number }, truth: number): boolean =>
    Math.abs(estimated.value - truth) <= 1.959964 * estimated.u;
  found.within.minutes.of += 1;
  found.within.charge.of += 1;
  if (selfDischarges(minutes, carried.minutes)) found.within.minutes.held += 1;
  if (selfDischarges(charge, carried.chargeAh)) found.within.charge.held += 1;
}
