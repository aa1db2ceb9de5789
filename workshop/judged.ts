import 'server-only';
import { chargeEndsV } from '@/core/chemistry/chemistries';
import { allInstruments } from './instruments';
import { rulesInForce, type RulesInForce } from './rules';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import type { HouseRules } from '@/core/chemistry/houseRules';
import { listCalibrations } from '@/records/calibrations';
import { allCellIds, cellFacts, cellIdsOf, subjectsChangedSince } from '@/records/cells';
import { teachingRuns } from '@/records/curves';
import { database, type Snapshot, snapshotOf } from '@/records/database';
import { packFacts } from '@/records/packs';
import { pastVisits } from '@/records/pastVisits';
import { listProtocols } from '@/records/protocols';
import { countRuns } from '@/records/runs';
import { mostDischarges } from '@/core/judging/curveBook';
import { type Equipment, equipmentOf } from '@/core/judging/equipment';
import { cutoffsOf, judgeCell, type JudgedCell } from '@/core/judging/judgeCell';
import { judgeAll, type JudgingAll } from './judgingAll';
import { type JudgedPack, judgePack } from '@/core/judging/judgePack';
import { now } from './clock';
import { inBackground } from './pool';
import { type Kept, renewed } from './renewed';
import { cellOfCode, type CellShelf, withChanged } from '@/core/judging/shelf';
import type { JudgedSubject } from '@/core/judging/subject';

export interface Workshop extends Equipment, CellShelf {
  rules: RulesInForce;
  /** How far the judging of all cells is, after a start or under other rules; null once all are judged. */
  judging: { done: number; total: number } | null;
}

/** What is kept between questions: the workshop, and the judging of all its cells while that goes on. */
interface Known {
  workshop: Workshop;
  all: JudgingAll | null;
  /** How many of the cells that `all` judged are in the workshop already. */
  taken: number;
}

const held = globalThis as typeof globalThis & {
  judgedWorkshop?: Kept<Known>;
  askedOnce?: WeakMap<Workshop, Map<string, Promise<unknown>>>;
};

/** Cells judged at one go; more give others their turn in between. */
const portion = 250;
/** Up to this many cells are waited for; beyond, what is judged so far is shown meanwhile. */
const mostAwaited = 600;
/** This many changed cells are judged one portion after the other; when more changed, all are judged again. */
const mostChanged = 5000;

/**
 * Every cell judged. Kept by this process, which judges only what changed since, or all of them under changed rules.
 * Of many cells those judged so far are given, and `judging` says how many are still to come.
 *
 * @param asOf taken just now, where the caller has one
 */
export async function judgedWorkshop(asOf?: Snapshot): Promise<Workshop> {
  const snapshot = asOf ?? (await snapshotOf(database()));
  const keep = (now: Kept<Known> | undefined) => {
    held.judgedWorkshop = now;
  };
  return current(await renewed(held.judgedWorkshop, snapshot, keep, knownAfter));
}

/** The workshop with every cell that was judged until now. */
function current(known: Known): Workshop {
  const { all } = known;
  if (!all) return known.workshop;
  const judging = all.progress();
  const { cells, upTo } = all.arrivedSince(known.taken);
  known.workshop = { ...known.workshop, ...withChanged(known.workshop, cells), judging };
  known.taken = upTo;
  if (!judging) known.all = null;
  return known.workshop;
}

async function knownAfter(before: { snapshot: Snapshot; value: Known } | null): Promise<Known> {
  const db = database();
  const inForce = rulesInForce(db);
  const [rules, instruments, calibrations, protocols, teaching, changed] = await Promise.all([
    inForce,
    allInstruments(db),
    listCalibrations(db),
    listProtocols(db),
    inForce.then(({ limits }) => teachingRuns(db, cutoffsOf(limits), dischargeArithmetic, mostDischarges)),
    before && subjectsChangedSince(db, before.snapshot),
  ]);
  const stored = { instruments, calibrations, protocols, teaching };
  const equipment = equipmentOf(stored, now());
  const facts = { rules, ...equipment };
  // Under other rules, or by a curve measured since, all may say something else.
  const isAlike = (one: Workshop): boolean =>
    one.rules.version === rules.version && one.curves.state === equipment.curves.state;
  if (before && changed && changed.length <= mostChanged && isAlike(before.value.workshop)) {
    const { all } = before.value;
    const judgedAgain = await judgedHere(changed, rules.limits, equipment);
    all?.supersede(changed);
    const workshop = current(before.value);
    return {
      workshop: { ...workshop, ...facts, ...withChanged(workshop, judgedAgain) },
      all,
      taken: before.value.taken,
    };
  }
  before?.value.all?.cancel();
  const ids = await allCellIds(db);
  const all = judgeAll(ids, portion, (some) =>
    ids.length <= portion
      ? judgedHere(some, rules.limits, equipment)
      : inBackground('judgeCells', { ids: some, rules: rules.limits, stored }),
  );
  const known: Known = { workshop: { ...facts, cells: [], judging: all.progress() }, all, taken: 0 };
  if (ids.length <= mostAwaited) await all.ended;
  // What fails is started again by the next request.
  else all.ended.catch((error: unknown) => forget(known, error));
  return known;
}

function forget(known: Known, error: unknown): void {
  console.error(error);
  void held.judgedWorkshop?.value.then((now) => {
    if (now.all === known.all) delete held.judgedWorkshop;
  });
}

/** The same workshop with these cells in it: while all are judged, those that a person looks at are judged first. */
export async function withCellsOf(workshop: Workshop, of: { code: string } | { batchCode: string }): Promise<Workshop> {
  if (!workshop.judging) return workshop;
  const there = new Set(workshop.cells.map((cell) => cell.id));
  const missing = (await cellIdsOf(database(), of)).filter((id) => !there.has(id));
  return missing.length === 0
    ? workshop
    : { ...workshop, ...withChanged(workshop, await judgedHere(missing, workshop.rules.limits, workshop)) };
}

/** A few cells judged on the server's own thread, which answers others between two portions. */
async function judgedHere(ids: readonly number[], rules: HouseRules, equipment: Equipment): Promise<JudgedCell[]> {
  const judged: JudgedCell[] = [];
  for (let from = 0; from < ids.length; from += portion) {
    const facts = await cellFacts(database(), cutoffsOf(rules), dischargeArithmetic, ids.slice(from, from + portion));
    judged.push(...facts.map((cell) => judgeCell(cell, rules, equipment)));
  }
  return judged;
}

/**
 * What every screen asks of the records beside the cells: asked once for each state of the workshop. Screens and API
 * are bundled each for themselves, so that only its name shows that it is the same.
 */
export function oncePer<T>(name: string, ask: (workshop: Workshop) => Promise<T>): (workshop: Workshop) => Promise<T> {
  return (workshop) => {
    const all = (held.askedOnce ??= new WeakMap());
    const asked = all.get(workshop) ?? new Map<string, Promise<unknown>>();
    all.set(workshop, asked);
    const before = asked.get(name);
    if (before) return before as Promise<T>;
    const now = ask(workshop);
    asked.set(name, now);
    now.catch(() => asked.delete(name));
    return now;
  };
}

/** Every pack there ever was, those that were retired and handed over among them. */
export const everyPack = oncePer('everyPack', async (workshop): Promise<JudgedPack[]> =>
  (await packFacts(database(), cutoffsOf(workshop.rules.limits), dischargeArithmetic)).map((pack) =>
    judgePack(pack, workshop.rules.limits, workshop),
  ),
);

/** The packs that are here. */
export const judgedPacks = oncePer('judgedPacks', async (workshop): Promise<JudgedPack[]> =>
  (await everyPack(workshop)).filter(({ retiring }) => retiring !== 'gone'),
);

/** The cell or pack of that code, judged, with the workshop that holds it; null where nothing is called so. */
export async function subjectNamed(
  code: string,
  among?: Workshop,
): Promise<{ subject: JudgedSubject | null; workshop: Workshop }> {
  const workshop = await withCellsOf(among ?? (await judgedWorkshop()), { code });
  const subject = cellOfCode(workshop, code) ?? (await everyPack(workshop)).find((pack) => pack.code === code);
  return { subject: subject ?? null, workshop };
}

/** Visits of packs that are over. */
export const visitsOver = oncePer('visitsOver', () => pastVisits(database(), now()));

/** How many discharges are valid. */
export const countedRuns = oncePer('countedRuns', () => countRuns(database()));

/** At which voltages chargers end here: of every chemistry that the cells and packs of the workshop have. */
export const chargeEndsHere = oncePer('chargeEndsHere', async (workshop): Promise<number[]> => {
  const packs = await judgedPacks(workshop);
  return chargeEndsV(new Set([...workshop.cells, ...packs].map(({ chemistry }) => chemistry)));
});
