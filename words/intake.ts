import type { InspectionFinding, IntakeReason } from '@/core/grading/intake';
import { display, formatFigure } from '@/core/quantity/format';
import { timesText } from './counted';
import { grams, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const ampereHours = (value: number): string => formatFigure(value, display.capacity, 2);

/** A finding as shown on a key or in a list. */
export const findingName: Record<InspectionFinding, string> = {
  swollen: 'swollen or soft',
  leaking: 'leaking or wet',
  dented: 'dented',
  hot: 'warm at rest',
  smell: 'smells of solvent',
  rust: 'rusty at a pole',
  wrap: 'wrap torn',
  dropped: 'fell',
  water: 'was in water',
  puffed: 'puffed when run flat',
  connector: 'connector damaged',
  lead: 'lead damaged',
};

const findingSentence: Record<InspectionFinding, string> = {
  swollen: 'It is swollen or soft: never charge it.',
  leaking: 'It is leaking or wet: never charge it.',
  dented: 'It is dented: never charge it.',
  hot: 'It is warm at rest: never charge it.',
  smell: 'It smells of solvent: never charge it.',
  rust: 'Noted: rusty at a pole.',
  wrap: 'Noted: wrap torn.',
  dropped: 'It fell: look for dents, and whether it gets warm at rest within a day.',
  water: 'It was in water: what got in corrodes and shorts it later. Never charge it.',
  puffed: 'It puffed up when it was run flat: never charge it again.',
  connector: 'Its connector is damaged: mend it before any charge or load.',
  lead: 'A lead of it is damaged: mend it before any charge or load, one lead at a time.',
};

type Claim = Extract<IntakeReason, { code: 'weight-impossible' | 'weight-doubtful' }>;
const claim = ({ ratedCapacityAh, massKg, specificEnergyWhPerKg }: Claim): string =>
  `${ampereHours(ratedCapacityAh)} in ${grams(massKg)} would be ${Math.round(specificEnergyWhPerKg)} Wh/kg`;

const sentences: Sentences<IntakeReason> = {
  finding: ({ finding }) => findingSentence[finding],
  'weight-impossible': (reason) =>
    `This weight cannot hold that capacity: ${claim(reason)}; ${ampereHours(reason.mostAh)} at the very most.`,
  'weight-doubtful': (reason) =>
    `Look at its label and weigh it again: ${claim(reason)}, more than the best cells hold.`,
  'weight-off': ({ massKg, modelMassKg }) =>
    `It weighs ${grams(massKg)}, its model ${grams(modelMassKg)}: not what its label says, or it has dried out.`,
  reversed: ({ voltageV }) => `${volts(voltageV)}: reversed.`,
  overcharged: ({ voltageV, fullV }) =>
    `${volts(voltageV)} at rest is above its charge end of ${fullV} V: overcharged, or the meter is wrong.`,
  'in-range': ({ voltageV }) => `${volts(voltageV)} at rest is within its range.`,
  shorted: ({ voltageV }) =>
    `${volts(voltageV)}: a shorted nickel cell. It takes no charge. Clearing the short holds for days; scrap it.`,
  'empty-primary': ({ voltageV }) => `${volts(voltageV)}: empty, and it is never charged.`,
  'low-current-first': ({ voltageV, floorV }) =>
    `${volts(voltageV)} is below its floor of ${floorV} V: bring it back with a low current first.`,
  'attended-rescue': ({ voltageV, floorV }) =>
    `${volts(voltageV)} is below its floor of ${floorV} V: only by the attended rescue.`,
  'beyond-rescue': ({ voltageV, rescueFloorV }) => `${volts(voltageV)} is too low even for rescue (${rescueFloorV} V).`,
  'never-rescued-here': ({ voltageV, floorV }) =>
    `${volts(voltageV)} is below its floor of ${floorV} V, and this house never rescues lithium.`,
  'rescued-already': ({ voltageV, floorV, rescues }) =>
    `${volts(voltageV)} is below its floor of ${floorV} V and it was rescued ${timesText(rescues)} already.`,
};

export const intakeReasonText = (reason: IntakeReason): string =>
  reason.group === undefined
    ? sentenceOf(sentences, reason)
    : `Group ${reason.group} at ${sentenceOf(sentences, reason)}`;
