import { formatDuration } from '@/core/quantity/format';
import type { LogField } from '@/core/capacity/logColumns';
import type { Warning } from '@/core/warning';
import { counted, timesText } from './counted';
import { firstOf, milliohms, millivolts, percentText, secondsText, volts, watts } from './figures';
import { type Sentences, sentenceOf } from './say';

const chargeAsked = ({ from, to }: { from: number; to: number }): string =>
  `${Math.round(from * 100)} to ${percentText(to)}`;

const notCompared = 'kept, but not compared';

/** What a column of a log holds, in words. */
export const columnName = ({ field, position }: { field: LogField; position?: number }): string =>
  position === undefined ? field : `${field} ${position}`;

const sentences: Sentences<Warning> = {
  'no-header': ({ columns }) =>
    `No heading: ${columns.map((one) => `column ${one.index + 1} taken as ${columnName(one)}`).join(', ')}.`,
  'unit-assumed': ({ columns }) =>
    `No unit written: ${columns.map((one) => `${columnName(one)} taken as ${one.unit}`).join(', ')}.`,
  'groups-as-taps': ({ turned }) =>
    turned
      ? 'The columns fall by one group each: they are taps against the negative terminal, ' +
        'numbered from the positive one. Group 1, at the negative terminal, is the last column.'
      : 'The columns rise by one group each: they are taps against the negative terminal. ' +
        'Each group is the difference between two of them.',
  'terminals-among-groups': ({ index }) =>
    `Column ${index + 1} is the sum of the others: taken as the terminals, not as a group.`,
  'groups-not-sum': ({ apartV, voltageV }) =>
    `The terminal voltage is ${millivolts(Math.abs(apartV))} ${apartV < 0 ? 'below' : 'above'} the sum of the ` +
    `groups, at a mean of ${volts(voltageV)}: a meter, a pin or a lead is wrong.`,
  'row-unreadable': ({ count, rows }) =>
    `${counted(count, 'row')} passed over as unreadable (row ${firstOf(rows, count)}).`,
  'heading-again': ({ rows }) =>
    `The heading is repeated at row ${rows.join(', ')}: more than one log in this file. ` +
    'The first discharge that ends at the cut-off counts.',
  'date-order': ({ order, isAssumed }) =>
    `Dates are taken as ${order === 'day-first' ? 'day first' : 'month first'}, for the whole log` +
    (isAssumed ? '; nothing in the log decides it. Check the date.' : '.'),
  'clock-reset': ({ count, rows }) =>
    `The clock went back at row ${firstOf(rows, count)}; the log was continued one step after the row before.`,

  'no-discharge': () =>
    'No discharge is in this log: no current flows while the voltage falls. ' +
    'Was it a charge, or is another column the current?',
  'wild-samples': ({ count, atS }) =>
    `${counted(count, 'wild sample')} left out (at ${firstOf(atS.map(secondsText), count)}).`,
  'current-missing': ({ count }) =>
    count === 1
      ? '1 row has no current and was bridged by the rows before and after.'
      : `${count} rows have no current and were bridged by the rows before and after.`,
  gap: ({ fromS, toS }) =>
    `Nothing was logged for ${secondsText(toS - fromS)} from ${secondsText(fromS)} on; bridged by a straight line.`,
  'current-negated': () => 'The current column counts discharge as negative; its sign was turned.',
  'charge-left-out': () => 'The log holds a charge as well; only the discharge counts.',
  'rest-left-out': ({ beforeS, betweenS, afterS }) => {
    const rests = [
      { s: beforeS, when: 'before' },
      { s: betweenS, when: 'between' },
      { s: afterS, when: 'after' },
    ].filter(({ s }) => s > 0);
    return `Without load, so not counted: ${rests.map(({ s, when }) => `${secondsText(s)} ${when}`).join(', ')}.`;
  },
  'brief-dips': ({ count }) =>
    `The voltage touched the cut-off ${timesText(count)} and came back; only the lasting crossing counts.`,
  'cutoff-in-gap': ({ silenceS, uS }) =>
    `The cut-off was met within a silence of ${secondsText(silenceS)}: ` +
    `when is not known better than ± ${secondsText(uS)}. Log more often towards the end.`,
  'cutoff-carried-on': ({ voltageV, uS }) =>
    `The load ended at ${volts(voltageV)} as logged, within one step of the cut-off: ` +
    `the fall was carried on to it, good to ± ${secondsText(uS)}.`,
  'cutoff-not-reached': ({ voltageV, cutoffV }) =>
    `The discharge ends at ${volts(voltageV)}, above the cut-off of ${cutoffV} V: ` +
    'the capacity is at least this. Discharge to the cut-off for the full value.',
  'load-tolerance-assumed': ({ load, share: fraction }) => {
    const assumed = fraction === null ? 'taken as exact' : `± ${percentText(fraction)} assumed`;
    return load === 'resistor'
      ? `No tolerance given for the resistor; ${assumed}.`
      : `No accuracy given for the set current; ${assumed}.`;
  },
  'steps-not-evaluated': ({ evaluated, beyond }) =>
    `The first ${evaluated} steps of the load are evaluated; ${counted(beyond, 'more', 'more')} came after them.`,
  'segments-not-listed': ({ listed, beyond }) =>
    `The first ${listed} segments are listed; ${counted(beyond, 'more', 'more')} came after them.`,
  'current-accuracy-assumed': () => 'No accuracy given for the current column; ± 1 % assumed.',
  'voltage-accuracy-assumed': () => 'No accuracy given for the logged voltage; ± 0.5 % assumed.',

  'first-run-taken-as-new': () => 'The capacity when new is not known. The first capacity test is used instead.',
  'other-rates-left-out': ({ count }) =>
    `${counted(count, 'capacity test')} left out: another rate, temperature or end voltage.`,
  'no-trend': () => 'Too few capacity tests, or all at one time. A trend takes three.',
  'no-fade-seen': () => 'These capacity tests show no clear fade yet. The end of service cannot be predicted.',
  'far-beyond-seen': ({ times }) =>
    `The prediction reaches ${times.toFixed(1)} times as far as the capacity tests do. It is a guess.`,
  'reading-uncertainty-assumed': ({ uV }) =>
    `No uncertainty given for a reading; ± ${millivolts(uV)} between two readings of one meter assumed.`,
  'charge-accuracy-assumed': ({ share: fraction }) =>
    `No accuracy given for the charge put in; ± ${percentText(fraction)} assumed.`,
  'charge-flat': ({ soc }) =>
    `At ${percentText(soc)} the voltage hardly depends on the charge. Start lower, down to 20 %.`,
  'start-below-reserve': ({ soc }) => `The start at ${percentText(soc)} is below 20 %, the least to leave in a pack.`,

  'load-overrated': ({ loadPowerW, ratingW }) =>
    `The resistor takes ${watts(loadPowerW)}, more than its ${watts(ratingW)}: it gets hot and drifts. ` +
    'Hold it only for a moment, or use a larger one.',
  'drop-not-resolved': ({ relativeU }) =>
    `The drop is too small for these voltage steps: the uncertainty is ${percentText(relativeU)}. ` +
    'Use a finer meter or a heavier load.',
  'resolution-assumed': () => 'Where no resolution was given, 1 mV and 10 mA were assumed.',
  'leads-swamp': ({ leadOhm, resistanceOhm, zeroTaken }) =>
    `Two wires: ${zeroTaken ? 'clips' : 'leads and clips'} of about ${milliohms(leadOhm)} are in this figure of ` +
    `${milliohms(resistanceOhm)}. Use four wires, or compare only with readings through the same leads.`,
  'zero-not-taken': () =>
    'No zero was taken: the meter’s own offset is in every figure of this round. ' +
    'Short the probes, set the meter to zero, and start the round again.',
  'after-time-unknown': ({ assumedS }) =>
    `The time of the recovery voltage was not noted: ${secondsText(assumedS)} after the load was assumed. ` +
    'Reading it a minute after, and noting that with the round, makes the figure surer.',
  'temperature-unknown': ({ coldestC, warmestC }) =>
    `No temperature was noted; this protocol asks for ${coldestC} to ${warmestC} °C. ` +
    'Resistance falls by about half from 0 to 25 °C (from memory).',
  'temperature-outside': ({ temperatureC, coldestC, warmestC }) =>
    `${temperatureC} °C is outside the ${coldestC} to ${warmestC} °C of this protocol: ${notCompared}.`,
  'not-rested': ({ restedS, askedS }) =>
    `Rested ${formatDuration(restedS)} of the ${formatDuration(askedS)} this protocol asks for: ${notCompared}.`,
  'charge-outside': ({ openV, soc, asked }) =>
    `${volts(openV)} is about ${percentText(soc)} charge, ` +
    `outside the ${chargeAsked(asked)} of this protocol: ${notCompared}.`,
  'charge-unknown': ({ asked }) =>
    `No voltage was noted; this protocol asks for ${chargeAsked(asked)} charge. Type the volts behind the resistance.`,
  'surface-charge': ({ openV }) =>
    `Open at ${volts(openV)}, so near full, a surface voltage that any small load takes away counts as resistance. ` +
    'Rest it an hour, or preload it.',
  'board-in-path': () =>
    'A protection board in the path adds tens of milliohms: ' + 'compare only with others that have the same board.',

  'cutoff-at-once': ({ group }) =>
    `Group ${group} is at the cut-off as soon as the load comes on: this pack cannot carry it. ` +
    'Ask for less, put more cells in parallel, or choose cells of lower resistance.',
  'load-not-carried': ({ afterS }) =>
    `${afterS > 0 ? `After ${secondsText(Math.round(afterS))} no` : 'No'} current gives that power any more: ` +
    'ask for less, or put more cells in series or in parallel.',
  'profile-over': () => 'The load ends before any group is at the cut-off.',
  'carries-unevenly': ({ group, times }) =>
    `Group ${group}: as the load comes on one cell carries ${times.toFixed(1)} times what another does.`,
  'cell-warms': ({ group, cell, riseK }) =>
    `Cell ${cell} of group ${group} turns most into heat: up to ${riseK.toFixed(0)} K warmer, were none carried away.`,
  'taken-as-full': () => 'Cells without a given charge count as full.',
  'ten-seconds-split': () =>
    'Of a ten-second resistance three quarters were taken to come at once; over hours 1.7 times as much (from memory).',
  'time-limit': () => 'The time was up: this is the best arrangement found until then.',
  'sharing-uneven': ({ group, ratio }) =>
    `Group ${group}: resistances differ ${ratio.toFixed(1)} times; the lowest carries the most current.`,
  'models-mixed': ({ group }) => `Group ${group}: cells of two models side by side. They charge and age unlike.`,
  'groups-apart': ({ weakest, apartFraction }) =>
    `The groups differ in capacity by ${percentText(apartFraction)}: group ${weakest} is empty while others are not.`,
  'voltages-apart': ({ apartV, joining }) =>
    joining
      ? `Group ${joining.group}: its cells are ${millivolts(apartV)} apart. ` +
        `Bring them within ${millivolts(joining.withinV)} before they are joined.`
      : `The start voltages are ${millivolts(apartV)} apart: look at each cell's own figure.`,
  'as-noted': ({ text }) => text,
};

export const warningText = (warning: Warning): string => sentenceOf(sentences, warning);
