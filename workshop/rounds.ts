import 'server-only';
import type { Protocol, Round } from '@/core/judging/facts';
import { crowdOfRound, type JudgedReading, judgeReadings } from '@/core/judging/judgeRound';
import type { Crowd } from '@/core/statistics/crowd';
import { subjectsChangedSince } from '@/records/cells';
import { database, snapshotOf } from '@/records/database';
import { readingsOfRounds } from '@/records/readings';
import { roundById } from '@/records/rounds';
import { judgedWorkshop, withCellsOf, type Workshop } from './judged';
import { type Kept, renewed } from './renewed';

export interface OpenRound {
  round: Round;
  protocol: Protocol;
  workshop: Workshop;
  readings: JudgedReading[];
  crowd: Crowd | null;
}

const held = globalThis as typeof globalThis & { openRounds?: Map<number, Kept<OpenRound | null>> };
const mostHeld = 20;

/**
 * A round with everything read in it, judged; null where there is none of that number. Kept by this process, which
 * judges only the readings of cells that changed since.
 */
export async function openRoundById(id: number): Promise<OpenRound | null> {
  const db = database();
  const snapshot = await snapshotOf(db);
  const rounds = (held.openRounds ??= new Map());
  const keep = (now: Kept<OpenRound | null> | undefined) => {
    rounds.delete(id);
    if (now) rounds.set(id, now);
    for (const oldest of [...rounds.keys()].slice(0, Math.max(0, rounds.size - mostHeld))) rounds.delete(oldest);
  };
  return renewed(rounds.get(id), snapshot, keep, async (before) => {
    const [round, judged, changed] = await Promise.all([
      roundById(db, id),
      judgedWorkshop(snapshot),
      before?.value ? subjectsChangedSince(db, before.snapshot) : null,
    ]);
    const protocol = round && judged.protocols.get(round.protocolId);
    if (!round || !protocol) return null;
    const workshop = await withCellsOf(judged, { batchCode: round.batchCode });
    const fresh = changed?.length === 0 ? [] : await readingsOfRounds(db, [id], changed && { cellIds: changed });
    const gone = new Set(changed);
    const unchanged = before?.value?.readings.filter((reading) => !gone.has(reading.row.cellId)) ?? [];
    const readings = [...judgeReadings(fresh, workshop), ...unchanged].sort(
      (a, b) => b.row.id - a.row.id || b.row.cellId - a.row.cellId,
    );
    return { round, protocol, workshop, readings, crowd: crowdOfRound(readings, workshop.rules.limits.oddBeyond) };
  });
}
