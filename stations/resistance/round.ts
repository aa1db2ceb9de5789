import 'server-only';
import { rectangular } from '@/core/quantity/quantity';
import type { StepResult } from '@/core/resistance/loadStep';
import { type Crowd, crowdOf } from '@/core/statistics/crowd';
import { database } from '@/records/database';
import { readingsOfRound, type StoredReading } from '@/records/readings';
import type { Round } from '@/records/rounds';
import { type JudgedCell, judgedWorkshop, stepOf, type Workshop } from '@/stations/workshop';
import type { RoundContext } from './entry';

/** The cells a round is for: those of its batch that are usable. */
export const roundCells = ({ cells }: Workshop, batchCode: string): JudgedCell[] =>
  cells.filter((cell) => cell.batchCode === batchCode && cell.intake.class === 'usable' && cell.waits !== 'retired');

export interface RoundReading {
  reading: StoredReading & { code: string };
  /** Null for a confirmed reading that gives no resistance. */
  result: StepResult | null;
}

/** The standing readings of a round, newest first, with their computation. */
export async function readingsWithResults(round: Round): Promise<RoundReading[]> {
  const readings = await readingsOfRound(database(), round.id);
  return readings.map((reading) => ({
    reading,
    result: stepOf({ openV: reading.openV ?? NaN, loadedV: reading.loadedV ?? NaN, afterV: reading.afterV, currentA: reading.currentA, step: reading.step ?? 0.001, currentStep: reading.currentStep, loadResistanceOhm: round.loadResistanceOhm, loadTolerance: round.loadTolerance, loadRatingW: round.loadRatingW, roundId: round.id }),
  }));
}

/** The crowd of a round by the newest reading of each cell; a reading's own uncertainty is the least spread assumed. */
export function crowdOfRound(readings: readonly RoundReading[], oddBeyond: number): Crowd | null {
  const newest = new Map<string, number>();
  for (const { reading, result } of readings) if (result && !newest.has(reading.code)) newest.set(reading.code, result.resistance.value);
  const floor = Math.max(rectangular(0.001), ...readings.slice(0, 1).map(({ result }) => result?.resistance.u ?? 0));
  return crowdOf([...newest.values()], oddBeyond, floor);
}

export async function roundContext(round: Round): Promise<RoundContext> {
  const [readings, { rules }] = await Promise.all([readingsWithResults(round), judgedWorkshop()]);
  return { method: round.method, loadResistanceOhm: round.loadResistanceOhm, batchMedianOhm: crowdOfRound(readings, rules.limits.oddBeyond)?.median ?? null };
}
