import type { ClinicVerdict, Disagreeing, NotThePack } from '@/core/judging/judgeClinic';
import type { GroupFault } from '@/core/packs/diagnosis/faults';
import type { Visit } from '@/core/judging/visits';
import { blamedText, complaintText } from './complaints';
import { faultText } from './diagnosis';
import { dutyNames } from './duty';
import { millivolts } from './figures';
import { findingName } from './intake';
import { remedyText } from './remedies';

const listOf = (positions: readonly number[]): string =>
  positions.length === 1 ? `group ${positions[0]}` : `groups ${positions.join(', ')}`;

const faultsText = (faults: readonly GroupFault[]): string => faults.map((fault) => faultText({ fault })).join(', ');

const elsewhere: Record<NotThePack, string> = {
  cable: 'Mend the cable first',
  charger: 'Look at the charger first',
  setting: 'Set the charger first',
};

/** What was found on a pack and said of it in a visit; empty where nothing was. */
export const signsText = ({ findings, complaints }: Visit): string =>
  [...findings.map((finding) => findingName[finding]), ...complaints.map((one) => complaintText(one).name)].join('; ');

/** What was done with a pack in a visit; empty where nothing was. */
export const doneText = ({ remedies, rescued }: Visit): string =>
  [...remedies.map((way) => remedyText(way)), ...(rescued ? ['Rescued'] : [])].join('; ');

/** That two instruments do not agree about a pack. */
export const disagreeingText = ({ apartV, instruments: [one, other], suspect }: Omit<Disagreeing, 'at'>): string =>
  `${one} and ${other} differ by ${millivolts(apartV)} on all groups within two hours. ` +
  (suspect === null ? 'Cross-check both.' : `${suspect} is the odd one out. Cross-check it.`);

/** What to do with a pack, in two or three words. */
export function verdictText(verdict: ClinicVerdict): string {
  switch (verdict.act) {
    case 'retire':
      return 'Retire it now';
    case 'rescue':
      return 'Rescue it, or retire it';
    case 'not-the-pack':
      return elsewhere[verdict.blamed];
    case 'mend-board':
      return 'Its board first';
    case 'mend-wire':
      return `Mend the wire of group ${verdict.position}`;
    case 'other-meter':
      return verdict.isConfirmed && verdict.instrument !== null
        ? `Cross-check ${verdict.instrument}`
        : 'Measure it with another instrument';
    case 'take-apart':
      return 'Take it apart for its cells';
    case 'repair':
      return `Repair ${listOf(verdict.positions)}`;
    case 'downgrade':
      return verdict.duty && verdict.duty !== 'retire' ? `Use it on as ${dutyNames[verdict.duty]}` : 'A lighter use';
    case 'balance':
      return 'Balance it, and watch it';
    case 'use-on':
      return verdict.duty ? `Use it on: ${dutyNames[verdict.duty]}` : 'Use it on';
    case 'measure':
      return verdict.why === 'question' ? 'Check the round that looks mislabelled' : 'Measure first';
  }
}

const measureWhy: Record<Extract<ClinicVerdict, { act: 'measure' }>['why'], string> = {
  open: 'The readings leave more than one cause open.',
  question: 'Answer the question about the round before you blame a group.',
  apart:
    'The groups differ by more than the house allows, and no reading explains why yet. Charge the pack with ' +
    'balancing, let it rest, and measure every group.',
};

/** Why, and what that means, in a sentence or two. */
export function verdictWhy(verdict: ClinicVerdict): string {
  switch (verdict.act) {
    case 'retire':
      return verdict.why === 'unsafe'
        ? 'The inspection rules out any use. Do not charge it. Put it outdoors, on stone.'
        : 'Its capacity is too low for any duty of the house.';
    case 'rescue':
      return 'A group is below its lowest voltage. Only an attended rescue can raise it, if the house rules allow one.';
    case 'not-the-pack':
      return blamedText(verdict.blamed);
    case 'mend-board':
      return 'The groups are alive and the terminals are dead. Until the board is repaired, measure them by hand.';
    case 'mend-wire':
      return 'The readings show no fault in its cells. Until the wire is repaired, do not balance the pack through it.';
    case 'other-meter':
      return (
        `The channel ${verdict.instrument === null ? '' : `of ${verdict.instrument} `}that reads group ` +
        `${verdict.position} is off, not the cells. Correct it by a cross-check.`
      );
    case 'take-apart':
      return (
        `Of its groups ${verdict.positions.join(', ')} are bad, too many to repair. Measure the cells of the others ` +
        'one by one; the good ones go back to the shelf.'
      );
    case 'repair':
      return verdict.isRepeat
        ? 'It was low before, equal to the others in between, and is low again. That is a fault, not chance.'
        : `Of ${listOf(verdict.positions)}: ${faultsText(verdict.faults)}. Balancing does not repair that. ` +
            'Measure its cells one by one.';
    case 'downgrade':
      return verdict.position === null
        ? 'Its figures allow no more.'
        : `Group ${verdict.position} has a slightly lower capacity than the others. It limits the pack.`;
    case 'balance':
      return (
        `Group ${verdict.position} holds ${verdict.isAbove ? 'more' : 'less'} charge than the others. On a new pack ` +
        'that is ordinary; the same group again would be a fault.'
      );
    case 'use-on':
      return 'The readings show no fault.';
    case 'measure':
      return measureWhy[verdict.why];
  }
}
