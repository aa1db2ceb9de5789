import type { NoLamp, RetireStep } from '@/core/judging/retiring';
import type { AgeSign, EndOfLife } from '@/core/judging/endOfLife';
import type { Lamp } from '@/core/planning/runDown';
import { display, formatFigure } from '@/core/quantity/format';
import { setV } from './figures';
import { counted } from './counted';
import { minutesText } from './figures';
import { type Sentences, sentenceOf } from './say';

const signs: Sentences<AgeSign> = {
  swollen: () => 'It is swollen or soft.',
  leaks: () => 'It leaks: it does not hold its charge.',
  worn: ({ health, limit, isNew }) =>
    `It holds ${Math.round(100 * health.value)} ± ${Math.max(1, Math.round(100 * health.u))} % of what it ` +
    `${isNew ? 'held when new' : 'should by its label'}, less than ${Math.round(100 * limit)} %.`,
  'group-far': ({ position, times }) =>
    `The resistance of group ${position} is ${times.toFixed(1)} times the median of the others.`,
  risen: ({ times }) => `Its resistance rose to ${times.toFixed(1)} times its own past.`,
  'always-uneven': ({ uneven, of }) => `Its groups were uneven in ${uneven} of its last ${of} readings.`,
  'long-balancing': ({ hours }) => `Balancing took ${hours.toFixed(1)} h.`,
  'serves-shorter': ({ firstS, nowS }) => `It serves for ${minutesText(nowS)}; once it was ${minutesText(firstS)}.`,
  rescued: ({ rescues }) => `It was rescued from below its floor ${counted(rescues, 'time')}.`,
};

/** What speaks for its end. */
export const ageSignText = (sign: AgeSign): string => sentenceOf(signs, sign);

/** With a shape of its own. */
export const signMark = { end: '◆ ends it', heavy: '▲ weighs', light: '○ watch' } as const;

/** What all of it comes to. */
export const endOfLifeText: Record<EndOfLife['verdict'], string> = {
  serves: 'It serves on',
  'repair-first': 'Repair it first, then weigh it again',
  'light-duty': 'Light duty from now on',
  retire: 'Retire it',
};

const noLamps: Sentences<NoLamp> = {
  damaged: () =>
    'It is damaged: run nothing down by hand. Set it apart outdoors, in sand or on stone, and ask how it is to be ' +
    'brought.',
  chemistry: () => 'A lamp is common practice for lithium alone. The recycler takes it undischarged.',
  primary: () => 'Primary cells are handed over as they are.',
  count: ({ series }) =>
    `It has ${series} in series: a lamp is common practice for two to four. The recycler takes it undischarged, or ` +
    'says how.',
};

/** Why nothing is run down by hand. */
export const noLampText = (why: NoLamp): string => sentenceOf(noLamps, why);

/** The lamp, what it does as it begins, and how long that takes. */
export const lampText = ({ ratedV, ratedW, beginsA, beginsW, hours, mostHours }: Lamp): string =>
  `A lamp of ${ratedV} V, ${ratedW} W: it begins with ${formatFigure(beginsA, display.current, 1)} and ` +
  `${Math.round(beginsW)} W, and takes about ${hours.toFixed(1)} h, up to ${mostHours.toFixed(1)} h.`;

/** What has to be so before a lamp is put on. */
export const lampGates = [
  'Outdoors, away from anything that burns and away from people',
  'On stone or earth, the lamp on something that its heat does not light',
  'A person stays with it until it is off, with a bucket of sand and a free way out',
  'Looked at, felt and smelled just now: firm, cool, whole',
  'The local authority or the recycler wants it flat, or does not mind',
] as const;

/** What has to be so before it goes as it is. */
export const asItIsGates = [
  'The local authority or the recycler takes it undischarged and said how to bring it',
  'It is stored apart, outdoors or on a surface that does not burn, until it goes',
] as const;

/** The steps of retiring. */
export function retireStepText({ act, voltageV, toWhom }: Omit<RetireStep, 'at'>): string {
  if (act === 'run-down') return 'put on a lamp';
  if (act === 'as-it-is') return 'handed over undischarged';
  if (act === 'taped') return 'its poles taped';
  return act === 'flat' ? `stood at ${setV(voltageV ?? NaN)}` : `handed over to ${toWhom}`;
}
