import 'server-only';
import type { Waiting } from '@/core/grading/nextStation';
import { lastBackupAt } from '@/records/backup';
import { countBuilds } from '@/records/builds';
import { database } from '@/records/database';
import { type Resting, restingNow } from '@/records/rests';
import { uncorrectedChannels } from '@/stations/instruments/sheet';
import { judgedPacks, judgedWorkshop, oncePer, type Workshop } from '@/workshop/judged';

export interface Stop {
  href: string;
  name: string;
  count: number;
  /** What the number counts, for those who listen. */
  counts: string;
  /** Something there needs a hand now. */
  hot: boolean;
}

const savedBuilds = oncePer(() => countBuilds(database()));

/** The stations in working order with what waits at each. */
async function stopsOf(workshop: Workshop, waiting: Map<Waiting, number>): Promise<Stop[]> {
  const [packs, builds, wrong] = await Promise.all([judgedPacks(workshop), savedBuilds(workshop), uncorrectedChannels(workshop)]);
  const urgent = packs.filter((pack) => pack.judgement?.says.some((says) => says.urgent));
  const cells = (at: Waiting) => waiting.get(at) ?? 0;
  return [
    { href: '/intake', name: 'Intake', count: cells('intake'), counts: 'cells to look at', hot: false },
    { href: '/instruments', name: 'Instruments', count: wrong, counts: 'channels known to be wrong and not corrected', hot: wrong > 0 },
    { href: '/resistance', name: 'Resistance', count: cells('resistance'), counts: 'cells to measure', hot: false },
    { href: '/runs', name: 'Runs', count: cells('runs'), counts: 'cells to discharge', hot: false },
    { href: '/shelf', name: 'Shelf', count: cells('shelf'), counts: 'graded cells that are free', hot: false },
    { href: '/builds', name: 'Builds', count: builds.standing, counts: 'saved builds', hot: false },
    { href: '/clinic', name: 'Clinic', count: urgent.length, counts: 'packs that need attention', hot: urgent.length > 0 },
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
  const [stops, resting, backupAt] = await Promise.all([stopsOf(workshop, waiting), restingNow(database(), rules.limits.restAfterDischargeH * 3600), lastBackupAt(database())]);
  return { stops, resting, backupAt, judging: workshop.judging };
}

/** Where to begin: the first station with something waiting. */
export async function firstStation(): Promise<string> {
  const { stops } = await frameFacts();
  return stops.find((stop) => stop.count > 0)?.href ?? '/intake';
}
