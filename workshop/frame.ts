import 'server-only';
import { uncorrectedChannels } from './sheets';
import type { Waiting } from '@/core/grading/nextStation';
import { runsJudging } from './judgeRun';
import { lastBackupAt } from '@/records/backup';
import { countBuilds } from '@/records/builds';
import { database } from '@/records/database';
import { type Resting, restingNow } from '@/records/periods';
import { type Station, type StationKey, stationKeys, stations } from './stations';
import { judgedPacks, judgedWorkshop, oncePer, type Workshop } from './judged';

/** A station with what waits there. */
export interface Stop {
  station: Station;
  count: number;
  /** Something there needs a hand now. */
  hot: boolean;
}

const savedBuilds = oncePer(() => countBuilds(database()));

/** The stations in working order with what waits at each. */
async function stopsOf(workshop: Workshop, waiting: Map<Waiting, number>): Promise<Stop[]> {
  const [packs, builds, wrong] = await Promise.all([
    judgedPacks(workshop),
    savedBuilds(workshop),
    uncorrectedChannels(workshop),
  ]);
  const urgent = packs.filter((pack) => pack.judgement?.says.some((says) => says.urgent)).length;
  const cells = (at: Waiting) => ({ count: waiting.get(at) ?? 0, hot: false });
  const waits: Record<StationKey, { count: number; hot: boolean }> = {
    intake: cells('intake'),
    instruments: { count: wrong, hot: wrong > 0 },
    resistance: cells('resistance'),
    runs: cells('runs'),
    shelf: cells('shelf'),
    builds: { count: builds.standing, hot: false },
    clinic: { count: urgent, hot: urgent > 0 },
  };
  return stationKeys.map((key) => ({ station: stations[key], ...waits[key] }));
}

export interface FrameFacts {
  stops: Stop[];
  resting: Resting[];
  /** When the last backup was made; null where none ever was. */
  backupAt: Date | null;
  /** How far the judging of all cells, or of the runs, is; null once it is done. */
  judging: { what: 'cells' | 'runs'; done: number; total: number } | null;
}

export async function frameFacts(): Promise<FrameFacts> {
  const workshop = await judgedWorkshop();
  const { rules, cells } = workshop;
  const waiting = new Map<Waiting, number>();
  for (const cell of cells) waiting.set(cell.waits, (waiting.get(cell.waits) ?? 0) + 1);
  const [stops, resting, backupAt] = await Promise.all([
    stopsOf(workshop, waiting),
    restingNow(database(), rules.limits.restAfterDischargeH * 3600),
    lastBackupAt(database()),
  ]);
  const runs = runsJudging();
  const judging = workshop.judging
    ? { what: 'cells' as const, ...workshop.judging }
    : runs && { what: 'runs' as const, ...runs };
  return { stops, resting, backupAt, judging };
}

/** Where to begin: the first station with something waiting. */
export async function firstStation(): Promise<string> {
  const { stops } = await frameFacts();
  return (stops.find((stop) => stop.count > 0)?.station ?? stations.intake).address;
}
