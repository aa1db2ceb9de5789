import { commonPractice, fromMemory, type HandbookEntry, ownRule, published } from './entry';

export const packs: readonly HandbookEntry[] = [
  {
    key: 'imbalance',
    topic: 'Packs',
    title: 'Imbalance of a pack',
    text: [
      'Imbalance is the highest minus the lowest group voltage at rest. The board stops the charge at the first full ' +
        'group and the discharge at the first empty group, so every millivolt of imbalance costs run time.',
      'A level counts only if the uncertainty of the reading is below its limit. Otherwise the level is unclear: ' +
        'read the groups with a meter that shows more digits.',
      'Under load, imbalance shows resistance rather than charge. Just after use, wait before you judge.',
    ],
    drawing: 'imbalance',
    sources: [commonPractice()],
    rules: ['spreadExcellentV', 'spreadGoodV', 'spreadAttentionV', 'spreadOutV'],
    see: ['diagnosis', 'balancing', 'sum-and-terminals'],
  },
  {
    key: 'sum-and-terminals',
    topic: 'Packs',
    title: 'Sum of the groups and voltage at the terminals',
    text: [
      'The group voltages add up to the voltage at the terminals. If not, a lead, a pin or a meter is wrong. ' +
        'Check that before you believe any single group. Terminals far below the sum mean that the protection ' +
        'board is off.',
      'The same holds for resistance: the whole is the sum of the groups plus leads and joints, within about a tenth.',
    ],
    formulas: [{ tex: String.raw`U = \sum_g U_g`, where: [['U_g', 'voltage of group g', 'V']] }],
    sources: [published('Kirchhoff’s voltage law'), fromMemory('a tenth')],
    rules: ['sumToleranceV'],
    see: ['imbalance', 'protection-board'],
  },
  {
    key: 'group-resistance',
    topic: 'Packs',
    title: 'Resistance of the groups',
    text: [
      'Groups that were alike when new should stay alike. Each group is compared with the median of its pack, ' +
        'with its own first value by the same method, and with its value when new. A rising resistance is the ' +
        'surest sign of age.',
      'A group far above the median is failing. It gets hotter than its neighbours and reaches the cut-off first.',
    ],
    sources: [commonPractice()],
    rules: ['groupResistanceWatch', 'groupResistanceFailing', 'resistanceRisen'],
    see: ['pack-duty', 'end-of-life'],
  },
  {
    key: 'diagnosis',
    topic: 'Packs',
    title: 'Diagnosis of a pack',
    text: [
      'Each possible fault predicts how the group voltages look at rest, under load, at the end of a charge and ' +
        'later. The readings weigh the faults by Bayes’ rule. Several faults can be present at once. A state, such ' +
        'as over-discharged, does not take weight from its cause.',
      'Charge-shifted: the group holds less or more charge than the others but is healthy, and balancing is ' +
        'enough. Low capacity: low at the end of a discharge, high at the end of a charge. High resistance: low ' +
        'under load only. Self-discharge: falls further at each rest. Sense wire: one group reads high and its ' +
        'neighbour low by the same amount. Meter channel: the group is wrong with one instrument only.',
      'Before any reading, the reason for the visit sets the chance that the pack is sound: 60 % for a routine ' +
        'visit, less after a complaint. Past visits of your workshop move that chance. A round that looks ' +
        'mislabelled is questioned before a group is accused.',
    ],
    formulas: [
      {
        tex: String.raw`P(f \mid r) = \frac{P(r \mid f)\,P(f)}{\sum_{f'} P(r \mid f')\,P(f')}`,
        where: [
          ['f', 'fault'],
          ['r', 'readings'],
          ['P(f)', 'chance before the readings'],
        ],
      },
    ],
    sources: [published('Bayes’ rule'), fromMemory('the chances before any reading')],
    see: ['next-reading', 'balancing', 'spares', 'imbalance', 'self-discharge'],
  },
  {
    key: 'next-reading',
    topic: 'Packs',
    title: 'The reading that helps most',
    text: [
      'Of all readings you could take next, the suggested one gives the most information for each minute of work. ' +
        'Information is the expected fall of the uncertainty about the faults, measured in bits.',
      'Work that you have to do anyway, such as waiting, counts little.',
    ],
    formulas: [
      {
        tex: String.raw`H = -\sum_f P(f)\,\log_2 P(f)`,
        where: [
          ['H', 'uncertainty about the faults', 'bit'],
          ['P(f)', 'probability of fault f'],
        ],
      },
    ],
    sources: [
      published('C. E. Shannon, Bell System Technical Journal 27 (1948) 379'),
      ownRule('the minutes of each reading'),
    ],
    see: ['diagnosis'],
  },
  {
    key: 'balancing',
    topic: 'Packs',
    title: 'Ways to balance a pack',
    text: [
      'A balancing charger drains the high groups near full. You can also charge the low group by itself, drain ' +
        'the high group with a resistor, or combine both. Each way is simulated: hours, charge moved, highest ' +
        'voltage of any group, attended time and energy lost.',
      'Balancing does not mend a weak or leaking group: the imbalance returns. The thin leads of a balance connector ' +
        'carry 1 A at most. Clips on a single group: check the polarity twice and stay with the pack.',
    ],
    sources: [commonPractice(), ownRule('the comparison')],
    rules: ['balanceAlways', 'spreadGoodV'],
    see: ['diagnosis', 'group-drift', 'charger-settings'],
  },
  {
    key: 'protection-board',
    topic: 'Packs',
    title: 'Protection board',
    text: [
      'The board of a pack switches the terminals off below the lowest group voltage, above the highest, and at ' +
        'too much current. Terminals near 0 V with healthy groups are a board that switched off. A short charge ' +
        'usually switches it on again.',
      'Never charge around a board to force a pack on. If a group is below its lowest voltage, the board is right.',
    ],
    sources: [commonPractice()],
    see: ['sum-and-terminals', 'rescue'],
  },
  {
    key: 'end-of-life',
    topic: 'Packs',
    title: 'End of life',
    text: [
      'Some signs end the service of a pack: swelling, a leaking group, health below the last duty. Others count ' +
        'as heavy: resistance twice its first value, imbalance that always returns, a run of seven minutes that ' +
        'used to be ten. Three heavy signs end the service. One or two call for lighter work.',
      'If one group causes the signs and can be replaced, the repair comes first and the pack is judged again.',
    ],
    sources: [commonPractice(), ownRule('the weights')],
    rules: ['steadyHealth', 'lightHealth', 'resistanceRisen', 'spreadGoodV'],
    see: ['ageing', 'group-resistance', 'retire'],
  },
];
