import type { HouseRules } from '@/core/chemistry/houseRules';
import { judgeGroups, type PackJudgement } from '@/core/packs/groupVoltages';
import type { Pack, PackRound } from './facts';
import type { InstrumentBook } from './instrumentBook';
import { correctedVoltage } from './judgeCell';

/**
 * Group i is read by channel i of an instrument with several, all by the one of any other; the terminals by their own.
 */
export function judgePackRound(pack: Pack, round: PackRound, rules: HouseRules, book: InstrumentBook): PackJudgement {
  const volt = (valueV: number, stepV: number, instrumentId: number | null, channel: number) => {
    const { value, u } = correctedVoltage({ valueV, step: stepV, instrumentId, channel, takenAt: round.takenAt }, book);
    return { voltageV: value, stepV, u };
  };
  const hasChannels = (book.byId(round.instrumentId)?.channels ?? 1) > 1;
  const groups = round.groupVoltagesV.map((valueV, i) =>
    volt(valueV, round.groupStepsV[i] as number, round.instrumentId, hasChannels ? i + 1 : 1),
  );
  const terminal =
    round.terminalV === null || round.terminalStepV === null
      ? null
      : volt(round.terminalV, round.terminalStepV, round.terminalInstrumentId, 1);
  return judgeGroups({ chemistry: pack.chemistry, state: round.state, groups, terminal }, rules);
}
