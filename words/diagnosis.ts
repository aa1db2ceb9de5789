import type { GroupDiagnosis, GroupFinding } from '@/core/packs/diagnosis/diagnose';
import type { GroupFault, PackFault, Way } from '@/core/packs/diagnosis/faults';
import type { Measurement, NextMeasurement } from '@/core/packs/diagnosis/nextMeasurement';
import type { RoundQuestion } from '@/core/packs/diagnosis/questions';
import type { PackState } from '@/core/packs/groupVoltages';
import { millivolts, percentText } from './figures';
import { stateTexts } from './packs';

/** How sure a probability is, before what it is about. */
function sureText(probability: number): string {
  if (probability >= 0.95) return 'Almost certainly';
  if (probability >= 0.7) return 'Probably';
  return probability >= 0.4 ? 'Perhaps' : 'Not clear yet. Most likely,';
}

type Named = Pick<GroupFinding, 'fault' | 'isAbove' | 'instrument'>;

const faults: Record<PackFault, (group: string, named: Named) => string> = {
  none: () => 'nothing is wrong with it',
  'charge-shifted': (group, { isAbove }) => `${group} holds ${isAbove ? 'more' : 'less'} charge than the others`,
  'low-capacity': (group) => `${group} has a lower capacity than the others`,
  'high-resistance': (group) => `${group} has a high resistance: a weak cell, joint or weld`,
  leak: (group) => `${group} leaks`,
  'sense-tap': (group) => `a sense wire or pin of ${group} is wrong, not the cells`,
  'meter-channel': (group, { instrument }) =>
    `the channel ${instrument === undefined ? '' : `of ${instrument} `}that reads ${group} is off, not the cells`,
  dead: (group) => `${group} is dead, shorted or reversed`,
  'over-discharged': (group) => `${group} was run down too far`,
  'board-cut-off': () => 'its board has cut off: the groups are there, the terminals are dead',
};

/** A fault as the end of a sentence about a group or pack. */
export const faultText = (named: Named): string => faults[named.fault]('it', named);

/** The one cause of what is wrong with a pack, in a sentence. */
export function causeText({ position, probability, ...named }: GroupFinding): string {
  const group = position === null ? 'the whole pack' : `group ${position}`;
  const isSound = named.fault === 'none';
  return `${sureText(probability)} ${faults[named.fault](group, named)}${isSound ? ', by these readings' : ''}.`;
}

/** The same in short, where it was said in full. */
export const namedText = ({ position, ...named }: GroupFinding): string =>
  `${position === null ? 'The whole pack' : `Group ${position}`}: ${faultText(named)},`;

const roundQuestionTexts: Record<RoundQuestion['code'], string> = {
  'under-load': 'This round looks as if the pack was measured under load. Was it at rest?',
  swapped: 'Under load the groups are higher than at rest. Are the two rounds swapped?',
  'from-positive-end': 'The groups look turned. Were they measured from the positive end?',
  'not-settled': 'The pack was charged less than half an hour before. Let it settle, then measure again.',
};

/** What is asked about a round that looks mislabelled. */
export const roundQuestionText = (code: RoundQuestion['code']): string => roundQuestionTexts[code];

/** From here on a fault is hot. */
const likely = 0.7;

/** Something is wrong, and probably that. */
export const isHot = ({ fault, probability }: GroupFinding): boolean => fault !== 'none' && probability >= likely;

/** Differences below this do not matter, V. */
const seenV = 0.002;

const apartText = (apartV: number): string =>
  Math.abs(apartV) < seenV
    ? 'at the median of the groups'
    : `${millivolts(Math.abs(apartV))} ${apartV < 0 ? 'below' : 'above'} the median of the groups`;

/** The place of a group in a round. */
export const stoodText = (apartV: number, state: PackState): string =>
  `${stateTexts[state]} it is ${apartText(apartV)}`;

/** Its resistance beside the median of the groups. */
export const resistanceTimesText = (times: number): string =>
  `its resistance is ${times.toFixed(1)} times the median of the groups`;

/** A probability as far as it can be trusted: nothing that was read makes anything certain. */
export function probabilityText(probability: number): string {
  if (probability > 0.99) return 'over 99 %';
  return probability < 0.01 ? 'under 1 %' : percentText(probability);
}

/** What a finding about a group rests on: where it stood in each round. */
export const evidenceText = (
  { apartV }: Pick<GroupDiagnosis, 'apartV'>,
  rounds: readonly { state: PackState }[],
): string[] =>
  apartV.flatMap((v, r) => {
    const state = rounds[r]?.state;
    return v === null || state === undefined ? [] : [stoodText(v, state)];
  });

const whats: Record<Measurement, string> = {
  load: 'Measure every group at rest, then after ten seconds under a load of about 0.5C',
  days: 'Let the pack rest for three days, then measure every group again',
  'discharge-end':
    'Discharge the pack, attended, and measure every group under load when the first reaches its cut-off',
  'other-instrument': 'Measure every group with another instrument',
  reseat: 'Unplug the balance lead, plug it in again, and measure every group',
  terminals: 'Measure the terminals with a meter, beside the groups',
};

/** What to measure next. */
export const measurementText = (what: Measurement): string => whats[what];

const wayText = ({ faults, look }: Way): string =>
  faults.length === 0
    ? faultText({ fault: 'none' })
    : faults.map((fault: GroupFault) => faultText({ fault, isAbove: look.shift > 0 })).join(', and ');

/** Why that is worth most. */
export const whyMeasured = ({ position, between: [one, other] }: NextMeasurement): string =>
  `Group ${position} is not settled: ${wayText(one)} (${probabilityText(one.probability)}) or ` +
  `${wayText(other)} (${probabilityText(other.probability)}). ` +
  'This measurement gives the most information for its time.';

/** That nothing more is asked for. */
export const settledText = 'No further measurement would make it clearer.';
