import { looksTurned } from '../groupOrder';
import { medianOhm, usualOhmAh } from './roundMedians';
import { type Diagnosed, type DiagnosedRound, medianV, settlingS } from './visit';

/** How a round looks mislabelled. */
export const roundQuestions = ['under-load', 'swapped', 'from-positive-end', 'not-settled'] as const;

/** A round, by its place, that a person is asked about before a group is accused. */
export interface RoundQuestion {
  round: number;
  code: (typeof roundQuestions)[number];
}

/** At rest nothing changes within this time, s; a load of a test lies that near to its rest. Common practice. */
const soonS = 900;
/** Two rounds of one pack at rest differ by less, of one tool and of two, V. From memory. */
const sameToolV = 0.012;
const twoToolsV = 0.03;
/** A load that is worth its name lowers the median by more than this, V. */
const loadedV = 0.004;
/**
 * Rounds that do not go together with the rounds beside them: one at rest that lies below another at rest taken at the
 * same time, a load above its rest, groups the other way round, a rest too soon after a charge. Source: own rule.
 */
export function questionsOf(rounds: readonly DiagnosedRound[]): RoundQuestion[] {
  const medianGroupV = rounds.map((round) => medianV(round) ?? NaN);
  const found = new Map<number, RoundQuestion['code']>();
  const ask = (round: number, code: RoundQuestion['code']): void => {
    if (!found.has(round)) found.set(round, code);
  };
  rounds.forEach((round, r) => {
    if (round.state === 'rest' && round.sinceChargeS !== null && round.sinceChargeS < settlingS) ask(r, 'not-settled');
    const before = rounds[r - 1];
    if (!before) return;
    const apartV = (medianGroupV[r] as number) - (medianGroupV[r - 1] as number);
    const isSoon = round.atS - before.atS <= soonS;
    if (round.state === 'rest' && before.state === 'rest') {
      const mostV = round.instrument === before.instrument ? sameToolV : twoToolsV;
      if (isSoon && Math.abs(apartV) > mostV) ask(apartV < 0 ? r : r - 1, 'under-load');
    }
    if (round.state === 'load' && before.state === 'rest' && isSoon && apartV > loadedV) ask(r, 'swapped');
  });
  rounds.forEach((round, r) => {
    const before = rounds.slice(0, r).findLast(({ state }) => state === round.state);
    if (round.state === 'rest' && before && looksTurned(round.groupVoltagesV, before.groupVoltagesV))
      ask(r, 'from-positive-end');
  });
  return [...found].map(([round, code]) => ({ round, code })).sort((a, b) => a.round - b.round);
}

/**
 * The rounds as they were measured if every question is answered with yes: the load as a load, swapped rounds the right
 * way round, groups from the negative end. Null where nothing would change; a rest that is not settled stays one.
 */
export function roundsIfSo(pack: Diagnosed, questions: readonly RoundQuestion[]): DiagnosedRound[] | null {
  const rounds = [...pack.rounds];
  for (const { round: r, code } of questions) {
    const [own, before] = [rounds[r], rounds[r - 1]];
    if (!own) continue;
    if (code === 'under-load') rounds[r] = asLoad(pack, r);
    if (code === 'from-positive-end') rounds[r] = { ...own, groupVoltagesV: own.groupVoltagesV.toReversed() };
    if (code === 'swapped' && before) {
      rounds[r - 1] = { ...before, groupVoltagesV: own.groupVoltagesV, terminalV: own.terminalV };
      rounds[r] = { ...own, groupVoltagesV: before.groupVoltagesV, terminalV: before.terminalV };
    }
  }
  return questions.some(({ code }) => code !== 'not-settled') ? rounds : null;
}

/** A load by the usual resistance: the current that lowers the median by as much. */
function asLoad({ rounds, groupResistancesOhm, ratedCapacityAh }: Diagnosed, r: number): DiagnosedRound {
  const own = rounds[r] as DiagnosedRound;
  const [ownV, beside] = [medianV(own) ?? 0, [rounds[r - 1], rounds[r + 1]]];
  const dropsV = beside.map((one) => (one ? (medianV(one) ?? 0) - ownV : 0));
  const ohm = medianOhm(groupResistancesOhm) ?? usualOhmAh / ratedCapacityAh;
  return { ...own, state: 'load', currentA: Math.max(0, ...dropsV) / ohm };
}
