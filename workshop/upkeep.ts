import 'server-only';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { lastRest } from '@/core/judging/lastRest';
import type { JudgedSubject } from '@/core/judging/subject';
import { byUrgency, dueNow, type Lying, type Upkeep, type Wanted, wantedOf } from '@/core/judging/upkeep';
import { database } from '@/records/database';
import { standingPutOffs } from '@/records/putOffs';
import { median } from 'simple-statistics';
import { now } from './clock';
import { openHolds } from './holds';
import { judgedPacks, oncePer, type Workshop } from './judged';

/** What is due with a pack, or with the cells of a batch that want the same. */
export interface UpkeepDue extends Upkeep {
  /** Code of the pack or of the batch. */
  name: string;
  isPack: boolean;
  /** Of the pack, or of those cells. */
  codes: string[];
}

/** Of a cell the batch it came with. */
interface Placed {
  lying: Lying;
  batch: string | null;
}

/** What all that lies there wants: not what is out, built in, taken apart, or in a hold test. */
const wantedHere = oncePer(async (workshop): Promise<{ wanted: Wanted; batch: string | null }[]> => {
  const packs = await judgedPacks(workshop);
  const held = new Set((await openHolds(workshop)).flatMap((hold) => hold.held.map(({ code }) => code)));
  return [...packs.flatMap(lyingPack), ...workshop.cells.flatMap(lyingCell)]
    .filter((one) => !held.has(one.lying.code))
    .map((one) => ({ wanted: wantedOf(one.lying, workshop.rules.limits), batch: one.batch }));
});

const lyingPack = (pack: JudgedPack): Placed[] =>
  pack.intake.class === 'out' || pack.apart || pack.retiring ? [] : lying(pack, null);

const lyingCell = (cell: JudgedCell): Placed[] =>
  cell.intake.class !== 'usable' || cell.putAway || cell.pack ? [] : lying(cell, cell.batchCode);

function lying(subject: JudgedSubject, batch: string | null): Placed[] {
  const rest = lastRest(subject);
  if (!rest) return [];
  const { code, chemistry } = subject;
  const perGroupV = median(rest.groupsV.filter((v) => v !== null));
  return [{ lying: { code, chemistry, perGroupV, readAt: rest.readAt }, batch }];
}

/** Until when what is due with a subject was put off. */
const putOffHere = oncePer(
  async () => new Map((await standingPutOffs(database())).map(({ code, act, untilAt }) => [`${code} ${act}`, untilAt])),
);

/** Something that will be due with a pack, or with the cells of a batch, and when the first of them is. */
export type Coming = Pick<UpkeepDue, 'name' | 'codes' | 'act' | 'dueAt'>;

/** What lies ahead, or is due, with all that lies there: for a calendar. */
export async function upkeepComing(workshop: Workshop): Promise<Coming[]> {
  const coming = new Map<string, Coming>();
  const later = await putOffHere(workshop);
  for (const { wanted, batch } of await wantedHere(workshop)) {
    const { code, act } = wanted;
    const untilAt = later.get(`${code} ${act}`);
    const dueAt = untilAt && untilAt > wanted.dueAt ? untilAt : wanted.dueAt;
    const name = batch ?? code;
    const known = coming.get(`${name} ${act}`);
    if (!known) coming.set(`${name} ${act}`, { name, codes: [code], act, dueAt });
    else {
      known.codes.push(code);
      if (dueAt < known.dueAt) known.dueAt = dueAt;
    }
  }
  return [...coming.values()].sort((a, b) => a.dueAt.getTime() - b.dueAt.getTime());
}

/** What is due with what lies there, the worst first; of a batch the cells that want the same stand together. */
export async function upkeepDue(workshop: Workshop): Promise<UpkeepDue[]> {
  const at = now();
  const dues = new Map<string, UpkeepDue>();
  const later = await putOffHere(workshop);
  for (const { wanted, batch } of await wantedHere(workshop)) {
    const due = dueNow(wanted, at);
    if (!due || (later.get(`${due.code} ${due.act}`) ?? at) > at) continue;
    const name = batch ?? due.code;
    const key = `${name} ${due.act} ${due.state}`;
    const known = dues.get(key);
    if (known) known.codes.push(due.code);
    else dues.set(key, { ...due, name, isPack: batch === null, codes: [due.code] });
  }
  return [...dues.values()].sort(byUrgency);
}
