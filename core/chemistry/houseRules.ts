import { type Chemistry, chemistries } from './chemistries';

export const presetKeys = ['careful', 'workshop', 'thrifty'] as const;
export type Preset = (typeof presetKeys)[number];

/** A limit of the house: title, reason and the value of each preset. SI units. */
interface Rule {
  title: string;
  unit: 'V' | 'd' | 'h' | 'min' | 'K' | 'C' | 'Wh/kg' | 'share' | 'count' | 'k' | '×MAD' | '×';
  reason: string;
  least: number;
  most: number;
  presets: Record<Preset, number>;
}

const rule = (
  title: string,
  unit: Rule['unit'],
  reason: string,
  range: [number, number],
  presets: [number, number, number],
): Rule => ({
  title,
  unit,
  reason,
  least: range[0],
  most: range[1],
  presets: { careful: presets[0], workshop: presets[1], thrifty: presets[2] },
});

/** Every limit that a verdict may cite. Presets in the order careful, workshop, thrifty. */
export const ruleBook = {
  rescuesAllowed: rule(
    'Rescues of a lithium cell below its lowest voltage',
    'count',
    'Some never charge such a cell again. Others rescue it once or twice, attended, and treat it as temporary.',
    [0, 2],
    [0, 1, 2],
  ),
  rescueFloorV: rule(
    'Lithium: rescue only above',
    'V',
    'Below this, copper may have dissolved and the cell can short-circuit later (from memory).',
    [1, 2.5],
    [2, 1.5, 1.5],
  ),
  rescueRateC: rule(
    'Rescue: maximum current',
    'C',
    '0.1C is gentle on a cell that was left empty. Some use 0.25C.',
    [0.02, 0.25],
    [0.05, 0.1, 0.25],
  ),
  rescueReadMin: rule(
    'Rescue: measure every group every',
    'min',
    'Below the floor the charger does not see the groups. Only a meter shows a group that falls behind.',
    [1, 15],
    [3, 5, 10],
  ),
  rescueApartV: rule(
    'Rescue: stop when a group falls behind or runs ahead by',
    'V',
    'Relative to the first reading. Such a group is damaged, and the charge turns into heat (from memory).',
    [0.05, 0.5],
    [0.15, 0.2, 0.3],
  ),
  rescueWarmerK: rule(
    'Rescue: stop at a temperature rise of',
    'K',
    'A sound cell does not get warm at such a small current.',
    [3, 15],
    [5, 6, 10],
  ),
  rescueLimitH: rule(
    'Rescue: time limit',
    'h',
    'A cell that has not recovered by then self-discharges or has lost its capacity (from memory).',
    [0.5, 10],
    [1.5, 3, 5],
  ),
  lowestCylindricalV: rule(
    'Lowest voltage, cylindrical lithium',
    'V',
    'Data sheets allow 2.5 V. Many stop at 2.8 or 3.0 V for a margin.',
    [2.5, 3.3],
    [3.0, 2.8, 2.5],
  ),
  lowestPouchV: rule(
    'Lowest voltage, pouch lithium',
    'V',
    'A slow test may go to 3.0 V. A margin of 0.2 V protects weak groups.',
    [3.0, 3.7],
    [3.2, 3.0, 3.0],
  ),
  lowestIronPhosphateV: rule(
    'Lowest voltage, iron phosphate',
    'V',
    'Most stop at 2.5 V, some at 2.0 V.',
    [2.0, 3.0],
    [2.5, 2.5, 2.0],
  ),
  storageLithiumV: rule(
    'Storage of 4.20 V lithium',
    'V',
    'Pack users store at 3.80 to 3.85 V. Cell makers use about 3.6 V for long storage.',
    [3.5, 3.9],
    [3.8, 3.8, 3.6],
  ),
  weightTolerance: rule(
    'Weight: tolerance against the model',
    'share',
    'Within one size and chemistry, weight follows capacity. A fake is far too light.',
    [0.01, 0.3],
    [0.05, 0.08, 0.1],
  ),
  bestSpecificEnergyWhPerKg: rule(
    'Specific energy of the best lithium cells',
    'Wh/kg',
    'The best cylindrical and pouch cells reach about 300 Wh/kg today (from memory). A label slightly above that is ' +
      'suspect; a label 25 % above is a fake.',
    [200, 500],
    [300, 300, 300],
  ),
  sagShare: rule(
    'Voltage sag at which currents are compared',
    'share',
    'The duty follows from the current at which a cell sags by this percentage of its nominal voltage.',
    [0.02, 0.2],
    [0.05, 0.05, 0.05],
  ),
  surgeHealth: rule(
    'Surge needs health of',
    'share',
    'Below 80 %, a cell is no longer used for demanding loads.',
    [0.5, 1],
    [0.85, 0.8, 0.75],
  ),
  surgeCRate: rule('Surge needs a rate at that sag of', 'C', 'Demanding loads draw several C.', [1, 20], [4, 3, 2.5]),
  steadyHealth: rule(
    'Steady needs health of',
    'share',
    'Below 70 %, a cell is no longer used for ordinary loads.',
    [0.4, 1],
    [0.75, 0.7, 0.65],
  ),
  steadyCRate: rule(
    'Steady needs a rate at that sag of',
    'C',
    'Ordinary loads draw up to 1C.',
    [0.3, 10],
    [1.2, 1, 0.8],
  ),
  lightHealth: rule(
    'Light needs health of',
    'share',
    'Half the capacity is enough for a sensor or a light.',
    [0.2, 1],
    [0.6, 0.5, 0.4],
  ),
  lightCRate: rule(
    'Light needs a rate at that sag of',
    'C',
    'Small loads draw up to 0.2C.',
    [0.02, 5],
    [0.25, 0.2, 0.15],
  ),
  guardBand: rule(
    'Guard band at a limit',
    'k',
    'A value must be this many standard uncertainties better than the limit. Otherwise the lower class applies.',
    [0, 3],
    [2, 1.64, 1],
  ),
  oddBeyond: rule(
    'Odd one out: limit',
    '×MAD',
    'The odd one out hardly affects the median and the median absolute deviation. Divided by 0.6745 that deviation ' +
      'equals a standard deviation.',
    [2, 6],
    [3, 3.5, 4],
  ),
  spreadExcellentV: rule(
    'Imbalance: excellent up to',
    'V',
    'A pack cannot be balanced much better than this.',
    [0.002, 0.03],
    [0.01, 0.01, 0.015],
  ),
  spreadGoodV: rule(
    'Imbalance: good, no balancing, up to',
    'V',
    'Below this, balancing gains nothing.',
    [0.01, 0.08],
    [0.02, 0.03, 0.04],
  ),
  spreadAttentionV: rule(
    'Imbalance: needs attention from',
    'V',
    '0.1 V takes long to balance and shortens the run time.',
    [0.05, 0.3],
    [0.08, 0.1, 0.12],
  ),
  spreadOutV: rule(
    'Imbalance: out of service from',
    'V',
    'The board stops the charge at the first full group and the discharge at the first empty one.',
    [0.1, 0.6],
    [0.15, 0.2, 0.25],
  ),
  sumToleranceV: rule(
    'Sum of groups against terminals: tolerance per group',
    'V',
    'The groups add up to the terminal voltage. If not, a meter, a pin or a lead is faulty.',
    [0.002, 0.05],
    [0.005, 0.01, 0.01],
  ),
  groupResistanceWatch: rule(
    'Group resistance: a warning from',
    '×',
    'Relative to the median of the pack. Groups that were alike when new are ageing at different rates.',
    [1.05, 1.7],
    [1.12, 1.15, 1.2],
  ),
  groupResistanceFailing: rule(
    'Group resistance: failing from',
    '×',
    'Relative to the median of the pack. Such a group sags more and gets warmer than the others at every use.',
    [1.3, 4],
    [1.5, 1.75, 2],
  ),
  resistanceRisen: rule(
    'Rise of resistance: a warning from',
    '×',
    'Relative to its own earlier value by the same method. This is the best sign of ageing.',
    [1.05, 3],
    [1.2, 1.3, 1.5],
  ),
  holdDriftV: rule(
    'Self-discharge test: lithium may fall in a week by',
    'V',
    'A healthy cell falls a few millivolts a week (from memory). A cell that falls faster has an internal leak. ' +
      'Never join it in parallel with others.',
    [0.001, 0.03],
    [0.003, 0.005, 0.008],
  ),
  joinWithinV: rule(
    'Joining cells in parallel: largest difference',
    'V',
    'Above this, a large current flows at the moment of joining.',
    [0.005, 0.05],
    [0.01, 0.015, 0.02],
  ),
  sharingTimes: rule(
    'Resistances within a group: largest divided by smallest, up to',
    '×',
    'Cells in parallel share the current by resistance. The best cell carries the most and ages faster.',
    [1.05, 4],
    [1.3, 1.5, 2],
  ),
  groupsApartShare: rule(
    'Capacities of the groups of a build: largest difference',
    'share',
    'In series the weakest group limits the pack. The extra capacity of the others is not used.',
    [0.002, 0.3],
    [0.02, 0.03, 0.05],
  ),
  modelsInPack: rule(
    'Models in one pack: at most',
    'count',
    'All cells of a group are of one model. Some build a pack from one model only; others allow a group of ' +
      'another model.',
    [1, 6],
    [1, 1, 2],
  ),
  restAfterDischargeH: rule(
    'Rest after a discharge',
    'h',
    'The voltage settles in 20 to 30 minutes.',
    [0.1, 48],
    [0.5, 0.5, 0.35],
  ),
  restAfterChargeH: rule(
    'Rest after a charge',
    'h',
    'Compare resistances after an hour of rest.',
    [0.1, 48],
    [1, 1, 0.5],
  ),
  chargePouchC: rule(
    'Charge: pouch lithium at',
    'C',
    '1C, unless the label allows more. A lower current is always gentler.',
    [0.05, 2],
    [0.6, 1, 1],
  ),
  chargeCylindricalC: rule(
    'Charge: cylindrical lithium and iron phosphate at',
    'C',
    '0.5C is gentle; most makers allow 1C at most.',
    [0.05, 1],
    [0.3, 0.5, 1],
  ),
  chargeNickelC: rule(
    'Charge: nickel at',
    'C',
    'Makers specify 0.1C for 16 hours. A quick charge uses 0.2C to 0.5C.',
    [0.05, 0.5],
    [0.1, 0.1, 0.3],
  ),
  chargeLeadC: rule(
    'Charge: lead-acid at',
    'C',
    '0.2C at most; a higher current makes gas.',
    [0.02, 0.2],
    [0.1, 0.2, 0.2],
  ),
  gentleChargeC: rule(
    'Charge of nearly empty lithium: start at',
    'C',
    'A pack just above its lowest voltage starts at about 0.25C.',
    [0.05, 0.5],
    [0.1, 0.25, 0.25],
  ),
  gentleUntilV: rule(
    'Charge of nearly empty lithium: gentle up to',
    'V',
    'From 3.6 to 3.7 V a cell, the usual current is safe. For iron phosphate: 3.1 V (from memory).',
    [3.3, 3.8],
    [3.7, 3.6, 3.6],
  ),
  quickNickelC: rule(
    'Quick charge of nickel: at most',
    'C',
    'A quick charge uses 0.2C to 0.5C. Watch the temperature.',
    [0.1, 1],
    [0.2, 0.5, 0.5],
  ),
  leadReserve: rule(
    'Lead-acid: keep at least',
    'share',
    'Each discharge below half shortens the life of lead-acid.',
    [0.2, 0.8],
    [0.5, 0.5, 0.4],
  ),
  testDischargeC: rule(
    'Capacity test: discharge at',
    'C',
    '0.5C or less; 0.2C for nickel and lead-acid.',
    [0.05, 1],
    [0.2, 0.5, 0.5],
  ),
  storeWithinH: rule(
    'Full lithium: to storage charge within',
    'h',
    'A pack left full swells. Some packs discharge themselves after 72 hours; careful users do it the same day.',
    [6, 168],
    [12, 24, 72],
  ),
  lookEveryD: rule(
    'Check stored cells and packs every',
    'd',
    'A pack left empty dies. Check once a month.',
    [7, 120],
    [14, 30, 60],
  ),
  resistanceEvery: rule(
    'Measure resistance again after',
    'count',
    'Cycles. A rising resistance is the best sign of ageing. Careful users note it at every charge.',
    [1, 200],
    [5, 20, 50],
  ),
  calibrateEveryD: rule(
    'Cross-check an instrument again after',
    'd',
    'Meters drift, and charger channels drift more. Check once a year.',
    [30, 1100],
    [180, 365, 730],
  ),
  alarmPouchV: rule(
    'Alarm voltage in use, pouch cell',
    'V',
    'Lowest group under load. At 3.6 V there is still time to stop. Some use 3.5 V, some 3.7 V.',
    [3.3, 3.8],
    [3.7, 3.6, 3.5],
  ),
  alarmCylindricalV: rule(
    'Alarm voltage in use, cylindrical cell',
    'V',
    'Lowest group under load. Makers allow less, but little charge is left between 3.0 and 3.3 V.',
    [2.8, 3.5],
    [3.3, 3.2, 3.0],
  ),
  reserveShare: rule('Left in a pack after use', 'share', 'Leave at least 20 %.', [0.05, 0.5], [0.3, 0.2, 0.15]),
  balanceAlways: rule(
    'Balance at every charge',
    'count',
    '1: balance every time. 0: only when the imbalance needs it.',
    [0, 1],
    [1, 0, 0],
  ),
} satisfies Record<string, Rule>;

export type RuleKey = keyof typeof ruleBook;
export const ruleKeys = Object.keys(ruleBook) as RuleKey[];

/** A limit as people read and type it: shares in per cent. */
export const ruleShown = (key: RuleKey, value: number): number =>
  ruleBook[key].unit === 'share' ? Number((100 * value).toPrecision(12)) : value;

/** The limits in force. Pure data: verdicts take them as an argument and cite them by key. */
export type HouseRules = Readonly<Record<RuleKey, number>>;

export const presetRules = (preset: Preset): HouseRules =>
  Object.fromEntries(ruleKeys.map((key) => [key, ruleBook[key].presets[preset]])) as HouseRules;

/**
 * Lowest voltage of one cell of that chemistry under these rules; never below the chemistry's own, save where a school
 * says so.
 */
export function lowestVoltageV(chemistry: Chemistry, rules: HouseRules): number {
  switch (chemistry) {
    case 'li-ion':
      return rules.lowestCylindricalV;
    case 'lipo':
    case 'lihv':
      return rules.lowestPouchV;
    case 'lfp':
      return rules.lowestIronPhosphateV;
    default:
      return chemistries[chemistry].lowestV;
  }
}
