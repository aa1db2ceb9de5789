import { fewTimes, type Population } from '@/core/statistics/population';
import type { RatioReason, RatioVerdict } from '@/core/resistance/methods';

const ratioSentence: Record<RatioReason, string> = {
  '1 kHz and 10 s':
    'At 1 kHz only the ohmic part answers; within 10 s charge transfer and the first of the diffusion come on top.',
  '1 kHz and 1 s': 'At 1 kHz only the ohmic part answers; within 1 s charge transfer comes on top.',
  '1 s and 10 s': 'Between 1 s and 10 s diffusion begins to cost voltage as well.',
  'rule of its own':
    'A charger measures by a rule of its own, with its leads and contacts in it: only its own readings compare.',
  'same time':
    'Both look at the same time after the load: they should agree but for leads, contacts and the state of charge.',
  'other times': 'They look at different times after the load.',
};

/** Why two methods differ. */
export const ratioReasonText = (reason: RatioReason): string => ratioSentence[reason];

/** Whether two methods differ as such methods usually do. */
export function usualRatioText({ usual, isUsual }: RatioVerdict): string {
  if (usual === null) return 'No usual ratio is known.';
  if (isUsual) return 'That is usual.';
  return `That is not usual: ${usual.least.toFixed(2)} to ${usual.most.toFixed(2)} would be.`;
}

/** The rule by which a figure is odd, for the screen that applies it. */
export function oddRuleText(population: Population | null): string {
  if (!population) return 'Odd ones are marked from three cells on.';
  if (population.factor === null)
    return `Odd: beyond ${fewTimes} times the median, either way; from five cells on the scatter decides.`;
  return (
    `Odd: more than ${population.factor.toFixed(1)} robust deviations from the median. ` +
    'One batch of twenty shows one by chance.'
  );
}
