import { openCircuitOf } from '../chemistry/openCircuit';
import { rateAtSag } from '../grading/duty';
import { inParallel } from '../matching/groupFigures';
import { joiningOf } from '../matching/joining';
import { cellsIn, sizeOf } from '../matching/room';
import { exact } from '../quantity/quantity';
import { cycleDrift } from '../simulation/cycleDrift';
import { commonPractice, fromMemory, type HandbookEntry, ownRule, published, shown, shownWithU } from './entry';

export const grading: readonly HandbookEntry[] = [
  {
    key: 'duties',
    topic: 'Grading and building',
    title: 'Duties: Surge, Steady, Light, Retire',
    text: [
      'A duty is the hardest work a cell can do. Two figures decide: health, which is the capacity as a fraction ' +
        'of the capacity when new, and the rate at which the voltage sags by the house’s limit. Both must clear ' +
        'the limits of the duty beyond their uncertainty.',
      'A cell that leaks, is unsafe or was rescued twice is retired whatever it holds. A cell rescued once does ' +
        'a lighter duty, after a self-discharge test. Without a capacity or a resistance there is no duty: the ' +
        'screen names what is missing.',
      'Health is relative to the capacity noted when new, or to the label if nothing was noted. A label is often ' +
        'optimistic.',
    ],
    sources: [commonPractice(), ownRule('the names and the rates of the duties')],
    rules: [
      'surgeHealth',
      'surgeCRate',
      'steadyHealth',
      'steadyCRate',
      'lightHealth',
      'lightCRate',
      'sagShare',
      'guardBand',
    ],
    see: ['rate-at-sag', 'guard-band', 'pack-duty'],
  },
  {
    key: 'rate-at-sag',
    topic: 'Grading and building',
    title: 'Rate at a given sag',
    text: [
      'The current at which a cell loses a set fraction of its nominal voltage, as a C-rate. It makes cells of ' +
        'different size comparable: a high rate means a cell that can drive heavy loads.',
    ],
    formulas: [
      {
        tex: String.raw`c = \frac{s\,U_\text{nom}}{R\,Q}`,
        where: [
          ['s', 'sag as a fraction of the nominal voltage'],
          [String.raw`U_\text{nom}`, 'nominal voltage', 'V'],
          ['R', 'ten-second resistance', 'Ω'],
          ['Q', 'capacity', 'Ah'],
        ],
      },
    ],
    figures: [
      [
        '3.6 V, 10 %, 40 mΩ, 2.4 Ah',
        () => shownWithU(rateAtSag(3.6, 0.1, { value: 0.04, u: 0.001 }, { value: 2.4, u: 0.02 }), 'C'),
      ],
    ],
    sources: [commonPractice()],
    rules: ['sagShare'],
    see: ['duties', 'sag-and-heat'],
  },
  {
    key: 'pack-duty',
    topic: 'Grading and building',
    title: 'Duty of a pack',
    text: [
      'The weakest group decides. In series every group carries the same current, so the pack is empty when the ' +
        'first group is empty, and sags most where the resistance is highest.',
      'If only the whole pack was measured, the resistance of the weakest group is estimated from the whole, ' +
        'with a wide uncertainty. A group whose resistance is far above the median of the pack is failing and ends ' +
        'the service of the pack until it is repaired.',
    ],
    sources: [
      commonPractice(),
      published('N. Balakrishnan and A. C. Cohen, Order Statistics (1991)', 'the largest of n'),
    ],
    rules: ['groupResistanceFailing', 'groupResistanceWatch'],
    see: ['duties', 'group-resistance'],
  },
  {
    key: 'matching',
    topic: 'Grading and building',
    title: 'Matching cells into groups',
    text: [
      'In series the weakest group limits the pack: what the others hold beyond it is never used. Cells are ' +
        'arranged so that the weakest group holds as much as possible. Among equally good arrangements, ' +
        'resistances within a group are made alike.',
      'Bonded cells stay together, outliers and leaking cells are left out, and pinned cells stay where you put ' +
        'them. For few cells the search proves that nothing better exists. For many, the screen shows how far the ' +
        'result can be from the best.',
    ],
    formulas: [
      {
        tex: String.raw`\max \; \min_{g} \sum_{c \in g} Q_c`,
        where: [
          ['g', 'groups in series'],
          ['Q_c', 'capacity of cell c', 'Ah'],
        ],
      },
    ],
    sources: [commonPractice(), ownRule('the search'), published('R. E. Korf, IJCAI (2011)', 'partition search')],
    rules: ['groupsApartShare', 'sharingTimes', 'modelsInPack'],
    see: ['parallel-cells', 'joining', 'build-prediction', 'pack-size'],
  },
  {
    key: 'parallel-cells',
    topic: 'Grading and building',
    title: 'Cells in parallel',
    text: [
      'Capacities add. Conductances add: the resistance of a group is lower than that of its best cell. The current ' +
        'divides in proportion to the conductances, so a cell with half the resistance carries twice the current and ' +
        'warms more.',
    ],
    formulas: [
      {
        tex: String.raw`Q = \sum_c Q_c \qquad \frac{1}{R} = \sum_c \frac{1}{R_c} \qquad I_c = I\,\frac{R}{R_c}`,
        where: [
          ['Q_c, R_c', 'capacity and resistance of cell c', 'Ah, Ω'],
          ['I_c', 'current through cell c', 'A'],
        ],
      },
    ],
    figures: [['40, 40 and 60 mΩ in parallel', () => shown(inParallel([40, 40, 60].map(exact)).value, 'mΩ')]],
    drawing: 'parallel',
    sources: [published('Kirchhoff’s laws')],
    rules: ['sharingTimes'],
    see: ['matching', 'joining'],
  },
  {
    key: 'joining',
    topic: 'Grading and building',
    title: 'Joining cells in parallel',
    text: [
      'Two cells with different voltages exchange a large current when you join them. Bring them to the same voltage ' +
        'first: charge the lower or drain the higher cell. Measure each cell again just before you join them.',
      'You can also join a cell through a resistor and wait. The current then falls as the voltages approach. ' +
        'Remove the resistor when the rest is below the house rule.',
    ],
    formulas: [
      {
        tex: String.raw`I_0 = \frac{\Delta U}{R_1 + R_2} \qquad t = R\,C\,\ln\frac{\Delta U}{\Delta U_\text{end}}`,
        where: [
          [String.raw`\Delta U`, 'difference of the rested voltages', 'V'],
          ['R_1, R_2', 'resistances of the two sides', 'Ω'],
          ['C', 'charge per volt of both sides', 'A·s/V'],
        ],
      },
    ],
    figures: [
      [
        'Cell at 3.82 V to two at 3.70 V, 40 mΩ each: first current',
        () =>
          shown(
            joiningOf(
              [3.7, 3.7, 3.82].map((voltageV, i) => ({
                id: String(i),
                voltageV,
                capacityAh: 2.4,
                resistanceOhm: 0.04,
              })),
              openCircuitOf('li-ion'),
              0.02,
            ).toBring[0]?.surgeA ?? NaN,
            'A',
          ),
      ],
    ],
    sources: [published('Ohm’s law'), ownRule('a tenth of the capacity through the resistor')],
    rules: ['joinWithinV'],
    see: ['parallel-cells', 'self-discharge'],
  },
  {
    key: 'build-prediction',
    topic: 'Grading and building',
    title: 'What a build will do',
    text: [
      'A planned pack is simulated second by second: each cell with its capacity, resistance and open-circuit curve, ' +
        'current shared within each group. The run ends when the first group reaches its cut-off.',
      'The run time carries the uncertainty of every measured cell, of the curve and of the slow part of the ' +
        'resistance. The simulation was compared with a circuit simulator and agrees.',
    ],
    formulas: [
      {
        tex: String.raw`U = U_0(s) - I R_0 - \sum_i U_i \qquad \dot{U_i} = \frac{I}{C_i} - \frac{U_i}{R_i C_i}`,
        where: [
          ['U_0(s)', 'open-circuit voltage at charge s', 'V'],
          ['R_0', 'ohmic resistance', 'Ω'],
          ['U_i', 'voltage across a slow branch', 'V'],
        ],
      },
    ],
    sources: [
      published('Chen and Rincón-Mora, IEEE Trans. Energy Conversion 21 (2006) 504', 'the cell model'),
      fromMemory('the slow part of the resistance'),
    ],
    see: ['matching', 'build-promise', 'group-drift'],
  },
  {
    key: 'build-promise',
    topic: 'Grading and building',
    title: 'First measurement of a new pack',
    text: [
      'The first resistance of each group is compared with the value expected from its cells. The usual ratio of ' +
        'the pack is taken out, so the method does not matter. A group that stands out has a poor joint or a ' +
        'damaged cell.',
      'Check the welds of that group before you use the pack.',
    ],
    sources: [commonPractice()],
    rules: ['groupResistanceWatch'],
    see: ['build-prediction', 'group-resistance'],
  },
  {
    key: 'group-drift',
    topic: 'Grading and building',
    title: 'How fast groups drift apart',
    text: [
      'Groups drift apart because their cells self-discharge at different rates. The difference of the leak ' +
        'currents, times the time between charges, is the charge that balancing must move at each charge.',
    ],
    formulas: [
      {
        tex: String.raw`\Delta Q = (I_\text{leak} - \bar{I}_\text{leak})\, t`,
        where: [
          [String.raw`I_\text{leak}`, 'leak current of the group', 'A'],
          ['t', 'time since the last balance', 's'],
        ],
      },
    ],
    figures: [
      [
        '5 Ah groups that leak 100 and 300 µA, 100 weeks: the second group',
        () => {
          const drift = cycleDrift({
            groups: [0.0001, 0.0003].map((a) => [{ capacityAh: 5, leak: { currentA: exact(a), ownU: 0 } }]),
            cycles: 100,
            daysPerCycle: 7,
          });
          return `${shown(100 * (drift?.byGroup[1]?.value ?? NaN))} % of its charge`;
        },
      ],
    ],
    sources: [published('JCGM 100:2008 (GUM), 5.2.2', 'correlated inputs'), commonPractice()],
    see: ['self-discharge-current', 'balancing'],
  },
  {
    key: 'pack-size',
    topic: 'Grading and building',
    title: 'Cells that fit into a box',
    text: [
      'Round cells lie in rows or set off by half a cell, upright along any side of the box. Sleeves, tabs and ' +
        'insulation take room. Leave room for the protection board and the wires as well.',
    ],
    figures: [
      [
        '18650 cells in 90 × 110 × 75 mm',
        () => {
          const size = sizeOf('18650');
          return size ? `${cellsIn([90, 110, 75], size)} cells` : '';
        },
      ],
    ],
    sources: [published('IEC 60086-2 (from memory)', 'sizes'), ownRule('0.6 mm around a cell, 2 mm at both ends')],
    see: ['matching'],
  },
  {
    key: 'spares',
    topic: 'Grading and building',
    title: 'Spares for a repair',
    text: [
      'A replacement group should hold as much as the weakest good group and have a similar resistance. A ' +
        'stronger group gains nothing, a weaker one limits the pack. All cells of the group are replaced if one of ' +
        'them leaks.',
      'Bring the new group to the voltage of its neighbours before you join it.',
    ],
    sources: [commonPractice(), ownRule('the ranking')],
    rules: ['sharingTimes'],
    see: ['joining', 'diagnosis'],
  },
];
