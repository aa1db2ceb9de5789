import { type Chemistry, chemistries } from './chemistries';

export const presetKeys = ['careful', 'workshop', 'thrifty'] as const;
export type Preset = (typeof presetKeys)[number];

/** One limit of the house: what it is, why, and what each school holds. SI units. */
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
    'Rescues of a lithium cell below its floor',
    'count',
    'One school never charges it again; the other does it attended, once, at most twice, and treats it as temporary.',
    [0, 2],
    [0, 1, 2],
  ),
  rescueFloorV: rule(
    'Lithium: too low even for rescue',
    'V',
    'Below this copper may have dissolved; the cell can short later (from memory).',
    [1, 2.5],
    [2, 1.5, 1.5],
  ),
  rescueRateC: rule(
    'Rescue: current up to',
    'C',
    'A tenth of the capacity an hour spares what lay empty; the bolder school goes to a quarter.',
    [0.02, 0.25],
    [0.05, 0.1, 0.25],
  ),
  rescueReadMin: rule(
    'Rescue: every group is read every',
    'min',
    'The charger is blind below the floor: only somebody with a meter sees a group fall behind.',
    [1, 15],
    [3, 5, 10],
  ),
  rescueApartV: rule(
    'Rescue: stop where a group falls behind or runs ahead by',
    'V',
    'Beyond where it stood at first. Such a group is hurt, and what goes in makes heat (from memory).',
    [0.05, 0.5],
    [0.15, 0.2, 0.3],
  ),
  rescueWarmerK: rule(
    'Rescue: stop where it gets warmer by',
    'K',
    'At so little current nothing sound gets warm.',
    [3, 15],
    [5, 6, 10],
  ),
  rescueLimitH: rule(
    'Rescue: over after',
    'h',
    'What has not come up by then has an inner leak or lost its capacity (from memory).',
    [0.5, 10],
    [1.5, 3, 5],
  ),
  lowestCylindricalV: rule(
    'Lowest, cylindrical lithium',
    'V',
    'Data sheets say 2.5 V; many keep a cushion at 2.8 or 3.0 V.',
    [2.5, 3.3],
    [3.0, 2.8, 2.5],
  ),
  lowestPouchV: rule(
    'Lowest, pouch lithium',
    'V',
    'A slow test may go to 3.0 V; a cushion of 0.2 V spares weak groups.',
    [3.0, 3.7],
    [3.2, 3.0, 3.0],
  ),
  lowestIronPhosphateV: rule(
    'Lowest, iron phosphate',
    'V',
    'One school stops at 2.5 V, the bolder at 2.0 V.',
    [2.0, 3.0],
    [2.5, 2.5, 2.0],
  ),
  storageLithiumV: rule(
    'Storage of 4.20 V lithium',
    'V',
    'Pack keepers hold 3.80 to 3.85 V; makers of cells about 3.6 V for long shelves.',
    [3.5, 3.9],
    [3.8, 3.8, 3.6],
  ),
  weightTolerance: rule(
    'Weight may differ from its model by',
    'share',
    'Weight follows capacity within one size and chemistry; a fake is far too light.',
    [0.01, 0.3],
    [0.05, 0.08, 0.1],
  ),
  bestSpecificEnergyWhPerKg: rule(
    'The best lithium cells hold up to',
    'Wh/kg',
    'The best cylindrical cells and pouches of today reach about 300 Wh/kg (from memory). A label a little beyond ' +
      'is looked at again; one a quarter beyond is a fake.',
    [200, 500],
    [300, 300, 300],
  ),
  sagShare: rule(
    'Sag at which current is compared',
    'share',
    'The current at which a cell loses this share of its nominal voltage tells its duty.',
    [0.02, 0.2],
    [0.05, 0.05, 0.05],
  ),
  surgeHealth: rule(
    'Surge needs health of',
    'share',
    'At 80 % a cell leaves the demanding duty.',
    [0.5, 1],
    [0.85, 0.8, 0.75],
  ),
  surgeCRate: rule(
    'Surge needs a rate at that sag of',
    'C',
    'Demanding loads draw several times the capacity an hour.',
    [1, 20],
    [4, 3, 2.5],
  ),
  steadyHealth: rule(
    'Steady needs health of',
    'share',
    'At 70 % a cell leaves ordinary service.',
    [0.4, 1],
    [0.75, 0.7, 0.65],
  ),
  steadyCRate: rule(
    'Steady needs a rate at that sag of',
    'C',
    'Ordinary loads draw up to the capacity in an hour.',
    [0.3, 10],
    [1.2, 1, 0.8],
  ),
  lightHealth: rule(
    'Light needs health of',
    'share',
    'Half the capacity still serves a sensor or a light.',
    [0.2, 1],
    [0.6, 0.5, 0.4],
  ),
  lightCRate: rule(
    'Light needs a rate at that sag of',
    'C',
    'Low drains need a fifth of the capacity an hour.',
    [0.02, 5],
    [0.25, 0.2, 0.15],
  ),
  guardBand: rule(
    'A limit is met only beyond',
    'k',
    'So many standard uncertainties must lie between value and limit, or the class is the lower one.',
    [0, 3],
    [2, 1.64, 1],
  ),
  oddBeyond: rule(
    'Odd one out beyond',
    '×MAD',
    'Median and median absolute deviation (divided by 0.6745, so that it compares with a standard deviation) are ' +
      'not dragged along by the odd one itself.',
    [2, 6],
    [3, 3.5, 4],
  ),
  spreadExcellentV: rule(
    'Imbalance: excellent up to',
    'V',
    'Such a pack is as even as it gets.',
    [0.002, 0.03],
    [0.01, 0.01, 0.015],
  ),
  spreadGoodV: rule(
    'Imbalance: good, no balancing, up to',
    'V',
    'Balancing gains nothing below this.',
    [0.01, 0.08],
    [0.02, 0.03, 0.04],
  ),
  spreadAttentionV: rule(
    'Imbalance: wants attention from',
    'V',
    'A tenth of a volt is slow to balance and costs run time.',
    [0.05, 0.3],
    [0.08, 0.1, 0.12],
  ),
  spreadOutV: rule(
    'Imbalance: out of service from',
    'V',
    'The board stops at the first full and the first empty group.',
    [0.1, 0.6],
    [0.15, 0.2, 0.25],
  ),
  sumToleranceV: rule(
    'Sum and terminals agree within, per group',
    'V',
    'The sum of the groups is the total; otherwise a meter, a pin or a lead is wrong.',
    [0.002, 0.05],
    [0.005, 0.01, 0.01],
  ),
  groupResistanceWatch: rule(
    'Group resistance: a warning from',
    '×',
    'Times the middle of its pack. Groups that were alike when new and drift apart age unevenly.',
    [1.05, 1.7],
    [1.12, 1.15, 1.2],
  ),
  groupResistanceFailing: rule(
    'Group resistance: failing from',
    '×',
    'Times the middle of its pack: such a group sags and warms more than its neighbours at every use.',
    [1.3, 4],
    [1.5, 1.75, 2],
  ),
  resistanceRisen: rule(
    'Resistance has risen from',
    '×',
    'Times its own past, taken the same way: the surest sign of age.',
    [1.05, 3],
    [1.2, 1.3, 1.5],
  ),
  holdDriftV: rule(
    'Self-discharge test: lithium falls in a week by up to',
    'V',
    'A healthy cell hardly moves, a few millivolts a week (from memory). What falls faster has an inner leak and ' +
      'must never be put in parallel.',
    [0.001, 0.03],
    [0.003, 0.005, 0.008],
  ),
  joinWithinV: rule(
    'Cells may be joined in parallel within',
    'V',
    'Beyond this a large current flows at the moment of joining.',
    [0.005, 0.05],
    [0.01, 0.015, 0.02],
  ),
  sharingTimes: rule(
    'Resistances within a group: the largest against the smallest up to',
    '×',
    'Cells side by side share a current by their resistance: the better one carries more, and charges otherwise.',
    [1.05, 4],
    [1.3, 1.5, 2],
  ),
  groupsApartShare: rule(
    'Groups of a build may differ in capacity by',
    'share',
    'In series the weakest group decides: what the others hold beyond it is never used.',
    [0.002, 0.3],
    [0.02, 0.03, 0.05],
  ),
  modelsInPack: rule(
    'Models in one pack up to',
    'count',
    'Cells of a group are always of one model; one school builds a pack of one model alone, the thriftier lets ' +
      'another model make a group of its own.',
    [1, 6],
    [1, 1, 2],
  ),
  restAfterDischargeH: rule(
    'Rest after a discharge',
    'h',
    'Twenty to thirty minutes let the voltage settle.',
    [0.1, 48],
    [0.5, 0.5, 0.35],
  ),
  restAfterChargeH: rule(
    'Rest after a charge',
    'h',
    'Resistance is compared after an hour of rest.',
    [0.1, 48],
    [1, 1, 0.5],
  ),
  chargePouchC: rule(
    'Charge: pouch lithium at',
    'C',
    'Once its capacity an hour unless its label says more; a lower rate is always kinder.',
    [0.05, 2],
    [0.6, 1, 1],
  ),
  chargeCylindricalC: rule(
    'Charge: cylindrical lithium and iron phosphate at',
    'C',
    'Half the capacity an hour is gentle; once is the most that makers allow.',
    [0.05, 1],
    [0.3, 0.5, 1],
  ),
  chargeNickelC: rule(
    'Charge: nickel at',
    'C',
    'A tenth for sixteen hours is the maker’s own; a quick charge takes two tenths to a half.',
    [0.05, 0.5],
    [0.1, 0.1, 0.3],
  ),
  chargeLeadC: rule(
    'Charge: lead-acid at',
    'C',
    'A fifth of the capacity an hour at most: more makes gas.',
    [0.02, 0.2],
    [0.1, 0.2, 0.2],
  ),
  gentleChargeC: rule(
    'Charge of nearly empty lithium: first at',
    'C',
    'A pack that was emptied to just above its floor starts with about a quarter of its capacity an hour.',
    [0.05, 0.5],
    [0.1, 0.25, 0.25],
  ),
  gentleUntilV: rule(
    'Charge of nearly empty lithium: gently up to',
    'V',
    'From 3.6 to 3.7 V a cell it takes its usual current. Iron phosphate goes to 3.1 V (from memory).',
    [3.3, 3.8],
    [3.7, 3.6, 3.6],
  ),
  quickNickelC: rule(
    'Quick charge of nickel: up to',
    'C',
    'A quick charge takes two tenths to a half of the capacity an hour, watched for warmth.',
    [0.1, 1],
    [0.2, 0.5, 0.5],
  ),
  leadReserve: rule(
    'Lead-acid keeps at least',
    'share',
    'Drawn below half, lead-acid loses life with every use.',
    [0.2, 0.8],
    [0.5, 0.5, 0.4],
  ),
  testDischargeC: rule(
    'Discharge for a test at',
    'C',
    'Cycled at half the capacity an hour or less; nickel and lead-acid at a fifth.',
    [0.05, 1],
    [0.2, 0.5, 0.5],
  ),
  storeWithinH: rule(
    'Full lithium goes to storage within',
    'h',
    'Left full it swells. Some packs do it by themselves after 72 hours; careful people the same day.',
    [6, 168],
    [12, 24, 72],
  ),
  lookEveryD: rule(
    'Everything stored is looked at every',
    'd',
    'Left empty it dies, since nobody was reminded: once a month.',
    [7, 120],
    [14, 30, 60],
  ),
  resistanceEvery: rule(
    'Resistance is read again after so many cycles',
    'count',
    'Rising against its own past is the surest sign of age; careful people note it at every charge.',
    [1, 200],
    [5, 20, 50],
  ),
  calibrateEveryD: rule(
    'Cross-check an instrument again after',
    'd',
    'A meter drifts, and a charger channel more: once a year.',
    [30, 1100],
    [180, 365, 730],
  ),
  alarmPouchV: rule(
    'Alarm of a pouch cell in use',
    'V',
    'The lowest group under load: at 3.6 V there is still time to stop. Others go to 3.5 V, or stop at 3.7 V.',
    [3.3, 3.8],
    [3.7, 3.6, 3.5],
  ),
  alarmCylindricalV: rule(
    'Alarm of a cylindrical cell in use',
    'V',
    'The lowest group under load. Makers allow less; between 3.0 and 3.3 V hardly anything is left in it.',
    [2.8, 3.5],
    [3.3, 3.2, 3.0],
  ),
  reserveShare: rule(
    'Left in a pack after use',
    'share',
    'A fifth is the least that one should leave in it.',
    [0.05, 0.5],
    [0.3, 0.2, 0.15],
  ),
  balanceAlways: rule(
    'Balance at every charge',
    'count',
    'One school balances every time (1), the other only when the spread needs it (0).',
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
