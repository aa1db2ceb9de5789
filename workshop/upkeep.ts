import 'server-only';
import type { JudgedSelfDischarge } from '@/core/judging/judgeSelfDischarge';
import type { JudgedSubject } from '@/core/judging/subject';
import {
  byUrgency,
  calibrationWanted,
  dueNow,
  resistanceWanted,
  type Upkeep,
  type Wanted,
  wantedOf,
} from '@/core/judging/upkeep';
import { database } from '@/records/database';
import { postponements } from '@/records/postponements';
import { selfDischargeName } from '@/words/selfDischarge';
import { now } from './clock';
import { openSelfDischarges } from './selfDischarges';
import { judgedPacks, oncePer, type Workshop } from './judged';
import { stateNow } from './states';

/** What is due with a pack, a self-discharge test or an instrument, or with the cells of a batch that want the same. */
export interface UpkeepDue extends Upkeep {
  /** Code of the pack, the batch or the instrument; what a self-discharge test is called. */
  name: string;
  address: string;
  /** Of the pack, the instrument, those cells, or who is held. */
  codes: string[];
}

/** Something due, under its name on the list, with the link. */
interface DueItem {
  wanted: Wanted;
  name: string;
  address: string;
  codes: string[];
}

/**
 * What all that is here wants: not what is out, built in or apart; of what lies in a self-discharge test its reading
 * alone.
 */
const wantedHere = oncePer('wantedHere', async (workshop): Promise<DueItem[]> => {
  const rules = workshop.rules.limits;
  const [packs, selfDischarges] = await Promise.all([judgedPacks(workshop), openSelfDischarges(workshop)]);
  const held = new Set(selfDischarges.flatMap((selfDischarge) => selfDischarge.held.map(({ code }) => code)));
  const here = packs.filter(({ intake, apart, retiring }) => intake.class !== 'out' && !apart && !retiring);
  const cells = workshop.cells.filter(({ intake, putAway, pack }) => intake.class === 'usable' && !putAway && !pack);
  return [
    ...here
      .filter(({ code }) => !held.has(code))
      .flatMap((pack) => lying(pack, workshop, { name: pack.code, address: addressOfPack(pack.code) })),
    ...cells
      .filter(({ code }) => !held.has(code))
      .flatMap((cell) => lying(cell, workshop, { name: cell.batchCode, address: `/intake/${cell.batchCode}` })),
    ...here.flatMap(({ code, resistanceTimes, chargeEnds }) => {
      const wanted = resistanceWanted(code, resistanceTimes[0]?.takenAt ?? null, chargeEnds, rules);
      return wanted ? [{ wanted, name: code, address: addressOfPack(code), codes: [code] }] : [];
    }),
    ...selfDischarges.flatMap(heldWanted),
    ...calibrationsWanted(workshop),
  ];
});

const addressOfPack = (code: string): string => `/clinic/${code}`;

function heldWanted({ id, dueAt, beganAt, held }: JudgedSelfDischarge): DueItem[] {
  const codes = held.map(({ code }) => code);
  const [code] = codes;
  if (!dueAt || code === undefined) return [];
  const about = { rule: null, perGroupV: null, cycles: null };
  const wanted: Wanted = { ...about, code, act: 'hold-reading', dueAt, readAt: beganAt };
  return [{ wanted, name: selfDischargeName(codes), address: `/self-discharge/${id}`, codes }];
}

/** By the oldest calibration of each instrument that is in force. */
function calibrationsWanted({ instruments, rules }: Workshop): DueItem[] {
  const at = now();
  return instruments.all
    .filter(({ archivedAt }) => archivedAt === null)
    .flatMap(({ id, code, channels }) => {
      const inForce = Array.from({ length: channels }, (_, i) => instruments.calibrationAt(id, i + 1, at));
      const [oldest] = inForce
        .flatMap((one) => (one ? [one.calibratedAt] : []))
        .sort((a, b) => a.getTime() - b.getTime());
      if (!oldest) return [];
      return [
        { wanted: calibrationWanted(code, oldest, rules.limits), name: code, address: '/instruments', codes: [code] },
      ];
    });
}

function lying(
  subject: JudgedSubject,
  workshop: Workshop,
  { name, address }: Pick<DueItem, 'name' | 'address'>,
): DueItem[] {
  const wanted = wantedOf(stateNow(subject, workshop), workshop.rules.limits);
  return wanted ? [{ wanted, name, address, codes: [subject.code] }] : [];
}

/** Until when the task of a subject is postponed. */
const postponedHere = oncePer(
  'putOffHere',
  async () => new Map((await postponements(database())).map(({ code, act, untilAt }) => [`${code} ${act}`, untilAt])),
);

/** Something that will be due with a pack, or with the cells of a batch, and when the first of them is. */
export type Coming = Pick<UpkeepDue, 'name' | 'codes' | 'act' | 'dueAt'>;

/** What lies ahead, or is due, with all that lies there: for a calendar. */
export async function upkeepComing(workshop: Workshop): Promise<Coming[]> {
  const coming = new Map<string, Coming>();
  const later = await postponedHere(workshop);
  for (const { wanted, name, codes } of await wantedHere(workshop)) {
    const { code, act } = wanted;
    const untilAt = later.get(`${code} ${act}`);
    const dueAt = untilAt && untilAt > wanted.dueAt ? untilAt : wanted.dueAt;
    const known = coming.get(`${name} ${act}`);
    if (!known) coming.set(`${name} ${act}`, { name, codes: [...codes], act, dueAt });
    else {
      known.codes.push(...codes);
      if (dueAt < known.dueAt) known.dueAt = dueAt;
    }
  }
  return [...coming.values()].sort((a, b) => a.dueAt.getTime() - b.dueAt.getTime());
}

/** What is due with what lies there, the worst first; of a batch the cells with the same job are together. */
export async function upkeepDue(workshop: Workshop): Promise<UpkeepDue[]> {
  const at = now();
  const dues = new Map<string, UpkeepDue>();
  const later = await postponedHere(workshop);
  for (const { wanted, name, address, codes } of await wantedHere(workshop)) {
    const due = dueNow(wanted, at);
    if (!due || (later.get(`${due.code} ${due.act}`) ?? at) > at) continue;
    const key = `${name} ${due.act} ${due.state}`;
    const known = dues.get(key);
    if (known) known.codes.push(...codes);
    else dues.set(key, { ...due, name, address, codes: [...codes] });
  }
  return [...dues.values()].sort(byUrgency);
}
