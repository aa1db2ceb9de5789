import 'server-only';
import type { Protocol, Round } from '@/core/judging/facts';
import { roundPopulation, type JudgedReading, judgeReadings } from '@/core/judging/judgeRound';
import type { Population } from '@/core/statistics/population';
import { subjectsChangedSince } from '@/records/cells';
import { database, snapshotOf } from '@/records/database';
import { readingsOfRounds } from '@/records/readings';
import { roundById } from '@/records/rounds';
import { type JudgedPack, packRead } from '@/core/judging/judgePack';
import type { JudgedFor } from '@/core/judging/judgeResistance';
import { cellOfCode } from '@/core/judging/shelf';
import { judgedPacks, judgedWorkshop, withCellsOf, type Workshop } from './judged';
import { type Kept, renewed } from './renewed';

export interface OpenRound {
  round: Round;
  protocol: Protocol;
  workshop: Workshop;
  /** Of a round over packs all of them. */
  packs: JudgedPack[];
  /** What a cell or pack of the round is; null where it is not known. */
  subjectOf: (code: string) => JudgedFor;
  readings: JudgedReading[];
  population: Population | null;
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
    const { batchCode } = round;
    const workshop = batchCode === null ? judged : await withCellsOf(judged, { batchCode });
    const packs = batchCode === null ? await judgedPacks(judged) : [];
    const subjectOf = (code: string): JudgedFor => {
      if (batchCode !== null) return cellOfCode(workshop, code);
      const pack = packs.find((one) => one.code === code);
      return pack ? packRead(pack) : null;
    };
    const fresh = changed?.length === 0 ? [] : await readingsOfRounds(db, [id], changed && { subjectIds: changed });
    const gone = new Set(changed);
    const unchanged = before?.value?.readings.filter((reading) => !gone.has(reading.row.subjectId)) ?? [];
    const readings = [...judgeReadings(fresh, subjectOf, workshop), ...unchanged].sort(
      (a, b) =>
        b.row.id - a.row.id ||
        b.row.subjectId - a.row.subjectId ||
        a.row.resistance.position - b.row.resistance.position,
    );
    // Packs differ in size: each is compared with itself.
    const population = batchCode === null ? null : roundPopulation(readings, workshop.rules.limits.oddBeyond);
    return { round, protocol, workshop, packs, subjectOf, readings, population };
  });
}
