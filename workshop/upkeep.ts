import 'server-only';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
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
  const lying = [...packs.flatMap(lyingPack), ...workshop.cells.flatMap(lyingCell)];
  return lying
    .filter((one) => !held.has(one.lying.code))
    .map((one) => ({ wanted: wantedOf(one.lying, workshop.rules.limits), batch: one.batch }));
});

function lyingPack({ code, chemistry, intake, apart, latest, judgement, rested }: JudgedPack): Placed[] {
  if (intake.class === 'out' || apart) return [];
  const isFull = latest?.state === 'charge-end' && judgement;
  const round = isFull ? latest : rested;
  const voltsRead = isFull
    ? judgement.groups.map(({ voltageV }) => voltageV)
    : (rested?.groupVoltagesV ?? []).filter((v) => v !== null);
  if (!round || voltsRead.length === 0) return [];
  return [{ lying: { code, chemistry, perGroupV: median(voltsRead), readAt: round.takenAt }, batch: null }];
}

function lyingCell({ code, batchCode, chemistry, intake, putAway, pack, voltage, voltageV }: JudgedCell): Placed[] {
  if (intake.class !== 'usable' || putAway || pack || !voltage || voltageV === null) return [];
  return [{ lying: { code, chemistry, perGroupV: voltageV, readAt: voltage.takenAt }, batch: batchCode }];
}

/** Until when what is due with a subject was put off. */
const putOffHere = oncePer(
  async () => new Map((await standingPutOffs(database())).map(({ code, act, untilAt }) => [`${code} ${act}`, untilAt])),
);

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
