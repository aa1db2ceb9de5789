import 'server-only';
import { uncorrectedChannels } from './sheets';
import type { Waiting } from '@/core/grading/nextStation';
import { runsJudging } from './judgeRun';
import { lastBackupAt } from '@/records/backup';
import { countBuilds } from '@/records/builds';
import { newestChange } from './changes';
import { database, snapshotOf } from '@/records/database';
import { plannedJobs } from '@/records/benchPlans';
import { validRests } from '@/records/periods';
import { selfDischargesOnWatch, onWatch, rescuesOnWatch, usesOnWatch, type Watched } from '@/core/judging/due';
import { toReadNow } from '@/core/judging/judgeSelfDischarge';
import { judgeRescue } from '@/core/judging/rescue';
import { rescueFacts } from '@/records/rescues';
import { selfDischargeName } from '@/words/selfDischarge';
import { beginText } from '@/words/schedule';
import { upkeepText } from '@/words/upkeep';
import { now } from './clock';
import { openSelfDischarges } from './selfDischarges';
import { upkeepDue, type UpkeepDue } from './upkeep';
import { type StationKey, stationKeys, stations } from './stations';
import { judgedPacks, judgedWorkshop, oncePer, type Workshop } from './judged';

/** A station with what waits there. */
export interface Stop {
  key: StationKey;
  count: number;
  /** Something there needs a hand now. */
  hot: boolean;
}

const savedBuilds = oncePer('savedBuilds', () => countBuilds(database()));

/** The stations in working order with what waits at each. */
async function stopsOf(workshop: Workshop, waiting: Map<Waiting, number>): Promise<Stop[]> {
  const [packs, selfDischarges, builds, wrong] = await Promise.all([
    judgedPacks(workshop),
    openSelfDischarges(workshop),
    savedBuilds(workshop),
    uncorrectedChannels(workshop),
  ]);
  const urgent = packs.filter(({ isUrgent }) => isUrgent).length;
  const cells = (at: Waiting) => ({ count: waiting.get(at) ?? 0, hot: false });
  const waits: Record<StationKey, { count: number; hot: boolean }> = {
    intake: cells('intake'),
    instruments: { count: wrong, hot: wrong > 0 },
    resistance: cells('resistance'),
    capacity: cells('capacity'),
    selfDischarge: {
      count: selfDischarges.reduce((sum, selfDischarge) => sum + toReadNow(selfDischarge, now()).length, 0),
      hot: false,
    },
    shelf: cells('shelf'),
    builds: { count: builds.standing, hot: false },
    clinic: { count: urgent, hot: urgent > 0 },
    // What is due changes with every minute: it is counted apart.
    upkeep: { count: 0, hot: false },
  };
  return stationKeys.map((key) => ({ key, ...waits[key] }));
}

/** What surrounds every screen, as plain data: it goes to the browser, drawn with a page or down the stream. */
export interface FrameFacts {
  stops: Stop[];
  watch: Slip[];
  /** What is due, or soon is: of the bench plan, and of upkeep. */
  due: DueThing[];
  /** When the last backup was made, ms since 1970; null where none ever was. */
  backupAt: number | null;
  /** How far the judging of all cells, or of the runs, is; null once it is done. */
  judging: { what: 'cells' | 'runs'; done: number; total: number } | null;
  /** What was visible when this was asked: two that differ are of different states of the workshop. */
  state: string;
  /** The change that was heard of last before that: where a page shows it, another state was not caused here. */
  newest: string;
  /** The workshop's clock then, ms since 1970. */
  atMs: number;
}

/** A rest on the watch. */
export type Slip = Omit<Watched, 'beganAt' | 'plannedS' | 'dueAt' | 'isDue'> & { dueAtMs: number };

/** Something to be done at a time, where nothing rests or runs yet. */
export interface DueThing {
  text: string;
  atMs: number;
  address: string;
}

/** The watch shows this many. */
const mostAnnounced = 20;
/** A planned job is "soon" this long before its time. */
const soonMs = 3_600_000;

const jobs = oncePer('jobs', () => plannedJobs(database()));

async function dueThings(workshop: Workshop, upkeep: readonly UpkeepDue[]): Promise<DueThing[]> {
  const planned = (await jobs(workshop)).flatMap(({ of, kind, planned: place, begun }): DueThing[] => {
    if (!place || begun || place.fromAt.getTime() - soonMs > now().getTime()) return [];
    const text = beginText(kind, of, place.station);
    return [{ text, atMs: place.fromAt.getTime(), address: '/upkeep/plan' }];
  });
  // A self-discharge test is on the watch by itself.
  const dues = upkeep
    .filter(({ act }) => act !== 'hold-reading')
    .map(({ name, act, dueAt }) => ({
      text: `${name}: ${upkeepText(act).toLowerCase()}`,
      atMs: dueAt.getTime(),
      address: '/upkeep',
    }));
  // For what is planned now a hand is here; what is due waits.
  return [...planned, ...dues].slice(0, mostAnnounced);
}

const stationStops = oncePer('stationStops', async (workshop) => {
  const waiting = new Map<Waiting, number>();
  for (const { waits } of [...workshop.cells, ...(await judgedPacks(workshop))])
    waiting.set(waits, (waiting.get(waits) ?? 0) + 1);
  return stopsOf(workshop, waiting);
});
const dayMs = 86_400_000;
const rests = oncePer('rests', () => validRests(database(), new Date(now().getTime() - dayMs)));
const openRescues = oncePer('openRescues', () => rescueFacts(database(), { isOpen: true }));
const lastBackup = oncePer('lastBackup', () => lastBackupAt(database()));

/** What is on the watch now, from what is judged already: a minute that passes judges nothing again. */
export async function watchNow(workshop: Workshop): Promise<Slip[]> {
  const restS = workshop.rules.limits.restAfterDischargeH * 3600;
  const watched = [
    ...onWatch(await rests(workshop), restS, now()),
    ...rescuesOnWatch(
      (await openRescues(workshop)).map((rescue) => judgeRescue(rescue, workshop.rules.limits, now())),
      now(),
    ),
    ...usesOnWatch(await judgedPacks(workshop), now()),
    ...selfDischargesOnWatch(
      await openSelfDischarges(workshop),
      ({ held }) => selfDischargeName(held.map(({ code }) => code)),
      now(),
    ),
  ];
  return watched.map(({ entry, code, batch, reason, seen, dueAt }) => ({
    entry,
    code,
    batch,
    reason,
    seen,
    dueAtMs: dueAt.getTime(),
  }));
}

export async function frameFacts(): Promise<FrameFacts> {
  const newest = newestChange();
  const snapshot = await snapshotOf(database());
  const workshop = await judgedWorkshop(snapshot);
  const [stops, watch, backupAt, upkeep] = await Promise.all([
    stationStops(workshop),
    watchNow(workshop),
    lastBackup(workshop),
    upkeepDue(workshop),
  ]);
  const due = upkeep.filter(({ state }) => state !== 'soon').length;
  const runs = runsJudging();
  return {
    stops: stops.map((stop) => (stop.key === 'upkeep' ? { ...stop, count: due } : stop)),
    watch,
    due: await dueThings(workshop, upkeep),
    backupAt: backupAt?.getTime() ?? null,
    judging: workshop.judging ? { what: 'cells', ...workshop.judging } : runs && { what: 'runs', ...runs },
    state: `${snapshot.databaseOid} ${snapshot.visible}`,
    newest,
    atMs: now().getTime(),
  };
}

/** Where to begin: the first station with something waiting. */
export async function firstStation(): Promise<string> {
  const { stops } = await frameFacts();
  return stations[stops.find((stop) => stop.count > 0)?.key ?? 'intake'].address;
}
