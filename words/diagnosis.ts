import type { GroupDiagnosis } from '@/core/packs/diagnosis/diagnose';
import type { GroupFault, PackFault, Way } from '@/core/packs/diagnosis/faults';
import type { Measurement, NextMeasurement } from '@/core/packs/diagnosis/nextMeasurement';
import type { PackState } from '@/core/packs/groupVoltages';
import { millivolts, percentText } from './figures';

const names: Record<PackFault, string> = {
  none: 'nothing is wrong with it',
  'charge-shifted': 'it holds less charge than the others',
  'low-capacity': 'it holds less than the others when full',
  'high-resistance': 'its resistance is high: a weak cell, joint or weld',
  leak: 'it leaks',
  'sense-tap': 'a sense wire or pin of it is wrong, not the cell',
  'meter-channel': 'the channel that reads it is off, not the cell',
  dead: 'it is dead, shorted or reversed',
  'over-discharged': 'it was run down too far',
  'board-cut-off': 'its board has cut off',
};

/** What a fault is, as the end of a sentence about a group or pack. */
export const faultText = (fault: PackFault): string => names[fault];

const states: Record<PackState, string> = {
  rest: 'at rest',
  load: 'under load',
  'charge-end': 'at the end of the charge',
  'discharge-end': 'at the end of the discharge',
};

/** What less than this apart is, nobody sees, V. */
const seenV = 0.002;

const standsText = (apartV: number): string =>
  Math.abs(apartV) < seenV
    ? 'with the others'
    : `${millivolts(Math.abs(apartV))} ${apartV < 0 ? 'below' : 'above'} the middle of the others`;

/** What a finding about a group rests on: where it stood in each round. */
export const evidenceText = (
  { apartV }: Pick<GroupDiagnosis, 'apartV'>,
  rounds: readonly { state: PackState }[],
): string[] =>
  apartV.flatMap((v, r) => {
    const state = rounds[r]?.state;
    return v === null || state === undefined ? [] : [`${states[state]} it stands ${standsText(v)}`];
  });

const whats: Record<Measurement, string> = {
  load: 'Read every group at rest, then under a load of about half its capacity for ten seconds',
  days: 'Let it rest for three days, and read every group again',
  'discharge-end': 'Discharge it, watched, and read every group under the load as the first meets its cut-off',
  'other-instrument': 'Read every group with another instrument',
  reseat: 'Take the balance plug out, seat it again, and read every group',
  terminals: 'Read the terminals with a meter, beside the groups',
};

/** What to measure next. */
export const measurementText = (what: Measurement): string => whats[what];

const wayText = ({ faults }: Way): string =>
  faults.length === 0 ? faultText('none') : faults.map((fault: GroupFault) => faultText(fault)).join(', and ');

/** Why that is worth most. */
export const whyMeasured = ({ position, between: [one, other] }: NextMeasurement): string =>
  `Of group ${position} it is not settled whether ${wayText(one)} (${percentText(one.probability)}) or ` +
  `${wayText(other)} (${percentText(other.probability)}); this tells most for the time it takes.`;

/** That nothing more is asked for. */
export const settledText = 'What was read settles it as far as another reading could.';
