import type { UnfitReason } from '@/core/judging/fitForUse';
import { display, formatFigure } from '@/core/quantity/format';
import { setV } from './figures';
import { type Sentences, sentenceOf } from './say';

const group = (position: number): string => `Group ${position}`;

const reasons: Sentences<UnfitReason> = {
  out: () => 'The inspection rules it out.',
  apart: () => 'It was taken apart.',
  'rescue-first': () => 'A group is below its lowest voltage.',
  retiring: () => 'It is being retired.',
  retire: () => 'It is worn out for any duty here.',
  'group-low': ({ position, belowV, afterUse }) =>
    `${group(position)} stood ${formatFigure(belowV, display.milliVolt)} below the others ` +
    `${afterUse ? 'after use' : 'at rest'}. Out of service until that is explained.`,
  'apart-by': ({ spreadV }) =>
    `Its groups stood ${formatFigure(spreadV, display.milliVolt)} apart. Out of service until that is explained.`,
  'ran-too-low': ({ lowestV, position, floorV }) =>
    `${position === null ? 'A group' : group(position)} ran down to ${setV(lowestV)} in use, below ` +
    `${setV(floorV)}. Let it rest, then measure its groups.`,
  leaks: ({ position }) => `${group(position)} leaks.`,
  'group-failing': ({ position }) => `The resistance of group ${position} is far above the others'.`,
};

/** Why a pack is not handed out. */
export const unfitText = (reason: UnfitReason): string => sentenceOf(reasons, reason);
