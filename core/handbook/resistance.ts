import { coldTimes } from '../chemistry/cold';
import { openCircuitOf } from '../chemistry/openCircuit';
import { directResistance } from '../resistance/direct';
import { notYetRested } from '../resistance/recovery';
import { loadStep } from '../resistance/loadStep';
import { currentsAsked, methodKeys, methods } from '../resistance/methods';
import { meanOfRepeats } from '../resistance/repeats';
import { twoCurrentStep } from '../resistance/twoCurrents';
import { comparableOhmAh, heatW, highestCurrentA, sagV, fractionsOfDrop } from '../resistance/uses';
import { type CellModel, restedState, stepResistanceOhm, terminalV } from '../simulation/cell';
import { read } from '../quantity/quantity';
import { commonPractice, fromMemory, type HandbookEntry, ownRule, published, shown, shownWithU } from './entry';

const modelCell: CellModel = {
  curve: openCircuitOf('li-ion'),
  capacityAh: 2.4,
  ohmicOhm: 0.03,
  branches: [
    { resistanceOhm: 0.01, timeConstantS: 5 },
    { resistanceOhm: 0.02, timeConstantS: 300 },
  ],
  selfDischargeA: 0,
};
const thirtyFive = { value: 0.035, u: 0.001 };

export const resistance: readonly HandbookEntry[] = [
  {
    key: 'resistance-load-step',
    topic: 'Resistance',
    title: 'Internal resistance from one load',
    text: [
      'Measure the open voltage, connect the load, wait ten seconds, measure again while the load is on. The ' +
        'drop over the current is the internal resistance. With a resistor the current follows from its value.',
      'A drop of only a few last digits gives a poor figure: use a heavier load or a meter with more digits. ' +
        'Note the recovery voltage after the load if you can. It corrects for the charge that the load took.',
    ],
    formulas: [
      {
        tex: String.raw`R = \frac{U_0 - U_L}{I} \qquad I = \frac{U_L}{R_L}`,
        where: [
          ['U_0', 'open voltage', 'V'],
          ['U_L', 'loaded voltage', 'V'],
          ['I', 'current', 'A'],
          ['R_L', 'load resistor', 'Ω'],
        ],
      },
    ],
    figures: [
      [
        '3.920 V open, 3.741 V through 2 Ω',
        () =>
          shownWithU(
            loadStep({
              openV: read(3.92, 0.001),
              loadedV: read(3.741, 0.001),
              load: { kind: 'resistor', resistanceOhm: { value: 2, u: 0.01 } },
            }).resistance,
            'Ω',
          ),
      ],
    ],
    drawing: 'load-step',
    sources: [published('Ohm’s law'), commonPractice('ten seconds')],
    see: ['recovery-voltage', 'resistance-two-currents', 'resistance-methods'],
  },
  {
    key: 'recovery-voltage',
    topic: 'Resistance',
    title: 'Recovery voltage',
    text: [
      'The recovery voltage is the voltage after the load is removed. It is below the open voltage by the ' +
        'charge that the load took. The resistance from recovery minus loaded voltage leaves that charge out.',
      'A cell needs time to recover. Read too early, the resistance is too low: by about 4 % after 20 s and 1 % ' +
        'after a minute. The figure is corrected by this, with an uncertainty as large as the correction allows.',
    ],
    figures: [
      ['Correction after 20 s', () => shown(100 * notYetRested(20).share, '%')],
      ['Correction after 60 s', () => shown(100 * notYetRested(60).share, '%')],
    ],
    sources: [commonPractice(), ownRule('the correction, from simulated cells')],
    see: ['resistance-load-step'],
  },
  {
    key: 'resistance-two-currents',
    topic: 'Resistance',
    title: 'Internal resistance from two currents',
    text: [
      'Load the cell with 0.2 of its rated current for ten seconds, then with the full rated current for one ' +
        'second. The difference of the voltages over the difference of the currents is the resistance. Surface ' +
        'charge and the charge taken partly cancel.',
      'The figure is seen one second after the step, so it is lower than the ten-second figure.',
    ],
    formulas: [
      {
        tex: String.raw`R = \frac{U_1 - U_2}{I_2 - I_1}`,
        where: [
          ['U_1, I_1', 'voltage and current at the low current', 'V, A'],
          ['U_2, I_2', 'voltage and current at the high current', 'V, A'],
        ],
      },
    ],
    figures: [
      ['Currents for a cell rated 2.5 Ah', () => `${currentsAsked('two-current', 2.5, null).join(' and ')} A`],
      [
        '3.81 V at 0.5 A and 3.71 V at 2.5 A',
        () =>
          shownWithU(
            twoCurrentStep({
              lowCurrentA: read(0.5, 0.01),
              highCurrentA: read(2.5, 0.01),
              atLowV: read(3.81, 0.001),
              atHighV: read(3.71, 0.001),
            }).resistance,
            'Ω',
          ),
      ],
    ],
    sources: [published('IEC 61960-3 (from memory)')],
    see: ['resistance-load-step', 'resistance-methods'],
  },
  {
    key: 'resistance-methods',
    topic: 'Resistance',
    title: 'Why two methods give different values',
    text: [
      'A 1 kHz meter sees only the ohmic part of a cell. A load that stays on for ten seconds also sees the ' +
        'reactions. On a sound lithium cell the ten-second figure is usually 1.3 to 2 times the 1 kHz figure. Both ' +
        'can be right.',
      'Compare figures only within one protocol: the same method, time, current, temperature and charge. Cells are ' +
        'graded by the ten-second figure. A resistance that a charger reports follows a rule of its own.',
    ],
    formulas: [
      {
        tex: String.raw`R(t) = R_0 + \sum_i R_i\left(1 - e^{-t/\tau_i}\right)`,
        where: [
          ['R_0', 'ohmic part, seen at once', 'Ω'],
          [String.raw`R_i, \tau_i`, 'slower parts and their time constants', 'Ω, s'],
        ],
      },
    ],
    figures: [
      [
        '30 mΩ at once, 10 mΩ with 5 s, 20 mΩ with 300 s: after 10 s',
        () => shown(1000 * stepResistanceOhm(modelCell, 10), 'mΩ'),
      ],
      ...methodKeys.map((key) => [methods[key].name, () => `at ${methods[key].seenAfter}`] as const),
    ],
    sources: [commonPractice(), fromMemory('1.3 to 2 times')],
    see: ['resistance-load-step', 'resistance-ac-meter', 'method-agreement', 'resistance-conditions'],
  },
  {
    key: 'method-agreement',
    topic: 'Resistance',
    title: 'Comparing two methods on the same cells',
    text: [
      'Measure several cells by both methods. The mean difference and its standard deviation give the limits ' +
        'within which 95 of 100 differences lie. A cell outside the limits has a bad contact in one reading, or ' +
        'behaves unlike the others.',
      'If the difference grows with the resistance, the ratio is compared instead.',
    ],
    formulas: [
      {
        tex: String.raw`\bar{d} \pm 1.96\, s_d`,
        where: [
          [String.raw`\bar{d}`, 'mean difference', 'Ω'],
          ['s_d', 'standard deviation of the differences', 'Ω'],
        ],
      },
    ],
    sources: [published('Bland and Altman, The Lancet 327 (1986) 307')],
    see: ['resistance-methods'],
  },
  {
    key: 'resistance-ac-meter',
    topic: 'Resistance',
    title: 'Resistance read from a meter',
    text: [
      'A meter that shows the resistance itself has its own accuracy, last digit and leads. Their uncertainties are ' +
        'combined. With two wires, take the zero with the probes together and enter it.',
    ],
    figures: [
      [
        '28.4 mΩ with four wires, ± 1 % ± 2 counts',
        () =>
          shownWithU(
            directResistance({
              resistanceOhm: 0.0284,
              stepOhm: 0.0001,
              range: { resolution: 0.0001, accuracyShare: 0.01, accuracyCounts: 2 },
              wires: 4,
              leads: null,
              zeroTaken: null,
            }).resistance,
            'Ω',
          ),
      ],
    ],
    sources: [commonPractice()],
    see: ['four-wire', 'resistance-methods', 'instrument-accuracy'],
  },
  {
    key: 'repeats',
    topic: 'Resistance',
    title: 'Repeat readings',
    text: [
      'Measure a cell again in the same round and its value becomes the mean of the readings. The uncertainty ' +
        'shrinks only in the part that varies between readings: contact and last digit. The accuracy of the ' +
        'instrument stays.',
      'Two readings that differ by more than 2.8 standard deviations of that noise point to a bad contact. Clean the ' +
        'terminals, press harder and measure again.',
    ],
    formulas: [
      {
        tex: String.raw`u^2 = u_\text{common}^2 + \frac{s^2}{n}`,
        where: [
          ['s', 'standard deviation of one reading'],
          ['n', 'number of readings'],
        ],
      },
    ],
    figures: [
      [
        '271 and 277 mΩ, each with u 0.6 mΩ',
        () => shownWithU(meanOfRepeats([271, 277], { u: 0.6, randomU: 0.3 }), 'mΩ'),
      ],
    ],
    sources: [published('ISO 5725-6, 4.1.1 (from memory)', 'the factor 2.8'), ownRule('the usual noise of contacts')],
    see: ['last-digit', 'outliers'],
  },
  {
    key: 'resistance-conditions',
    topic: 'Resistance',
    title: 'Conditions of a resistance reading',
    text: [
      'Resistance depends on temperature, charge and rest. A round states its windows. A reading outside them is ' +
        'kept, but not compared with the others, and the screen says why.',
      'Let a charged cell rest for an hour. Near full, take the surface charge off with a small load first. Measure ' +
        'packs behind the protection board, not through it: the board adds its own resistance.',
    ],
    sources: [commonPractice()],
    rules: ['restAfterChargeH', 'restAfterDischargeH'],
    see: ['cold', 'resistance-methods', 'outliers'],
  },
  {
    key: 'cold',
    topic: 'Resistance',
    title: 'Resistance and temperature',
    text: [
      'A cold cell has a higher resistance. It doubles for about every 25 K below 25 °C. Above 25 °C the bench ' +
        'value is used, on the safe side. The factor differs by a third between makes.',
    ],
    formulas: [
      {
        tex: String.raw`R(T) = R_{25} \cdot 2^{(25 - T)/25}`,
        where: [
          ['T', 'temperature', '°C'],
          ['R_{25}', 'resistance at 25 °C', 'Ω'],
        ],
      },
    ],
    figures: [
      ['Factor at 5 °C', () => shown(coldTimes(5))],
      ['Factor at −10 °C', () => shown(coldTimes(-10))],
    ],
    sources: [fromMemory()],
    see: ['resistance-conditions', 'service-time'],
  },
  {
    key: 'sag-and-heat',
    topic: 'Resistance',
    title: 'Voltage sag, heat and the highest current',
    text: [
      'Under load a cell loses current times resistance of its voltage. The same product times the current is heat ' +
        'inside the cell. In a series string each cell takes its part of the drop in proportion to its resistance.',
    ],
    formulas: [
      {
        tex: String.raw`\Delta U = I\,R \qquad P = I^2 R \qquad I_\text{max} = \frac{\Delta U_\text{max}}{R}`,
        where: [
          ['I', 'current', 'A'],
          ['R', 'resistance', 'Ω'],
          ['P', 'heat', 'W'],
        ],
      },
    ],
    figures: [
      ['Sag: 20 A through 35 mΩ', () => shownWithU(sagV(20, thirtyFive), 'V')],
      ['Heat: 20 A through 35 mΩ', () => shownWithU(heatW(20, thirtyFive), 'W')],
      ['Highest current for 0.5 V of sag', () => shownWithU(highestCurrentA(0.5, thirtyFive), 'A')],
      [
        'Parts of the drop: 20, 20 and 60 mΩ in series',
        () =>
          `${fractionsOfDrop([20, 20, 60])
            .map((part) => 100 * part)
            .join(', ')} %`,
      ],
      ['Terminal voltage at half charge, 30 mΩ, 2 A', () => shown(terminalV(modelCell, restedState(0.5), 2), 'V')],
    ],
    sources: [published('Ohm’s law')],
    see: ['rate-at-sag', 'normalised-resistance', 'service-time'],
  },
  {
    key: 'normalised-resistance',
    topic: 'Resistance',
    title: 'Comparing cells of different size',
    text: [
      'Twice the cell has half the resistance. Resistance times capacity is comparable across sizes of one ' +
        'chemistry: lower is better. For packs divide by the number of groups first.',
    ],
    formulas: [
      {
        tex: String.raw`r = R \cdot Q`,
        where: [
          ['R', 'resistance', 'mΩ'],
          ['Q', 'capacity', 'Ah'],
        ],
      },
    ],
    figures: [['35 mΩ of a 2.4 Ah cell', () => shownWithU(comparableOhmAh({ value: 35, u: 1 }, 2.4), 'mΩ·Ah')]],
    sources: [commonPractice()],
    see: ['rate-at-sag'],
  },
  {
    key: 'pulse-resistance',
    topic: 'Resistance',
    title: 'Resistance from a log',
    text: [
      'A log with steps of current holds a resistance at each step: the change of voltage over the change of ' +
        'current, after 0.1, 1, 10 and 30 s. The log must be dense enough around the step. The drift of the ' +
        'voltage before the step is taken off.',
      'The whole answer to a step is fitted with one or two exponential branches. They separate the ohmic part from ' +
        'the slow parts.',
    ],
    sources: [published('D. W. Marquardt, SIAM J. Appl. Math. 11 (1963) 431', 'the fit'), commonPractice('the times')],
    see: ['resistance-methods', 'resistance-load-step'],
  },
];
