import type { Round } from '@/core/judging/facts';
import type { JudgedPack } from '@/core/judging/judgePack';
import { notMeasuredText } from '@/words/rounds';
import type { RoundCell } from './roundLine';

/** What of a pack the reading bar of a round needs. */
export const packInRound = (pack: JudgedPack, round: Pick<Round, 'protocolId'>): Omit<RoundCell, 'times'> => ({
  code: pack.code,
  chemistry: pack.chemistry,
  weldedTo: [],
  series: pack.series,
  ownMedianOhm: pack.resistanceTimes.find((time) => time.protocolId === round.protocolId)?.medianOhm ?? null,
});

/** Why a pack is not measured in a round; null where it may be. */
export function whyPackNotMeasured({ code, intake, apart }: JudgedPack): string | null {
  if (apart) return notMeasuredText(code, { code: 'apart' });
  if (intake.class === 'out') return notMeasuredText(code, { code: 'out', because: intake.reasons[0] ?? null });
  return intake.class === 'rescue-only' ? notMeasuredText(code, { code: 'below-floor' }) : null;
}
