import type { Chemistry } from '../chemistry/chemistries';
import { isForLamp, lampSeries } from '../planning/runDown';

/** The steps of retiring: discharged with a lamp, measured whether it stays empty, taped, handed over. */
export const retireActs = ['run-down', 'as-it-is', 'flat', 'taped', 'gone'] as const;
export type RetireAct = (typeof retireActs)[number];

export interface RetireStep {
  act: RetireAct;
  at: Date;
  /** At its terminals, V; of a reading whether it is flat. */
  voltageV: number | null;
  /** Where it went. */
  toWhom: string | null;
}

/** The status of retiring. */
export type RetirePhase =
  | { code: 'decide' }
  | { code: 'running-down'; beganAt: Date }
  /** It is off the lamp. A day later it shows whether it stays flat. */
  | { code: 'resting'; readAt: Date }
  | { code: 'not-flat'; voltageV: number; mostV: number }
  | { code: 'to-tape'; isFlat: boolean }
  | { code: 'to-hand-over' }
  | { code: 'gone'; at: Date; toWhom: string };

/** After a day it is still below this a group, V. From memory. */
export const flatV = 0.2;
const dayMs = 86_400_000;

/**
 * The status of retiring, from what was done.
 *
 * @param steps the oldest first
 * @param offAt when it was taken off its lamp last; null while it is on it, or never was
 */
export function retirePhase(steps: readonly RetireStep[], series: number, offAt: Date | null): RetirePhase {
  const last = steps.at(-1);
  if (!last) return { code: 'decide' };
  switch (last.act) {
    case 'gone':
      return { code: 'gone', at: last.at, toWhom: last.toWhom ?? '' };
    case 'taped':
      return { code: 'to-hand-over' };
    case 'as-it-is':
      return { code: 'to-tape', isFlat: false };
    case 'flat': {
      const mostV = flatV * series;
      const isFlat = last.voltageV !== null && last.voltageV <= mostV;
      return isFlat ? { code: 'to-tape', isFlat: true } : { code: 'not-flat', voltageV: last.voltageV ?? NaN, mostV };
    }
    case 'run-down':
      return offAt !== null && offAt >= last.at
        ? { code: 'resting', readAt: new Date(offAt.getTime() + dayMs) }
        : { code: 'running-down', beganAt: last.at };
  }
}

/** Why nothing is run down by hand; null where that is common practice. */
export type NoLamp = { code: 'damaged' | 'chemistry' | 'primary' } | { code: 'count'; series: number };

export function noLampFor({
  chemistry,
  series,
  isDamaged,
}: {
  chemistry: Chemistry;
  series: number;
  isDamaged: boolean;
}): NoLamp | null {
  if (chemistry === 'alkaline') return { code: 'primary' };
  if (isDamaged) return { code: 'damaged' };
  if (isForLamp(chemistry, series)) return null;
  return isForLamp(chemistry, lampSeries[0]) ? { code: 'count', series } : { code: 'chemistry' };
}
