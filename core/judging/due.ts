import type { TakenOut } from './facts';
import type { JudgedRescue } from './rescue';
import { type JudgedSelfDischarge, earlyMs, toReadNow } from './judgeSelfDischarge';

/** Something that rests: a batch put to rest as a whole, what a log shows to be discharged, a self-discharge test. */
export interface Rest {
  /** Null where it follows from a log. */
  entry: string | null;
  code: string;
  /** Of a pack its own code. */
  batch: string;
  reason:
    | 'charge'
    | 'discharge'
    | 'hold'
    | 'resistor'
    | 'remedy'
    | 'job'
    | 'run-down'
    | 'use'
    | 'rescue'
    | 'rescue-stop'
    | 'rescue-off';
  beganAt: Date;
  /** Null where the house rules give the time. */
  plannedS: number | null;
  /** A person saw that it is over. */
  seen: boolean;
}

export interface Watched extends Rest {
  dueAt: Date;
  isDue: boolean;
}

/** How long something that is over stays on the watch. */
const keptMs = 2 * 3600_000;
/** Beyond that a list is not read. */
const most = 100;

/**
 * What rests, and what is over since less than two hours; what is on a resistor for as long as it is. The first to be
 * due first.
 *
 * @param afterDischargeS how long cells rest after a discharge, by the house rules
 */
export function onWatch(rests: readonly Rest[], afterDischargeS: number, now: Date): Watched[] {
  // What has no shut-off stays until a person ends it, and is never one too many.
  const stays = ({ reason }: Rest): boolean => ['resistor', 'remedy', 'job', 'run-down'].includes(reason);
  let others = 0;
  return rests
    .map((rest) => {
      const dueAt = new Date(rest.beganAt.getTime() + (rest.plannedS ?? afterDischargeS) * 1000);
      return { ...rest, dueAt, isDue: dueAt <= now };
    })
    .filter((one) => stays(one) || one.dueAt.getTime() > now.getTime() - keptMs)
    .sort((a, b) => a.dueAt.getTime() - b.dueAt.getTime())
    .filter((one) => stays(one) || (others += 1) <= most);
}

/** Self-discharge tests whose reading is near or overdue: until everyone was read, however late that is. */
export function selfDischargesOnWatch(
  selfDischarges: readonly JudgedSelfDischarge[],
  nameOf: (selfDischarge: JudgedSelfDischarge) => string,
  now: Date,
): Watched[] {
  return selfDischarges.flatMap((selfDischarge): Watched[] => {
    const { dueAt, entry, beganAt, plannedS, seen } = selfDischarge;
    if (!dueAt || dueAt.getTime() - earlyMs > now.getTime() || toReadNow(selfDischarge, now).length === 0) return [];
    const name = nameOf(selfDischarge);
    const isDue = dueAt <= now;
    return [{ entry, code: name, batch: name, reason: 'hold', beganAt, plannedS, seen: seen && isDue, dueAt, isDue }];
  });
}

/** Packs that were taken out with a timer: until they are back. */
export const usesOnWatch = (
  packs: readonly { code: string; isOut: boolean; takenOut: TakenOut | null }[],
  now: Date,
): Watched[] =>
  packs.flatMap(({ code, isOut, takenOut }): Watched[] => {
    if (!isOut || !takenOut?.timerS) return [];
    const { at, timerS } = takenOut;
    const dueAt = new Date(at.getTime() + timerS * 1000);
    const rest = { entry: null, code, batch: code, reason: 'use' as const, beganAt: at, plannedS: timerS, seen: false };
    return [{ ...rest, dueAt, isDue: dueAt <= now }];
  });

/** Rescues under way: by when every group is read, what stops them; with the current off they wait for a person. */
export const rescuesOnWatch = (rescues: readonly JudgedRescue[], now: Date): Watched[] =>
  rescues
    .filter(({ phase }) => phase !== 'over')
    .map((rescue) => {
      const { code, beganAt } = rescue;
      const [reason, dueAt] = waitsFor(rescue);
      // It cannot be dismissed: it has no entry to be seen or ended here.
      return {
        entry: null,
        code,
        batch: code,
        reason,
        plannedS: null,
        seen: false,
        beganAt,
        dueAt,
        isDue: dueAt <= now,
      };
    });

function waitsFor({ phase, stop, readBy, readings, acts, beganAt }: JudgedRescue): [Rest['reason'], Date] {
  if (phase === 'off') return ['rescue-off', acts.at(-1)?.at ?? beganAt];
  if (stop) return ['rescue-stop', readings.at(-1)?.takenAt ?? beganAt];
  return ['rescue', readBy ?? beganAt];
}
