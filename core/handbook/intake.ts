import { buildFromLabel } from '../capacity/label';
import { deadV } from '../chemistry/chemistries';
import { beyondLimit } from '../quantity/limits';
import { commonPractice, fromMemory, type HandbookEntry, ownRule } from './entry';

export const intake: readonly HandbookEntry[] = [
  {
    key: 'intake-classes',
    topic: 'Intake and rescue',
    title: 'Usable, rescue only, scrap',
    text: [
      'The first voltage, the weight and a look decide what you may do with a cell. The worst finding counts. A ' +
        'cell is usable only when nothing is missing.',
      `Scrap: swollen, leaking, hot, dented or smelling cells, cells below ${deadV} V, cells with reversed ` +
        `voltage, and ` +
        'lithium too low even for a rescue. Rescue only: lithium below its lowest voltage. Such a cell may have ' +
        'dissolved copper and can short later.',
      'A voltage above the charge end means an overcharge, a different chemistry, or a meter error. Measure it with ' +
        'another meter before you decide.',
    ],
    sources: [commonPractice(), fromMemory('copper below about 1.5 V')],
    rules: ['rescueFloorV', 'rescuesAllowed', 'lowestCylindricalV', 'lowestPouchV', 'lowestIronPhosphateV'],
    see: ['rescue', 'weight-and-label', 'plausibility'],
  },
  {
    key: 'weight-and-label',
    topic: 'Intake and rescue',
    title: 'Weight, label and fakes',
    text: [
      'Energy over weight shows a false label. The best lithium cells reach about 300 Wh/kg. A label a little ' +
        'above the limit asks for a second look. A label a quarter above it is false. A cell far lighter than its ' +
        'model is not that model.',
      'A label must also agree with itself: energy is voltage times capacity, and the pack voltage divided by ' +
        'the cell voltage gives the cells in series.',
    ],
    formulas: [
      {
        tex: String.raw`w = \frac{Q \cdot U}{m} \qquad n_s = \frac{U_\text{pack}}{U_\text{cell}}
          \qquad n_p = \frac{E}{U_\text{pack}\,Q_\text{cell}}`,
        where: [
          ['Q', 'capacity', 'Ah'],
          ['U', 'nominal voltage', 'V'],
          ['m', 'mass', 'kg'],
          ['E', 'energy on the label', 'Wh'],
        ],
      },
    ],
    figures: [
      [
        '92.5 Wh at 18.5 V, cells of 3.7 V and 2.5 Ah',
        () => {
          const { series, parallel } = buildFromLabel(92.5, 18.5, 3.7, 2.5);
          return `${series} in series, ${parallel} in parallel`;
        },
      ],
    ],
    sources: [commonPractice(), fromMemory('300 Wh/kg')],
    rules: ['weightTolerance', 'bestSpecificEnergyWhPerKg'],
    see: ['intake-classes'],
  },
  {
    key: 'chemistry-by-voltage',
    topic: 'Intake and rescue',
    title: 'Chemistry and cell count from the voltage',
    text: [
      'A rested voltage narrows the chemistry: 3.3 V of a nearly full iron phosphate cell would be a nearly ' +
        'empty 4.2 V cell. Never choose a charge mode by voltage alone. Read the label, or charge as the lower of ' +
        'the possible types.',
      'For a pack the same voltage can mean fewer full groups or more empty ones. Count the groups at the balance ' +
        'connector.',
    ],
    sources: [commonPractice()],
    see: ['charger-settings', 'intake-classes'],
  },
  {
    key: 'rescue',
    topic: 'Intake and rescue',
    title: 'Rescue of an over-discharged pack',
    text: [
      'A rescue brings lithium from below its lowest voltage up to the proper charge: a tenth of the capacity as ' +
        'current at most, attended, every group measured every few minutes. The charger does not see a group that ' +
        'falls behind. You must.',
      'Stop at once if the pack gets warm, a group falls behind or runs ahead, a reading is missed, or the time ' +
        'is over. Hand over to the normal charge when the lowest group reaches the hand-over voltage.',
      'A rescued cell may self-discharge. Run a self-discharge test before you use it. One rescue lowers the ' +
        'duty. Two end it. Some people never rescue: choose the careful house rules for that.',
    ],
    sources: [commonPractice(), fromMemory('the limits marked so under house rules')],
    rules: [
      'rescuesAllowed',
      'rescueFloorV',
      'rescueRateC',
      'rescueReadMin',
      'rescueApartV',
      'rescueWarmerK',
      'rescueLimitH',
    ],
    see: ['intake-classes', 'self-discharge'],
  },
  {
    key: 'pack-type',
    topic: 'Intake and rescue',
    title: 'A pack that is not what it seems',
    text: [
      'Before a charge the measured voltages are compared with the type on file: number of groups, voltage at the ' +
        'terminals, sum of the groups. A contradiction blocks the charger settings until it is settled.',
      `Terminals near 0 V with healthy groups mean that the protection board is off. A group below ${deadV} V is ` +
        `dead. ` +
        'Fewer groups than expected, or iron phosphate instead of 4.2 V lithium, are named as possible types.',
    ],
    sources: [commonPractice(), ownRule('the order of the suggestions')],
    see: ['chemistry-by-voltage', 'protection-board', 'sum-and-terminals'],
  },
  {
    key: 'typed-figures',
    topic: 'Intake and rescue',
    title: 'Why a value cannot be computed',
    text: [
      'Some inputs give no result: a loaded voltage above the open voltage, a current of zero, points that all ' +
        'lie at one place, a count that is not a whole number. The screen names the input. Check the order of the ' +
        'values and their units first.',
      'Numbers too large or too small to be a reading are refused, with the value that was probably meant.',
    ],
    figures: [
      ['3712 typed for a voltage', () => beyondLimit({ dimension: 'voltage', value: 3712, step: 1 })?.meant ?? ''],
    ],
    sources: [ownRule()],
    see: ['plausibility'],
  },
];
