import type { RuleKey } from '@/core/chemistry/houseRules';
import type { LabelContradiction } from '@/core/capacity/label';
import type { BesideTwin, JudgedPack } from '@/core/judging/judgePack';
import type { ResistanceSaying } from '@/core/packs/groupResistances';
import type { GroupLimit, PackJudgement, PackSaying, PackState, ImbalanceLevel } from '@/core/packs/groupVoltages';
import { display, formatFigure, formatQuantity, formatRead } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { type Sentences, sentenceOf } from './say';

/** In which state a pack is read. */
export const stateTexts = {
  rest: 'at rest',
  load: 'under load',
  'charge-end': 'at the end of charge',
  'discharge-end': 'at the end of discharge',
  'after-use': 'after use',
} as const satisfies Record<PackState, string>;

const limits: Sentences<GroupLimit> = {
  reversed: () => 'reversed or shorted',
  'above-full': ({ fullV }) => `above its charge end of ${fullV} V`,
  'beyond-rescue': ({ rescueFloorV }) => `below ${rescueFloorV} V, too low even for rescue`,
  'below-floor': ({ floorV }) => `below its floor of ${floorV} V`,
};

/** What is wrong with a group, as its label in a picture. */
export const groupLimitText = (limit: GroupLimit): string => sentenceOf(limits, limit);

const sumFigures = (sum: Quantity, terminal: Quantity): string =>
  `${formatQuantity(sum, display.voltage)}, terminals ${formatQuantity(terminal, display.voltage)}`;

const wrongLead = 'A meter, a pin or a lead is wrong; find it before you trust a group.';

/** The sum of the groups against the terminals; null where those were not read. */
export function sumText({ sum, terminal, sumCheck }: PackJudgement): string | null {
  if (sum === null || terminal === null || sumCheck === null) return null;
  return sumCheck.agrees
    ? `sum ${sumFigures(sum, terminal)}: they agree`
    : `sum ${sumFigures(sum, terminal)}: they do not agree. ${wrongLead}`;
}

/** The sum of the groups where the terminals were not read, or of some of them. */
export const sumAloneText = (sum: Quantity | null): string =>
  sum === null
    ? 'Without all its groups there is no sum to compare with the terminals.'
    : `Sum ${formatQuantity(sum, display.voltage)}; measure the terminals too: the sum must agree.`;

const imbalanceSentence: Record<ImbalanceLevel, string> = {
  excellent: 'excellent',
  good: 'good, no balancing needed',
  uneven: 'more than a good pack has. Balance it at the next charge',
  attention: 'needs attention',
  'out-of-service': 'out of service until explained',
  unclear: 'cannot tell. Measure with more digits',
};

const sayings: Sentences<PackSaying> = {
  limit: ({ position, voltageV, stepV, limit }) =>
    `Group ${position} at ${formatRead(voltageV, stepV, display.voltage)} is ${groupLimitText(limit)}. ` +
    'Do not charge it by the usual way.',
  unread: ({ positions }) =>
    positions.length === 1
      ? `Group ${positions[0]} was not read: its wire may be broken. Read it where its cells are joined.`
      : `Groups ${positions.join(', ')} were not read: a wire may be broken. Read them where their cells are joined.`,
  sum: ({ sum, terminal }) => `The sum ${sumFigures(sum, terminal)}: they do not agree. ${wrongLead}`,
  spread: ({ spreadV, level, furthest }) => {
    const imbalance = `Imbalance ${formatQuantity(spreadV, display.milliVolt)}: ${imbalanceSentence[level]}.`;
    if (furthest === null) return imbalance;
    const away = formatQuantity({ value: Math.abs(furthest.deviationV), u: spreadV.u }, display.milliVolt);
    const side = furthest.deviationV < 0 ? 'below' : 'above';
    return `${imbalance} Group ${furthest.position} is ${away} ${side} the median.`;
  },
};

const groupsText = (positions: readonly number[]): string =>
  positions.length === 1 ? `Group ${positions[0]} has` : `Groups ${positions.join(', ')} have`;

const resistanceSayings: Sentences<ResistanceSaying> = {
  'group-failing': ({ position, resistance, medianOhm, times }) =>
    `Group ${position} is failing: ${formatQuantity(resistance, display.resistance)}, ` +
    `${times.toFixed(1)} times the median of its pack (${formatFigure(medianOhm, display.resistance)}).`,
  'group-watch': ({ position, resistance, medianOhm, times }) =>
    `Group ${position} is a warning: ${formatQuantity(resistance, display.resistance)}, ${times.toFixed(2)} times ` +
    `the median of its pack (${formatFigure(medianOhm, display.resistance)}).`,
  'groups-even': ({ lowestOhm, highestOhm }) =>
    `Nothing odd: its groups have ${formatFigure(lowestOhm, display.resistance)} to ` +
    `${formatFigure(highestOhm, display.resistance)}.`,
  risen: ({ positions, times }) =>
    `${groupsText(positions)} risen to ${times.toFixed(2)} times the first value by the same method, the best sign ` +
    'of age.',
  'risen-since-new': ({ positions, times }) =>
    `${groupsText(positions)} up to ${times.toFixed(2)} times the figure noted when new; how that was read is not ` +
    'known.',
  'whole-not-sum': ({ sum, whole }) =>
    `The groups add up to ${formatQuantity(sum, display.resistance)}, the reported whole is ` +
    `${formatQuantity(whole, display.resistance)}: one of them is misread, or a lead adds its own.`,
};

/** A pack beside its twin. */
export const twinText = ({ code, times, isOdd }: BesideTwin): string =>
  isOdd
    ? `Its median is ${times.toFixed(2)} times that of its twin ${code}: it ages faster, or was used harder.`
    : `Its median is ${times.toFixed(2)} times that of its twin ${code}.`;

export const resistanceSayingText = (saying: ResistanceSaying): string => sentenceOf(resistanceSayings, saying);

export const packSayingText = (saying: PackSaying): string => sentenceOf(sayings, saying);

/** What is said of a pack, by its code and the house rule it rests on. */
export interface Said {
  said: string;
  code: (PackSaying | ResistanceSaying)['code'];
  rule: RuleKey | null;
}

const ofVoltage = (saying: PackSaying): Said => ({
  said: packSayingText(saying),
  code: saying.code,
  rule: saying.rule ?? null,
});

const ofResistance = (saying: ResistanceSaying): Said => ({
  said: resistanceSayingText(saying),
  code: saying.code,
  rule: saying.rule ?? null,
});

/** What wants a hand first; null where nothing does. Voltages come first. */
export function urgentOf({ judgement, amongGroups }: JudgedPack): Said | null {
  const voltage = judgement?.says.find(({ urgent }) => urgent);
  if (voltage) return ofVoltage(voltage);
  const resistance = amongGroups?.says.find(({ urgent }) => urgent);
  return resistance ? ofResistance(resistance) : null;
}

/** What is to be said first of a pack; null where nothing was read of it. */
export function firstSaid(pack: JudgedPack): Said | null {
  const urgent = urgentOf(pack);
  if (urgent) return urgent;
  const [voltage] = pack.judgement?.says ?? [];
  if (voltage) return ofVoltage(voltage);
  const [resistance] = pack.amongGroups?.says ?? [];
  if (resistance) return ofResistance(resistance);
  return pack.judgement ? { said: 'Its one group is within its limits.', code: 'limit', rule: null } : null;
}

const ampereHours = (value: number): string => formatFigure(value, display.capacity, 2);

const contradictions: Sentences<LabelContradiction> = {
  'label-energy': ({ energyWh, packV, capacityAh, wouldBeAh }) =>
    `Its label contradicts itself: ${energyWh} Wh at ${packV} V would be ${ampereHours(wouldBeAh)}, ` +
    `not ${ampereHours(capacityAh)}. Read it again.`,
  'label-count': ({ packV, series, wouldBe }) =>
    `${packV} V would be ${wouldBe} in series, not ${series}. Count its groups, or read its label again.`,
};

export const contradictionText = (contradiction: LabelContradiction): string =>
  sentenceOf(contradictions, contradiction);

/** A group by its position from the negative terminal, marked where it is at one of the poles. */
export function groupName(position: number, series: number): string {
  if (position === 1) return '1 −';
  return position === series ? `${position} +` : String(position);
}
