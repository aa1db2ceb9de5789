import type { LookSaying, Upkeep, UpkeepAct } from '@/core/judging/upkeep';
import { counted } from './counted';
import { millivolts, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const acts: Record<UpkeepAct, string> = {
  'down-to-storage': 'Down to storage',
  'up-to-storage': 'Up to storage',
  'to-full': 'Back to full',
  balance: 'Balance it, then to storage',
  look: 'Look at it',
  resistance: 'Read its resistance',
  'hold-reading': 'Measure its self-discharge test',
  calibrate: 'Hold it against others',
};

/** What is to be done. */
export const upkeepText = (act: UpkeepAct): string => acts[act];

const whys: Record<UpkeepAct, string> = {
  'down-to-storage': 'Full it swells.',
  'up-to-storage': 'So low it dies unnoticed.',
  'to-full': 'Lead-acid that is not full hardens.',
  balance: 'Brought to storage as it is, its low group would be emptied.',
  look: 'Measure it again, feel it, smell it.',
  resistance: 'A rise over its own history shows ageing.',
  'hold-reading': 'With the same meter as before.',
  calibrate: 'What was found of it then may have drifted.',
};

const isMoving = (act: UpkeepAct): boolean =>
  act === 'down-to-storage' || act === 'up-to-storage' || act === 'to-full' || act === 'balance';

/** Why, with what was read. */
export function upkeepWhy({ act, perGroupV, cycles }: Upkeep): string {
  if (cycles !== null) return `${counted(cycles, 'charge')} since. ${whys[act]}`;
  if (!isMoving(act)) return whys[act];
  return perGroupV === null
    ? `Charged or discharged since it was measured. ${whys[act]}`
    : `It rested at ${volts(perGroupV)} a cell. ${whys[act]}`;
}

const states: Record<Upkeep['state'], string> = { soon: '○ soon', due: '● due', overdue: '◆ overdue' };

/** Whether it is time, with a shape of its own. */
export const upkeepStateText = (state: Upkeep['state']): string => states[state];

const inDays = (days: number): string => counted(Math.round(days), 'day');

const looks: Sentences<LookSaying> = {
  'go-down': () => 'Bring it down to storage',
  'go-up': () => 'Bring it up to storage',
  'back-to-full': () => 'Charge it back to full',
  drifts: ({ position, fellV, days }) =>
    `Group ${position} drifts: ${millivolts(fellV)} lower against the others in ${inDays(days)}`,
  keeps: ({ days }) => `It keeps, after ${inDays(days)}`,
  'first-look': () => 'Nothing to hold it against yet',
};

/** Where it lies, without its full stop. */
export const liesText = {
  cold: 'It is stored too cold: keep it at 10 to 25 °C',
  warm: 'It is stored too warm: keep it at 10 to 25 °C',
};

/** What a look at a stored pack comes to, without its full stop. */
export const lookText = (saying: LookSaying): string => sentenceOf(looks, saying);
