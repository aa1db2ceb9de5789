import type { NotYet } from '@/core/judging/candidates';
import type { Shape } from '@/core/matching/shapes';
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
  if (refusal.code === 'same-place') return 'Both stand in one group: choose a cell of another, or one left over.';
  if (refusal.code === 'not-there') return `${refusal.cell} is not here.`;
  return `${refusal.cell} is welded to ${refusal.with.join(', ')}: they change place with as many, welded as well.`;
}

const shorts: Record<NonNullable<Shape['short']>, string> = {
  minutes: 'ends too early',
  peak: 'sags below the lowest at its peak',
  cells: 'more cells than there are',
};

/** Whether a shape does the job. */
export const shapeText = ({ short }: Pick<Shape, 'short'>): string => (short === null ? 'does it' : shorts[short]);
