import type { Duty, DutyReason, SafetyReason } from '@/core/grading/duty';
import { timesText } from './counted';
import { percentText } from './figures';
import { selfDischargeWhyText } from './selfDischarge';
import { findingName, intakeReasonText } from './intake';
import { type Sentences, sentenceOf } from './say';

/** What a duty is called. */
export const dutyNames: Record<Duty, string> = {
  surge: 'Surge',
  steady: 'Steady',
  light: 'Light',
  retire: 'Retire',
};

const asNewName = { measured: 'its capacity when new', rated: 'its rated capacity' };
function safetyText(because: SafetyReason): string {
  if (because.code === 'rescued') return `rescued ${timesText(because.rescues)}`;
  if (because.code === 'leaks') return selfDischargeWhyText(because.why);
  return because.code === 'finding' ? findingName[because.finding] : intakeReasonText(because);
}
const belowText = { missed: 'is below', uncertain: 'cannot be distinguished from' };

const sentences: Sentences<DutyReason> = {
  unsafe: ({ because }) => `Safety finding: ${safetyText(because)}`,
  'too-weak': ({ limit, asNewIs }) => `Holds less than ${percentText(limit)} of ${asNewName[asNewIs]}.`,
  'not-measured': ({ missing }) => `No ${missing.join(' and no ')} yet.`,
  'at-least': ({ health, asNewIs }) =>
    `Its discharge ended above the cut-off: capacity at least ${percentText(health)} of ${asNewName[asNewIs]}. ` +
    'Discharge it to the cut-off to find its duty.',
  'group-failing': ({ position, times }) =>
    `Group ${position} has ${times.toFixed(1)} times the median resistance of its pack. ` +
    'Light duty at best until it is replaced.',
  'group-leaks': ({ position }) =>
    `Group ${position} self-discharges. Light duty at best, watched, until it is replaced.`,
  'hold-first': () =>
    'It was rescued from below its floor: test its self-discharge before any use. Such cells often leak.',
  'rescued-once': ({ duty }) =>
    `Its figures are those of ${duty}; it was rescued from below its floor, and is one class lower for that.`,
  'meets-all': () => 'Meets every limit of the demanding duty.',
  health: ({ health, isAtLeast, limit, duty, met }) => {
    const shown = isAtLeast ? `at least ${percentText(health)}` : percentText(health);
    return `Health of ${shown} ${belowText[met]} the ${percentText(limit)} of ${duty}.`;
  },
  rate: ({ rateC, limit, duty, met }) =>
    `Its rate of ${rateC.toFixed(2)} C at the sag limit ${belowText[met]} the ${limit} C of ${duty}.`,
  'rate-though-healthy': ({ health, isAtLeast, rateC, limit, duty, met }) => {
    const shown = isAtLeast ? `at least ${percentText(health)}` : percentText(health);
    return (
      `Holds ${shown}, but its rate of ${rateC.toFixed(2)} C at the sag limit ` +
      `${belowText[met]} the ${limit} C of ${duty}.`
    );
  },
};

export const dutyReasonText = (reason: DutyReason): string => sentenceOf(sentences, reason);
