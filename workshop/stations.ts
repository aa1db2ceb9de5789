import 'server-only';
import { uncorrectedChannels } from './sheets';
import type { Waiting } from '@/core/grading/nextStation';
import { lastBackupAt } from '@/records/backup';
import { countBuilds } from '@/records/builds';
import { database } from '@/records/database';
import { type Resting, restingNow } from '@/records/rests';
import { counted } from '@/words/counted';
import { judgedPacks, judgedWorkshop, oncePer, type Workshop } from './judged';

export interface Stop {
  href: string;
  name: string;
  count: number;
  /** The number with what it counts, for those who listen. */
  counts: string;
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
  const urgent = packs.filter((pack) => pack.judgement?.says.some((says) => says.urgent));
  const cells = (at: Waiting) => waiting.get(at) ?? 0;
  const stop = (href: string, name: string, count: number, one: string, many: string, hot = false): Stop => ({
    href,
    name,
    count,
    counts: counted(count, one, many),
    hot,
  });
  return [
    stop('/intake', 'Intake', cells('intake'), 'cell to look at', 'cells to look at'),
    stop(
      '/instruments',
      'Instruments',
      wrong,
      'channel known to be wrong and not corrected',
      'channels known to be wrong and not corrected',
      wrong > 0,
    ),
    stop('/resistance', 'Resistance', cells('resistance'), 'cell to measure', 'cells to measure'),
    stop('/runs', 'Runs', cells('runs'), 'cell to discharge', 'cells to discharge'),
    stop('/shelf', 'Shelf', cells('shelf'), 'graded cell that is free', 'graded cells that are free'),
    stop('/builds', 'Builds', builds.standing, 'saved build', 'saved builds'),
    stop(
      '/clinic',
      'Clinic',
      urgent.length,
      'pack that needs attention',
      'packs that need attention',
      urgent.length > 0,
    ),
  ];
}

export interface FrameFacts {
  stops: Stop[];
  resting: Resting[];
  /** When the last backup was made; null where none ever was. */
  backupAt: Date | null;
  /** How far the judging of all cells is; null once it is done. */
  judging: { done: number; total: number } | null;
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
  return { stops, resting, backupAt, judging: workshop.judging };
}

/** Where to begin: the first station with something waiting. */
export async function firstStation(): Promise<string> {
  const { stops } = await frameFacts();
  return stops.find((stop) => stop.count > 0)?.href ?? '/intake';
}
