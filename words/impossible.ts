import { type Impossible, ImpossibleInput } from '@/core/impossibleInput';
import { tooLargeText } from '@/core/capacity/logSize';
import type { MappedField } from '@/core/capacity/logMapping';
import { counted } from './counted';
import { millivolts, percentText, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const mappedName: Record<MappedField, string> = {
  time: 'time',
  day: 'date of the time',
  voltage: 'voltage',
  group: 'voltage of a group',
  tap: 'voltage of a tap',
  current: 'current',
  temperature: 'temperature',
  cycle: 'cycle number',
  step: 'step number',
};

const sentences: Sentences<Impossible & { field: string }> = {
  'not-above-zero': ({ field, value }) => `${field} is ${value}; expected a number above zero.`,
  'not-a-count': ({ what }) =>
    what === 'series'
      ? 'In series: expected a whole number of at least 1.'
      : 'In parallel: expected a whole number of at least 1.',
  'no-finite-result': () => 'These values give no finite result; check for a zero or a missing figure.',

  'too-few-points': ({ points, least }) => `${counted(points, 'point')} given; it takes at least ${least}.`,
  'parameters-not-told': () => 'These points do not determine the parameters of the curve.',
  'points-at-one-place': () => 'All points are at one place; a line needs two different ones.',
  'points-not-rising': () => 'A monotone curve needs at least two points in rising order.',

  'loaded-above-open': ({ openV, loadedV, droopV }) =>
    droopV === 0
      ? `Loaded ${volts(loadedV)}, open ${volts(openV)}: the loaded voltage must be the lower one.`
      : `Loaded ${volts(loadedV)}, open ${volts(openV)} with ` +
        `${millivolts(droopV)} of droop; the loaded voltage must be the lower one.`,
  'resistance-not-above-zero': () => 'A resistance is above zero.',
  'no-resistance-there': () => 'This log shows no resistance at 10 s there.',
  'currents-in-wrong-order': ({ lowCurrentA, highCurrentA }) =>
    `The high current (${highCurrentA} A) must exceed the low one (${lowCurrentA} A).`,
  'no-group-voltages': () => 'Give one voltage for each group.',
  'no-rested-voltage': () => 'A rested voltage is missing.',
  'no-start-voltage': () => 'Give at least one rested start voltage.',
  'columns-swapped': ({ row, columns: [one, other] }) =>
    `From row ${row} on columns ${one} and ${other} are swapped: voltage and current changed places. ` +
    'Correct the columns, or import the two parts separately.',
  'other-count': ({ highestV, series, likely }) =>
    `The highest voltage of this log is ${volts(highestV)}: too high for ${series} in series. ` +
    `The log is of about ${likely} in series, or its voltage has another unit. Choose the battery, or the unit.`,
  'another-heading': ({ row }) =>
    `Row ${row} is a heading of other columns: these are two logs in one file. Import each by itself.`,
  'times-backwards': ({ count, rows }) =>
    `The clock goes back in ${count} of ${rows} rows: its times run backwards, or another column is the time. ` +
    'Sort it, the oldest first.',
  'no-such-resistor': () => 'No resistor has that value: ask for another current or time.',
  'start-near-end': ({ least }) =>
    `Start and end are less than ${percentText(least)} of charge apart. That is too little for a capacity.`,

  'above-its-chemistry': ({ position, voltageV, fullV }) =>
    `Group ${position} is at ${volts(voltageV)}; a cell of this chemistry is full at ${volts(fullV)}. ` +
    'Is it another chemistry, or does the meter read high? Find out before you charge.',
  'needs-rescue': ({ position, voltageV, lowestV }) =>
    `Group ${position} is at ${volts(voltageV)}, below ${volts(lowestV)}: rescue it, do not balance it ` +
    'first, if the house rules allow that at all.',

  'more-fields': ({ headings, fields }) =>
    (headings > 0 ? `The heading names ${headings} columns, but most rows hold ${fields}. ` : '') +
    'The figures seem to have decimal commas, and commas separate the fields too. Export the log with semicolons or ' +
    'with decimal points, or say what each column holds.',
  'no-text-table': () => 'This is not a text table: it has no line ends. Export the log as CSV.',
  'packing-broken': () =>
    'The gzip packing of this file is broken off or damaged. Unpack it, or pack it once more, and import it again.',
  'workbook-broken': () =>
    'This workbook is damaged, or it is no XLSX. Open it where it was made and save it once more, or as CSV.',
  'no-such-sheet': ({ sheet }) => `This workbook has no sheet "${sheet}".`,
  'unpacks-too-large': ({ bytes }) => tooLargeText(bytes),
  'empty-file': () => 'The file is empty.',
  'no-columns': ({ seen }) =>
    `No columns of time and voltage were found; the file begins with "${seen}". ` +
    'Expected a table with a time, a voltage and perhaps a current in each row.',
  'too-few-samples': ({ count }) =>
    count === 1
      ? 'Only 1 sample was found; a log needs at least two.'
      : `Only ${count} samples were found; a log needs at least two.`,
  'group-columns': ({ columns, series }) =>
    `This log has voltages of ${counted(columns, 'group')}, the pack has ${series}. ` +
    'Is it the log of another pack? Remove columns that are no group, and number the others from the negative ' +
    'terminal: cell1, cell2.',
  'mapped-twice': ({ what }) => `Two columns are set to ${mappedName[what]}. Choose one.`,
  'not-mapped': ({ what }) =>
    what === 'time'
      ? 'No column is set to time. Choose one, or enter the interval of the samples.'
      : 'No column is set to voltage. Choose one.',
  'unreadable-rows': ({ count, rows, first }) =>
    `${count} of ${rows} rows could not be read (the first is row ${first}); ` +
    'this does not look like a log of time and voltage.',
  'gap-too-long': ({ hours }) =>
    `Nothing was logged for ${hours} h, longer than the rest of the log. Import each part by itself.`,
  'log-too-long': ({ days, assumedUnit }) =>
    assumedUnit === null
      ? `This log would last ${days} days. Look at its column of time: are these the times of one discharge?`
      : `This log would last ${days} days. Its column of time has no unit and was taken as ${assumedUnit}. ` +
        'Write the unit into the heading, such as "time (ms)", and import it again.',

  'too-few-cells': ({ series, parallel, given }) =>
    `${series} in series and ${parallel} in parallel need ${series * parallel} cells; ` +
    (given === 1 ? 'only 1 is given.' : `only ${given} are given.`),
  'cell-twice': ({ cell }) => `Cell ${cell} is given twice.`,
  'cell-without-figures': ({ cell }) => `Cell ${cell} needs a capacity and a resistance above zero.`,
  'bond-too-large': ({ bond, cells, parallel }) =>
    `Bond ${bond} holds ${cells} cells together, more than the ${parallel} of a group. ` +
    'Take the bond apart or make the groups larger.',
  'bonds-do-not-fit': ({ series, parallel }) =>
    `The bonded cells do not fit into ${series} groups of ${parallel}. ` +
    'Take a bond apart or change the group size.',
  'too-few-of-a-model': ({ series, parallel }) =>
    `Groups are of one model each, and no models that may be together make ${series} groups of ${parallel}. ` +
    'Grade more cells of one, or allow more models in the house rules.',
  'bond-of-models': ({ bond }) =>
    `Bond ${bond} holds cells of two models together, and groups are of one model each: take it apart.`,
  'no-amount': () => 'Enter the minutes or the Wh it must deliver.',
  'no-count-within': ({ low, high }) =>
    `No number of these cells in series is within ${low} to ${high} V from empty to full. Widen the window, or ` +
    'choose other cells.',
  'beyond-use': ({ temperatureC, coldestC, warmestC }) =>
    `At ${temperatureC} °C do not discharge: ${coldestC} to ${warmestC} °C, or as the data sheet says.`,
  'group-without-cells': () => 'Each group needs at least one cell.',
  'pin-not-there': ({ cell }) => `${cell} is pinned but is not among the cells. Free the cell, or remove the pin.`,
  'pin-beyond': ({ cell, group, series }) =>
    `${cell} is pinned to group ${group}, but there are ${series} groups. Choose one of these.`,
  'pins-contradict': ({ cell, groups: [one, other] }) =>
    `${cell}, or a cell joined to it, is pinned to group ${one} and to group ${other}. Choose one group.`,
  'pins-too-many': ({ cells, places }) =>
    `${cells} cells shall stand where there are ${places} places: let some of them go.`,
  'pins-by-group': () => 'With several models, a cell cannot be pinned to a group. Leave the group number out.',
};

/** What was wrong with an input, in words for the person who gave it. */
export const impossibleText = ({ field, why }: ImpossibleInput): string => sentenceOf(sentences, { ...why, field });

/** What is said of the input that `work` refuses; null where it takes it. */
export function refusalOf(work: () => unknown): string | null {
  try {
    work();
    return null;
  } catch (error) {
    if (error instanceof ImpossibleInput) return impossibleText(error);
    throw error;
  }
}
