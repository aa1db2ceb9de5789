import type { Unplaced } from '@/core/planning/schedule';
import { hoursText } from './figures';
import { type Sentences, sentenceOf } from './say';

const sentences: Sentences<Unplaced> = {
  'no-station': ({ kind }) => `No station here does "${kind}".`,
  'in-a-circle': () => 'It waits for something that waits for it: take one of the two away.',
  'longer-than-any-span': ({ longestMin }) =>
    `It takes longer than anybody is there at a time, ${hoursText(longestMin * 60)}: stay longer, or cut it in two.`,
  'no-attended-time-left': () => 'No time is left in which somebody is there: add another evening.',
  'after-unplaced': ({ id }) => `What comes before it, ${id}, is in no plan.`,
  'after-unknown': ({ id }) => `It waits for ${id}, which is not among the jobs.`,
};

/** Why a job is in no plan. */
export const unplacedText = (why: Unplaced): string => sentenceOf(sentences, why);
