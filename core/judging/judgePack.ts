import type { HouseRules } from '@/core/chemistry/houseRules';
import { judgeGroups, type PackJudgement } from '@/core/packs/groupVoltages';
import { type IntakeVerdict, judgeIntake } from '@/core/grading/intake';
import { cyclesNow } from '@/core/packs/cycles';
import type { Pack, PackFacts, PackRound } from './facts';
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

/** A pack with what its facts say under the rules in force. */
export interface JudgedPack extends PackFacts {
  /** Of its newest round. */
  judgement: PackJudgement | null;
  intake: IntakeVerdict;
  /** Null where nothing is known of any. */
  cycles: number | null;
}

export function judgePack(pack: PackFacts, rules: HouseRules, book: InstrumentBook): JudgedPack {
  const rested = pack.rested && judgePackRound(pack, pack.rested, rules, book);
  return {
    ...pack,
    judgement: pack.latest && judgePackRound(pack, pack.latest, rules, book),
    intake: judgeIntake(
      {
        ...pack,
        restVoltagesV: rested?.groups.map((group) => group.voltageV) ?? [],
        isWeighed: false,
        massKg: null,
        modelMassKg: null,
      },
      rules,
    ),
    cycles: cyclesNow(pack.cyclesNoted, pack.chargeEnds),
  };
}
