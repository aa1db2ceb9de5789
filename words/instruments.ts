import { type CalibrationRefusal, type Correction, fillsTo } from '@/core/instruments/calibration';
import type { Consensus } from '@/core/instruments/consensus';
import { display, formatQuantity } from '@/core/quantity/format';
import { type Sentences, sentenceOf } from './say';

const millivolts = (volts: number): string => `${Number((volts * 1000).toPrecision(2))} mV`;

const refusals: Sentences<CalibrationRefusal> = {
  'no-level': () => 'This channel and the reference were not measured at the same level.',
  'reference-less-certain': ({ referenceU, statedU }) =>
    `The reference (± ${millivolts(referenceU)}) is less certain than the instrument itself ` +
    `(± ${millivolts(statedU)} by its maker). Use one that resolves better.`,
  'one-level': () =>
    'A gain needs at least two levels. Measure a fuller or an emptier battery as well, or correct the offset only.',
  'equal-levels': () =>
    'All levels are equal: they do not determine a gain. ' +
    'Measure a fuller or an emptier battery as well, or correct the offset only.',
  'finer-than-digit': ({ wantedV, resolutionV }) =>
    `The correction wanted (${millivolts(wantedV)}) is finer than this instrument's last digit ` +
    `(${millivolts(resolutionV)}); it would not be more accurate afterwards.`,
  'reference-not-sure-enough': ({ wantedV, limitV }) =>
    `To correct ${millivolts(wantedV)} the reference must be more accurate than ± ${millivolts(limitV)}. ` +
    'Measure the batteries with a finer meter as well.',
  'not-told-from-zero': ({ wantedV }) =>
    `The error found (${millivolts(wantedV)}) cannot be distinguished from zero; ` +
    'correcting it would add as much as it takes away.',
};

/** Why an instrument is not corrected. */
export const calibrationRefusalText = (refusal: CalibrationRefusal): string => sentenceOf(refusals, refusal);

/** What a charger whose channel is off this much fills a cell of that charge end to, in figures. */
export const filledText = (correction: Correction, fullV: number): string =>
  formatQuantity(fillsTo(fullV, correction), display.voltage);

/** The same for several charge ends, in words. */
export const fillsText = (correction: Correction, chargeEndsV: readonly number[]): string =>
  chargeEndsV.map((fullV) => `a ${fullV} V cell to ${filledText(correction, fullV)}`).join(', ');

/** Why it cannot be known which instrument is right. */
export function nobodyKnowsText({ witnesses }: Extract<Consensus, { kind: 'nobody-knows' }>): string {
  if (witnesses > 2)
    return (
      `No majority of these ${witnesses} agrees within its uncertainty. A certified instrument would settle it, ` +
      'or one more independent meter with a finer last digit.'
    );
  const few = witnesses === 2 ? 'Two instruments' : 'One instrument';
  return `${few} cannot show which is right. Add a third independent instrument, or a certified one.`;
}
