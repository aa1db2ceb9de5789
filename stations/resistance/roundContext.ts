import 'server-only';
import { digitsOf } from '@/core/judging/instrumentBook';
import { display } from '@/core/quantity/format';
import { methods } from '@/core/resistance/methods';
import type { OpenRound } from '@/workshop/rounds';
import type { RoundContext } from './roundLine';

/** What the reading bar of a round needs to understand a line, in the browser as on the server. */
export function contextOf({ round, workshop, population }: OpenRound): RoundContext {
  const instrument = workshop.instruments.byId(round.instrumentId);
  const quantity = methods[round.method].needs;
  return {
    method: round.method,
    loadResistanceOhm: round.loadResistanceOhm,
    batchMedianOhm: population?.median ?? null,
    instrument: digitsOf(instrument, quantity, display[quantity]),
  };
}
