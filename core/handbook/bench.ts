import { lampFor } from '../planning/runDown';
import { commonPractice, fromMemory, type HandbookEntry, ownRule, published, shown } from './entry';

export const bench: readonly HandbookEntry[] = [
  {
    key: 'charger-settings',
    topic: 'Bench, use and storage',
    title: 'Charger settings',
    text: [
      'Mode and end voltage follow from the chemistry, the number of cells from the groups, and the current from ' +
        'the lowest of: the house’s rate times the capacity, the label, the charger’s amperes and watts, and the ' +
        'connector. The current is rounded down to the charger’s step.',
      'The timer is set to 1.35 times the expected time, the charge limit a fifth above the expected charge. A ' +
        'charge that runs beyond them has a fault. Take a pack off at 49 °C.',
      'The charge is forecast by simulating the groups with that charger. Nearly empty lithium starts gently. ' +
        'Nickel takes more charge than it gives. Primary cells are never charged.',
    ],
    formulas: [
      {
        tex: String.raw`I = \min\left(c\,Q,\; I_\text{label},\; I_\text{max},\;
          \frac{P_\text{max}}{n\,U_\text{end}}\right)`,
        where: [
          ['c', 'rate of the house', '1/h'],
          ['Q', 'capacity', 'Ah'],
          [String.raw`P_\text{max}`, 'power of the charger', 'W'],
          ['n', 'groups in series'],
          [String.raw`U_\text{end}`, 'end voltage of a cell', 'V'],
        ],
      },
    ],
    sources: [commonPractice(), fromMemory('the limits of charge that goes in')],
    rules: [
      'chargePouchC',
      'chargeCylindricalC',
      'chargeNickelC',
      'chargeLeadC',
      'gentleChargeC',
      'gentleUntilV',
      'quickNickelC',
      'balanceAlways',
    ],
    see: ['pack-type', 'balancing', 'rescue'],
  },
  {
    key: 'bench-plan',
    topic: 'Bench, use and storage',
    title: 'Bench plan',
    text: [
      'Jobs are placed on chargers, loads and meters in order of urgency, each as early as a suitable device is ' +
        'free. Work that needs a person is planned in attended hours, and so is a whole rescue.',
      'The plan shows an end time and a bound: no plan can end earlier than the bound. Replan at any time. Jobs ' +
        'that run stay where they are.',
    ],
    sources: [published('R. L. Graham, SIAM J. Appl. Math. 17 (1969) 416', 'list scheduling'), ownRule('urgency')],
    see: ['charger-settings', 'storage'],
  },
  {
    key: 'service-time',
    topic: 'Bench, use and storage',
    title: 'How long a pack serves',
    text: [
      'The weakest group decides. The time ends when the house’s reserve is left in that group, or when its ' +
        'voltage under load reaches the alarm level, whichever comes first.',
      'Without a measured resistance the alarm cannot be forecast. A current above the label, or one that sags ' +
        'the group below the alarm at once, is refused.',
    ],
    formulas: [
      {
        tex: String.raw`t = \frac{(s - r)\,Q}{I}`,
        where: [
          ['s', 'state of charge of the weakest group'],
          ['r', 'reserve'],
          ['Q', 'capacity of that group', 'Ah'],
          ['I', 'mean current', 'A'],
        ],
      },
    ],
    sources: [commonPractice(), fromMemory('the resistance over minutes: 1.3 times the ten-second value')],
    rules: ['reserveShare', 'alarmPouchV', 'alarmCylindricalV', 'leadReserve'],
    see: ['fit-for-use', 'cold', 'capacity-and-rate'],
  },
  {
    key: 'fit-for-use',
    topic: 'Bench, use and storage',
    title: 'When a pack must not be used',
    text: [
      'A pack stays on the shelf if it is scrap or being retired, needs a rescue, has a leaking or failing ' +
        'group, came back with a group far below the others, or ran below its lowest voltage. A round at rest that ' +
        'explains the low group releases it again.',
    ],
    sources: [commonPractice()],
    rules: ['spreadOutV', 'spreadAttentionV', 'groupResistanceFailing'],
    see: ['imbalance', 'service-time', 'end-of-life'],
  },
  {
    key: 'storage',
    topic: 'Bench, use and storage',
    title: 'Storage',
    text: [
      'A lithium pack left full swells and ages. A pack left empty dies by self-discharge. Store 4.2 V lithium ' +
        'half full, cool and dry, and look at it once a month. Lead-acid is stored full and charged again before ' +
        'it falls below 90 %. Nickel is stored nearly full.',
      'Bring a full pack down within the house’s hours. If the groups are uneven, balance first: storage at one ' +
        'voltage hides the difference.',
    ],
    sources: [commonPractice(), fromMemory('the limits in charge')],
    rules: ['storageLithiumV', 'storeWithinH', 'lookEveryD', 'calibrateEveryD', 'resistanceEvery'],
    see: ['balancing', 'self-discharge', 'bench-plan'],
  },
  {
    key: 'retire',
    topic: 'Bench, use and storage',
    title: 'Retiring a pack and running it flat',
    text: [
      'A pack that is not used again is discharged before recycling: an intact small pack with a lamp, outdoors, ' +
        'on a surface that does not burn. A filament lamp draws less as the voltage falls. Wait until the voltage ' +
        'stays near zero a day after the lamp is removed, then tape the terminals.',
      'Do not discharge damaged, swollen or hot packs. Put them outdoors in a container that does not burn and ' +
        'ask the recycling point. Local rules decide how batteries are handed in.',
    ],
    formulas: [
      {
        tex: String.raw`I = \frac{P_r}{U_r} \left(\frac{U}{U_r}\right)^{0.55}`,
        where: [
          ['P_r, U_r', 'rating of the lamp', 'W, V'],
          ['U', 'voltage', 'V'],
        ],
      },
    ],
    figures: [
      [
        'Three pouch groups of 4 Ah, full: lamp and longest time',
        () => {
          const lamp = lampFor('lipo', 3, 4, null);
          return `${lamp.ratedV} V ${lamp.ratedW} W, ${shown(lamp.mostHours)} h`;
        },
      ],
    ],
    sources: [commonPractice(), fromMemory('the exponent')],
    see: ['end-of-life'],
  },
];
