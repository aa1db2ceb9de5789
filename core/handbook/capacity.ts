import { chargeEfficiency } from '../capacity/chargeEfficiency';
import { incrementalCapacity } from '../capacity/incrementalCapacity';
import { partialCapacity } from '../capacity/partial';
import { rateDependence } from '../capacity/rateDependence';
import { resistorPlan, resistorsFor } from '../capacity/resistorPlan';
import { cRate, currentAtRate } from '../chemistry/chemistries';
import { openCircuitOf } from '../chemistry/openCircuit';
import { exact } from '../quantity/quantity';
import { peukertAh } from '../planning/peukert';
import { selfDischarge as currentOf } from '../selfDischarge/selfDischarge';
import { commonPractice, fromMemory, type HandbookEntry, ownRule, published, shown, shownWithU } from './entry';

const cycle = { number: 1, fromS: 0, toS: 1, chargedAh: 2.9, dischargedAh: 2.85, chargedWh: null, dischargedWh: null };
const cell = { curve: openCircuitOf('li-ion'), series: 1, capacityAh: exact(2.4), cutoffV: 3, tolerance: 0.05 };

export const capacity: readonly HandbookEntry[] = [
  {
    key: 'capacity',
    topic: 'Capacity',
    title: 'Capacity from a discharge',
    text: [
      'Capacity is the charge from full to the cut-off under load: the area under the current. It depends on ' +
        'current, temperature and cut-off, so a figure names all three.',
      'Rest and charge before, between and after the discharge do not count. A gap in the log is bridged by a ' +
        'straight line and widens the uncertainty. Wild samples are left out. If several discharges are in the ' +
        'log, the first that reaches the cut-off counts.',
      'The lowest group of a pack ends its discharge. Where groups were logged, the lowest group is compared ' +
        'with the cut-off.',
    ],
    formulas: [
      {
        tex: String.raw`Q = \int I\,dt \approx \sum_k \frac{I_k + I_{k+1}}{2}\,(t_{k+1} - t_k)`,
        where: [
          ['Q', 'capacity', 'A·s; 3600 A·s are 1 Ah'],
          ['I_k', 'current at sample k', 'A'],
          ['t_k', 'time of sample k', 's'],
        ],
      },
    ],
    sources: [commonPractice(), published('JCGM 100:2008 (GUM), 5.1', 'uncertainty')],
    rules: ['lowestCylindricalV', 'lowestPouchV', 'lowestIronPhosphateV', 'testDischargeC'],
    see: ['early-end', 'c-rate', 'capacity-and-rate', 'reading-logs'],
  },
  {
    key: 'reading-logs',
    topic: 'Capacity',
    title: 'How a log is read',
    text: [
      'A log is a table of time and voltage, with current or charge if the device has them, as text, workbook or ' +
        'JSON. Headings and units are recognised. What cannot be recognised is asked, and you can map each column ' +
        'yourself. The file is kept as received and can be read again with other settings.',
      'Dates such as 11/02/2026 are decided once for the whole column from all rows. If nothing decides, the day ' +
        'comes first and the preview says so. A clock that jumps back is repaired if the order of rows is clear.',
      'Group columns may be single voltages or taps against the negative terminal. A column that is the sum of the ' +
        'others is taken as the terminals.',
    ],
    sources: [commonPractice(), published('RFC 4180', 'text tables'), published('ECMA-376', 'workbooks')],
    see: ['capacity', 'log-segments'],
  },
  {
    key: 'log-segments',
    topic: 'Capacity',
    title: 'Steps in a log',
    text: [
      'A log is cut where a current begins, ends, turns or changes, and where the device starts another step or ' +
        'cycle. A constant current that turns into a taper at constant voltage is a charge with two parts.',
      'A change lies halfway between two samples. Each half counts with the current on its own side, so the ' +
        'charge of all parts adds up to the whole.',
    ],
    sources: [commonPractice()],
    see: ['capacity', 'pulse-resistance', 'charge-efficiency'],
  },
  {
    key: 'early-end',
    topic: 'Capacity',
    title: 'A discharge that did not reach the cut-off',
    text: [
      'If the log stops above the cut-off, the charge is a lower bound. With a rested voltage before and after, the ' +
        'open-circuit curve gives the whole: charge over the change of the state of charge.',
      'The result names its uncertainty. Near the flat part of the curve, or after a short discharge, there is no ' +
        'result.',
    ],
    formulas: [
      {
        tex: String.raw`Q = \frac{q}{s_0 - s_1}`,
        where: [
          ['q', 'charge taken', 'Ah'],
          ['s_0, s_1', 'state of charge at the start and at the end'],
        ],
      },
    ],
    sources: [commonPractice()],
    see: ['capacity', 'partial-capacity', 'open-circuit-voltage'],
  },
  {
    key: 'partial-capacity',
    topic: 'Capacity',
    title: 'Capacity from a partial charge',
    text: [
      'Measure the rested voltage, charge, and note the charge put in. The open-circuit curve turns both ends into a ' +
        'state of charge. The charge over the difference is the capacity.',
      'The result is only as good as the curve and the difference. Start below half charge. In a pack the group that ' +
        'ends the charge decides.',
    ],
    formulas: [
      {
        tex: String.raw`Q = \frac{q}{s_1 - s_0}`,
        where: [
          ['q', 'charge put in', 'Ah'],
          ['s_0, s_1', 'state of charge before and after'],
        ],
      },
    ],
    figures: [
      [
        '1.1 Ah into a pouch cell that rested at 3.84 V',
        () =>
          shownWithU(
            partialCapacity({ curve: openCircuitOf('lipo'), startVoltagesV: [3.84], chargeAh: 1.1 }).capacityAh,
            'Ah',
          ),
      ],
    ],
    sources: [commonPractice()],
    see: ['open-circuit-voltage', 'charge-efficiency', 'early-end'],
  },
  {
    key: 'resistor-discharge',
    topic: 'Capacity',
    title: 'Discharge through a resistor',
    text: [
      'A resistor is the simplest load. Its current follows the voltage, so log or note the voltage often near ' +
        'the end. The tolerance of the resistor is the largest uncertainty: measure the resistor if you can.',
      'A resistor gets hot. Use one rated at least twice the power it has to take, on a surface that does not ' +
        'burn, and attend to the end: nothing stops the discharge below the cut-off.',
    ],
    formulas: [
      {
        tex: String.raw`I = \frac{U}{R} \qquad P = \frac{U^2}{R} \qquad t = R\,Q\;\overline{1/U}`,
        where: [
          ['U', 'voltage', 'V'],
          ['R', 'resistor', 'Ω'],
          ['Q', 'capacity', 'Ah'],
          ['t', 'time', 'h'],
        ],
      },
    ],
    figures: [
      ['2.4 Ah through 3.3 Ω down to 3.0 V', () => shown(resistorPlan(cell, 3.3).durationS.value / 3600, 'h')],
      [
        'Resistors for 2.4 Ah within 4 h',
        () =>
          `${resistorsFor(cell, { hours: 4 })
            .map((plan) => plan.resistanceOhm)
            .join(', ')} Ω`,
      ],
    ],
    sources: [published('Ohm’s law'), published('IEC 60063, series E24'), commonPractice('twice the power')],
    see: ['capacity', 'instrument-accuracy'],
  },
  {
    key: 'c-rate',
    topic: 'Capacity',
    title: 'C-rate',
    text: [
      'The C-rate is the current as a multiple of the capacity: at 1 C a full cell is empty in about an hour, at ' +
        '0.2 C in five hours.',
    ],
    formulas: [
      {
        tex: String.raw`c = \frac{I}{Q}`,
        where: [
          ['I', 'current', 'A'],
          ['Q', 'capacity', 'Ah'],
        ],
      },
    ],
    figures: [
      ['4.5 A from 3 Ah', () => shown(cRate(4.5, 3), 'C')],
      ['0.3 C of 2.35 Ah in steps of 0.1 A', () => shown(currentAtRate(0.3, 2.35, 0.1), 'A')],
    ],
    sources: [commonPractice()],
    rules: ['testDischargeC', 'chargeCylindricalC', 'chargePouchC', 'chargeNickelC', 'chargeLeadC'],
    see: ['capacity', 'charger-settings'],
  },
  {
    key: 'capacity-and-rate',
    topic: 'Capacity',
    title: 'Capacity at another current',
    text: [
      'A cell gives less charge at a higher current, because it reaches the cut-off earlier. Two measured rates ' +
        'show how much. Runs at different rates are never mixed into one ageing trend.',
      'Lead-acid depends strongly on the current. Peukert’s relation describes it. A sealed battery is rated over ' +
        '20 h.',
    ],
    formulas: [
      {
        tex: String.raw`I^k\,t = \text{constant} \qquad Q(I) = Q_0 \left(\frac{I_0}{I}\right)^{k-1}`,
        where: [
          ['k', 'Peukert’s exponent, usually 1.15 for sealed lead-acid'],
          ['Q_0', 'capacity at the rated current', 'Ah'],
          ['I_0', 'rated current', 'A'],
        ],
      },
    ],
    figures: [
      [
        'Exponent of a battery that gives 7 Ah at 0.35 A and 5.6 Ah at 3.5 A',
        () => {
          const runs = [
            { atMs: 1, capacityAh: 7, u: 0.05, currentA: 0.35 },
            { atMs: 2, capacityAh: 5.6, u: 0.05, currentA: 3.5 },
          ];
          const exponent = rateDependence(runs, 'sla')?.peukert;
          return exponent ? shownWithU(exponent, '') : '';
        },
      ],
      ['A 7 Ah lead-acid battery at 5 A', () => shown(peukertAh(7, 5), 'Ah')],
    ],
    sources: [published('W. Peukert, Elektrotechnische Zeitschrift 18 (1897) 287 (from memory)'), fromMemory('1.15')],
    see: ['capacity', 'service-time'],
  },
  {
    key: 'ageing',
    topic: 'Capacity',
    title: 'Ageing: when a cell reaches 80 and 70 %',
    text: [
      'The capacity over cycles or time is fitted by several shapes: a straight line, powers of the axis, and a ' +
        'line with a knee. Each shape is weighted by how well it fits. The range of the crossing covers all of ' +
        'them, so it is wide while only a few runs are on file.',
      'Only comparable runs count: the same rate, temperature and cut-off. Beyond the measured range the result ' +
        'is a forecast: “if it goes on like this”. A knee that is still to come cannot be seen in the data. That ' +
        'is why the range of a straight fade is wider than the fade alone would need.',
    ],
    formulas: [
      {
        tex: String.raw`h(x) = h_0 - a\,x^p`,
        where: [
          ['h', 'health: capacity as a fraction of the capacity when new'],
          ['x', 'cycles or time'],
          ['p', '1 for a straight line, 0.5 for a square root'],
        ],
      },
    ],
    sources: [
      published('J. A. Hoeting et al., Bayesian Model Averaging, Statistical Science 14 (1999) 382'),
      fromMemory('how often each shape occurs, and the scatter from day to day'),
    ],
    see: ['capacity', 'end-of-life', 'duties'],
  },
  {
    key: 'charge-efficiency',
    topic: 'Capacity',
    title: 'Charge efficiency',
    text: [
      'The charge taken out over the charge put in. Lithium gives back 99 % and more. Much less points to a ' +
        'meter, to a charge that began from a different state, or to self-discharge. Nickel gives back about two ' +
        'thirds of a slow charge. Lead-acid gives back about 90 %.',
      'Charge put in is therefore never taken as capacity.',
    ],
    figures: [
      [
        '2.90 Ah in, 2.85 Ah out of a lithium cell',
        () => shown(100 * (chargeEfficiency([cycle], 'li-ion')?.share ?? NaN), '%'),
      ],
    ],
    sources: [commonPractice()],
    see: ['capacity', 'partial-capacity'],
  },
  {
    key: 'incremental-capacity',
    topic: 'Capacity',
    title: 'Incremental capacity',
    text: [
      'The charge per volt over the voltage shows peaks where the open-circuit curve is flat. Peaks that move, ' +
        'shrink or vanish from run to run show how a cell ages. Compare slow discharges at the same rate only.',
    ],
    formulas: [
      {
        tex: String.raw`\frac{dQ}{dU} \approx \frac{\Delta Q}{\Delta U}`,
        where: [
          [String.raw`\Delta U`, 'width of a bin', 'V'],
          [String.raw`\Delta Q`, 'charge while the voltage crossed the bin', 'Ah'],
        ],
      },
    ],
    figures: [
      [
        '0.1 Ah from 3.72 to 3.70 V',
        () =>
          shown(
            Math.abs(
              incrementalCapacity(
                [
                  { chargeAh: 1, voltageV: 3.72 },
                  { chargeAh: 1.1, voltageV: 3.7 },
                ],
                0.02,
                0,
              )[0]?.ahPerV ?? NaN,
            ),
            'Ah/V',
          ),
      ],
    ],
    sources: [commonPractice()],
    see: ['open-circuit-voltage', 'ageing'],
  },
  {
    key: 'cycling-nickel',
    topic: 'Capacity',
    title: 'Cycling nickel until the capacity settles',
    text: [
      'After a month of storage the first discharge of a nickel cell shows the storage, not the cell. Two or ' +
        'three full cycles settle it. Two capacities in a row within 3 % of each other are settled. Nickel-cadmium ' +
        'with memory may need five.',
      'Lithium and lead-acid gain nothing by cycling.',
    ],
    sources: [commonPractice(), fromMemory('3 %')],
    see: ['capacity', 'charger-settings'],
  },
  {
    key: 'open-circuit-voltage',
    topic: 'Capacity',
    title: 'State of charge from a rested voltage',
    text: [
      'A rested cell shows its state of charge by its voltage. The curve differs by chemistry and, for ' +
        'cylindrical cells, by make. Where the curve is flat a millivolt means much charge, and the state of ' +
        'charge is uncertain. Iron phosphate is flat nearly everywhere.',
      'Rest first: after a charge the voltage is too high for hours, after a discharge too low. A voltage under ' +
        'load, or while charging, shows no state of charge.',
    ],
    figures: [
      [
        'Pouch cell at 3.84 V',
        () => {
          const soc = openCircuitOf('lipo').socAt({ value: 3.84, u: 0.002 });
          return `${shown(100 * soc.value)} ± ${shown(200 * soc.u)} %`;
        },
      ],
      [
        'Iron phosphate cell at 3.30 V',
        () => {
          const soc = openCircuitOf('lfp').socAt({ value: 3.3, u: 0.002 });
          return `${shown(100 * soc.value)} ± ${shown(200 * soc.u)} %`;
        },
      ],
    ],
    drawing: 'open-circuit',
    sources: [fromMemory('the tables'), commonPractice()],
    rules: ['restAfterChargeH', 'restAfterDischargeH'],
    see: ['measured-curve', 'cell-make', 'partial-capacity', 'incremental-capacity'],
  },
  {
    key: 'measured-curve',
    topic: 'Capacity',
    title: 'A measured open-circuit curve',
    text: [
      'One slow discharge of a model, or one with rests in between, measures the open-circuit curve of that ' +
        'model. It replaces the table for all cells of the model, and every estimate that uses it becomes more ' +
        'certain.',
      'A measured curve ages: its uncertainty grows with the years since. Cells of one model differ by about 3 mV.',
    ],
    sources: [commonPractice(), fromMemory('3 mV, and 3 mV a year')],
    see: ['open-circuit-voltage', 'cell-make'],
  },
  {
    key: 'cell-make',
    topic: 'Capacity',
    title: 'Make of a cylindrical cell',
    text: [
      'Cylindrical cells have different positive electrodes: mixed oxide, cobalt or manganese. Their curves lie ' +
        'up to 130 mV apart, so a voltage alone gives an uncertain state of charge until the make is known.',
      'The mean voltage of a discharge from full chooses between them. So does the letter after the first I of a ' +
        'designation: C, N or M. Letters are wrong once in ten.',
    ],
    sources: [published('IEC 61960-3:2017, 5.2 (from memory)', 'letters'), fromMemory('how common each make is')],
    see: ['open-circuit-voltage', 'measured-curve'],
  },
];

export const selfDischarge: readonly HandbookEntry[] = [
  {
    key: 'self-discharge',
    topic: 'Self-discharge',
    title: 'Self-discharge test',
    text: [
      'Charge the cells, let them settle for a day, measure, and measure again after one to four weeks with the ' +
        'same meter at the same temperature. A healthy lithium cell hardly moves. A cell that drops faster than ' +
        'the others has an internal leak. Never join such a cell in parallel.',
      'A drop within the limit by its uncertainty holds. A drop beyond it leaks. Between the two the answer is ' +
        '“cannot tell yet”, with the number of days that would decide. If a whole batch drops alike, the cells are ' +
        'still settling, or the meter drifts.',
      'The limit is a charge: on a flat part of the curve it is only a few tenths of a millivolt, too little to ' +
        'measure. Test such cells full. Nickel and lead-acid lose charge by themselves: they are only compared ' +
        'with each other.',
    ],
    drawing: 'self-discharge',
    sources: [commonPractice(), fromMemory('the millivolts of a week')],
    rules: ['holdDriftV', 'oddBeyond'],
    see: ['self-discharge-current', 'settling', 'outliers', 'joining'],
  },
  {
    key: 'self-discharge-current',
    topic: 'Self-discharge',
    title: 'Self-discharge current',
    text: [
      'The drop in voltage per day, times the charge that lies at that voltage, is the current that a cell loses ' +
        'inside. It allows a comparison of cells of different size and at different charge. It also predicts how ' +
        'far the groups of a pack drift apart.',
    ],
    formulas: [
      {
        tex: String.raw`I_\text{leak} = -\frac{dU}{dt} \cdot \frac{dQ}{dU}`,
        where: [
          ['dU/dt', 'drop of the rested voltage', 'V/s'],
          ['dQ/dU', 'charge per volt at that voltage', 'A·s/V'],
        ],
      },
    ],
    figures: [
      [
        '2.4 Ah cell at 3.9 V that falls by 1 mV a day',
        () => {
          const leak = currentOf({
            chemistry: 'li-ion',
            drift: { value: -0.001, u: 0.0001 },
            voltageV: 3.9,
            capacityAh: exact(2.4),
            curve: openCircuitOf('li-ion'),
          });
          return leak ? shownWithU({ value: leak.value * 1e6, u: leak.u * 1e6 }, 'µA') : '';
        },
      ],
    ],
    sources: [commonPractice()],
    see: ['self-discharge', 'group-drift'],
  },
  {
    key: 'settling',
    topic: 'Self-discharge',
    title: 'Storage and rest before a test',
    text: [
      'A lithium cell settles for about a day after a charge. The voltage falls with the logarithm of the time, ' +
        'by some 15 mV from the first minute to the first day. A first reading taken earlier carries that ' +
        'uncertainty.',
      'Store the cells in one place at one temperature. A change of 10 K moves the voltage by about a millivolt.',
    ],
    sources: [ownRule('the settling term'), fromMemory('the change with temperature')],
    see: ['self-discharge'],
  },
];
