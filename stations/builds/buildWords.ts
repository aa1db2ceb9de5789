import { coldTimes } from '@/core/chemistry/cold';
import type { NotYet } from '@/core/judging/candidates';
import type { Shape } from '@/core/matching/shapes';
import type { CycleDrift } from '@/core/simulation/cycleDrift';
import type { SwapRefusal } from '@/core/matching/swap';
import { counted } from '@/words/counted';

/** What would make the choice larger; empty where nothing would. */
export function notYetText({ withoutCapacity, withoutResistance, held }: NotYet): string {
  const more = [
    withoutCapacity > 0 && `${counted(withoutCapacity, 'cell')} of this model still without a capacity`,
    withoutResistance > 0 && `${counted(withoutResistance, 'cell')} without a resistance`,
    held > 0 && `${counted(held, 'cell')} set aside by other builds`,
  ].filter((one) => one !== false);
  return more.length === 0 ? '' : `There are ${more.join(', ')}.`;
}

/** Why two cells did not change place. */
export function swapRefusalText(refusal: SwapRefusal): string {
  if (refusal.code === 'same-place') return 'Both are in one group. Choose a cell of another group, or one left over.';
  if (refusal.code === 'not-there') return `${refusal.cell} is not here.`;
  return `${refusal.cell} is welded to ${refusal.with.join(', ')}: they change place with as many, welded as well.`;
}

const shorts: Record<NonNullable<Shape['short']>, string> = {
  window: 'beyond the volts it bears',
  minutes: 'ends too early',
  energy: 'gives too little',
  peak: 'sags below the lowest at its peak',
  room: 'more cells than there is room for',
  cells: 'more cells than there are',
};

/** What the temperature does to it, and what is never done there. */
export const coldText = (temperatureC: number): string =>
  `At ${temperatureC} °C a cell resists about ${coldTimes(temperatureC).toFixed(1)} times as much (from memory).` +
  (temperatureC < 0 ? ' Below freezing it may serve, and is never charged.' : '');

/** Which group falls behind, and whether balancing at each charge keeps it with the others. */
export function driftText({ byGroup, bledAh }: CycleDrift, bleedA: number, cycles: number): string {
  const lowest = byGroup.reduce((one, other) => (other.value < one.value ? other : one));
  const minutes = (ah: number): string => `${Math.max(1, Math.ceil((60 * ah) / bleedA))} min`;
  const mostMinutes = minutes(bledAh.value + 2 * bledAh.u);
  if (lowest.value + 2 * lowest.u >= 0)
    return `No group is known to fall behind in ${cycles} cycles; ${mostMinutes} of balancing at a charge is enough`;
  return (
    `Without balancing group ${byGroup.indexOf(lowest) + 1} falls behind; ${minutes(bledAh.value)} of balancing at ` +
    `each charge keep it with the others, ${mostMinutes} at the most`
  );
}

/** Whether a shape does the job. */
export const shapeText = ({ short }: Pick<Shape, 'short'>): string => (short === null ? 'does it' : shorts[short]);
