import type { JobProgram, JobKind, NotPlanned } from '@/core/planning/benchPlan';
import { sheetRefusalText } from './chargerSheets';
import { hoursText } from './figures';
import { type Sentences, sentenceOf } from './say';

const names: Record<JobKind, string> = {
  charge: 'charge',
  balance: 'charge and balance',
  resistance: 'read its resistance',
  discharge: 'discharge',
  storage: 'bring to storage',
  hold: 'self-discharge test',
};

/** What is done. */
export const jobName = (kind: JobKind): string => names[kind];

/** What is usually done one after the other, as it is chosen. */
export const courseTexts: Record<JobProgram, string> = {
  charge: 'charge',
  balance: 'charge and balance',
  storage: 'to storage',
  resistance: 'resistance: charge, rest, measure, to storage',
  capacity: 'capacity: charge, rest, discharge, to storage',
  full: 'both: charge, rest, measure, discharge, to storage',
  hold: 'self-discharge test: charge, then a week on the shelf',
  discharge: 'discharge',
};

/** The name of a job in a circle, or of one that others wait for. */
type Named = (id: string) => string;

const sentences = (named: Named): Sentences<NotPlanned> => ({
  'no-station': ({ kind }) => `No station here does "${kind}".`,
  'in-a-circle': () => 'It waits for something that waits for it: take one of the two away.',
  'longer-than-any-span': ({ longestMin }) =>
    `It takes longer than anybody is there at a time, ${hoursText(longestMin * 60)}: stay longer, or cut it in two.`,
  'no-attended-time-left': () => 'No attended hours are left. Add another evening.',
  'after-unplaced': ({ id }) => `What comes before it, ${named(id)}, is in no plan.`,
  'after-unknown': ({ id }) => `It waits for ${named(id)}, which is not among the jobs.`,
  'sheet-refused': ({ refusal }) => sheetRefusalText(refusal),
  'subject-gone': () => 'It was put away. Drop the job.',
});

/** Why a job is in no plan. */
export const unplacedText = (why: NotPlanned, named: Named = (id) => id): string => sentenceOf(sentences(named), why);

/** What the hands do as a job begins. */
export const beginText = (kind: JobKind, of: string, station: string): string => {
  if (kind === 'resistance') return `Measure the resistance of ${of}`;
  return kind === 'hold'
    ? `Lay ${of} on the shelf for its self-discharge test`
    : `${of} onto ${station}: ${names[kind]}`;
};

/** What they do as it ends. */
export const endText = (kind: JobKind, of: string, station: string): string => {
  if (kind === 'resistance') return `${of} is measured: mark it as done`;
  return kind === 'hold' ? `Measure ${of} again after its week` : `${of} off ${station}`;
};

/** Why the plan does not hold as it was made. */
export const slippedText = {
  'not-begun': (of: string, kind: JobKind) => `${of}: ${names[kind]} should have begun`,
  'out-of-plan': (of: string, kind: JobKind) => `${of} is scrapped: ${names[kind]} is not possible`,
  'new-job': (of: string, kind: JobKind) => `${of}: ${names[kind]} is not in it yet`,
};
