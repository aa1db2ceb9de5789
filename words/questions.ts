import { chemistries } from '@/core/chemistry/chemistries';
import { display, type Display, formatRead, minus } from '@/core/quantity/format';
import type { Question, Typed } from '@/core/quantity/question';
import { counted } from './counted';
import { grams, milliohms, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const voltsRead = ({ value, step }: Typed): string => formatRead(value, step, display.voltage);
const gramsRead = ({ value, step }: Typed): string => formatRead(value, step, display.mass);
const milliohmsComputed = ({ value, step }: { value: number; step: number | null }): string =>
  step === null ? milliohms(value) : formatRead(value, step, display.resistance);

/** Plain figure without needless zeros: a limit, or one far beyond it. */
const plain = (value: number, { factor, unit }: Display): string =>
  `${minus(String(Number((value * factor).toPrecision(9))))} ${unit}`;

const dimensionNames: Record<Extract<Question, { code: 'beyond-records' }>['dimension'], string> = {
  voltage: 'a voltage',
  current: 'a current',
  resistance: 'a resistance',
  mass: 'a weight',
  temperature: 'a temperature',
  charge: 'a charge',
  time: 'a time',
};

const sentences: Sentences<Question> = {
  'voltage-not-as-others': ({ typed, othersV, meant }) =>
    meant === undefined
      ? `${voltsRead(typed)} where the others read ${volts(othersV)}: is this the same battery?`
      : `${voltsRead(typed)} where the others read ${volts(othersV)}.`,
  'voltage-not-as-neighbours': ({ typed, neighboursV }) =>
    `${voltsRead(typed)} where its neighbours have ${volts(neighboursV)}.`,
  'voltage-below-zero': ({ typed }) => `${voltsRead(typed)}: below zero. Are the probes reversed, or the cell?`,
  'probes-reversed': ({ typed }) => `${voltsRead(typed)}: below zero. Are the probes reversed?`,
  'voltage-beyond-cell': ({ typed, chemistry }) =>
    `${voltsRead(typed)} for one cell (${chemistries[chemistry].name}, at most ${chemistries[chemistry].fullV} V)?`,
  'voltage-beyond-pack': ({ typed, series }) => `${voltsRead(typed)} is more than ${series} groups can have.`,
  'perhaps-a-pair': ({ typed, usualKg }) =>
    `${gramsRead(typed)} for one cell, where one has ${grams(usualKg)}: a pair, welded together? ` +
    'Then type both codes, such as S1-004+005.',
  'weight-unusual': ({ typed, usualKg, together }) => {
    const what = together === 1 ? 'one cell' : counted(together, 'cell');
    return usualKg === null
      ? `${gramsRead(typed)} for ${what}?`
      : `${gramsRead(typed)} for ${what}, where one has ${grams(usualKg)}?`;
  },
  'resistance-not-above-zero': ({ computed }) =>
    `${milliohmsComputed(computed)}: a resistance is above zero. ` +
    'Was the zero taken with the probes apart, or are they swapped?',
  'resistance-not-as-batch': ({ computed, batchMedianOhm }) =>
    `${milliohmsComputed(computed)} where its batch has ${milliohms(batchMedianOhm)}: ` +
    'a slipped point, or a bad contact?',
  'perhaps-volts': () =>
    'These look like volts; here they are taken as milliohms. Enter voltages on the page of the pack.',
  'perhaps-from-red': () =>
    'The groups look like the last reading in reverse order. Were they measured from the positive terminal?',
  'whole-not-sum': ({ typed, sumOhm }) =>
    `${milliohmsComputed(typed)} for the whole, where the groups add up to ${milliohms(sumOhm)}: is one misread?`,
  'currents-swapped': () => 'The second current should be the higher one: were the two swapped?',
  'voltages-swapped': ({ at }) =>
    at === 'a load'
      ? 'Under load the voltage is the lower one: were the two swapped?'
      : 'At the higher current the voltage is the lower one: were the two swapped?',
  'still-settling': () => 'The recovery voltage is above the open voltage. Was the cell still settling?',
  'load-still-on': () => 'The recovery voltage is as low as the loaded voltage. Was the load still on?',
  'digits-too-fine': ({ instrument }) =>
    `${instrument} does not show digits that fine: is this its reading, or another one's?`,
  'digits-missing': ({ instrument, decimals, typed, as }) =>
    `${instrument} shows ${decimals === 1 ? 'one decimal' : `${decimals} decimals`} of ${as.unit}, ` +
    `and ${formatRead(typed.value, typed.step, as)} has fewer.`,
  'beyond-records': ({ dimension, typed, limit: { least, most, aboveLeast, as } }) =>
    aboveLeast
      ? `${plain(typed.value, as)}: ${dimensionNames[dimension]} here is above zero and at most ${plain(most, as)}.`
      : `${plain(typed.value, as)}: ${dimensionNames[dimension]} here lies between ` +
        `${plain(least, as)} and ${plain(most, as)}.`,
};

/** A question in words; last, whether it was the figure that was probably meant. */
export function questionText(question: Question): string {
  const sentence = sentenceOf(sentences, question);
  return question.meant === undefined ? sentence : `${sentence} Was it ${question.meant}?`;
}
