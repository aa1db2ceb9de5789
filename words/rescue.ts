import { display, formatFigure } from '@/core/quantity/format';
import { ruleBook } from '@/core/chemistry/houseRules';
import {
  type OwnLimits,
  type RescueRefusal,
  rescueRules,
  type RescueStays,
  type RescueStop,
  type RescueWhy,
} from '@/core/judging/rescue';
import { timesText } from './counted';
import { volts } from './figures';
import { ruleFigure } from './houseRules';
import { findingName } from './intake';
import { type Sentences, sentenceOf } from './say';

const refusals: Sentences<RescueRefusal> = {
  'not-lithium': () => 'Only lithium is rescued here; others are charged with a small current, watched.',
  'never-here': () => 'This house never charges lithium that lay below its floor: retire it.',
  'rescued-before': ({ rescues }) => `It was rescued ${timesText(rescues)} already: retire it.`,
  'not-watched': () => 'It has no balance connector, so its groups cannot be watched. Do not force it.',
  signs: ({ findings }) =>
    `Never charged again: ${findings.map((finding) => findingName[finding]).join(', ')}. Carry it outside, retire it.`,
  'too-low': ({ position, voltageV, limitV }) =>
    `Group ${position} is at ${volts(voltageV)}, below ${volts(limitV)}: its copper may have dissolved. Retire it.`,
  'unknown-time': ({ voltageV }) =>
    `It is at ${volts(voltageV)}, and the time below 2 V is not known. That rules it out. Retire it.`,
  'nothing-low': ({ floorV }) => `Every group is at ${volts(floorV)} or more: charge it in the proper mode.`,
  'too-much-current': ({ limitA }) => `At most ${formatFigure(limitA, display.current, 2)} for it under these rules.`,
};

export const rescueRefusalText = (refusal: RescueRefusal): string => sentenceOf(refusals, refusal);

/** The limits of one rescue alone, with the reason. */
export const ownLimitsText = ({ limits, reason }: OwnLimits): string => {
  const each = rescueRules.flatMap((key) => {
    const value = limits[key];
    return value === undefined ? [] : [`${ruleBook[key].title} ${ruleFigure(key, value)}`];
  });
  return `Limits of its own: ${each.join('; ')}. Reason: ${reason}`;
};

const stops: Record<RescueStop, (group: string) => string> = {
  warm: () => 'It gets warm.',
  lag: (group) => `${group} falls behind.`,
  ahead: (group) => `${group} runs ahead of the others.`,
  missed: () => 'A reading was missed, so the state of the groups is not known.',
  'too-long': () => 'Its time is up, and it is not where it should be.',
};

/** Why the current comes off, in a sentence. */
export const rescueStopText = (code: RescueStop, position: number | null): string =>
  stops[code](position === null ? 'A group' : `Group ${position}`);

const whys: Record<RescueWhy, string> = {
  warm: 'it got warm',
  lag: 'a group fell behind',
  ahead: 'a group ran ahead',
  missed: 'a reading was missed',
  'too-long': 'its time was up',
  'by-hand': 'by hand',
  'goes-on': 'it goes on',
  reached: 'every group at its floor',
  'given-up': 'given up',
};
export const rescueWhyText = (why: RescueWhy): string => whys[why];

const stays: Record<RescueStays, string> = {
  'groups-disagree':
    'Groups that drift apart at such a small current are damaged. The rescue is over. Carry the pack outside, leave ' +
    'it for an hour, and retire it.',
  'time-is-up':
    'The rescue is over. A pack that does not recover in this time leaks, or has no capacity left. Retire it.',
  'read-first': 'Measure every group, and feel the pack. Resume only if the groups are level and the pack is cool.',
  'still-warm': 'It is still warm. Leave it where it may burn; read it again when it has cooled.',
};
export const rescueStaysText = (code: RescueStays): string => stays[code];

/** What has to be so before the current comes on. */
export const rescueChecklist = [
  'Outdoors or on stone, nothing near that burns',
  'A bucket of sand, and a way to carry it out',
  'I stay with it the whole time',
  'A meter at every group; polarity looked at twice',
] as const;
