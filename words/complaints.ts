import type { Blamed, Complaint, ComplaintAnswer } from '@/core/packs/complaints';

interface Decoded {
  /** As it is said, by whatever device. */
  name: string;
  causes: string;
  test: string;
}

const decoded: Record<Complaint, Decoded> = {
  'too-low': {
    name: 'voltage too low',
    causes: 'A group below its floor; a board that has cut off; a count or chemistry set too high.',
    test: 'Measure every group by hand, and the terminals.',
  },
  'no-connection': {
    name: 'no connection',
    causes: 'The pack is too low for this charger; the cable; a pin of the balance plug; the board of the pack.',
    test: 'Measure the terminals. If they are right, try another pack on this cable.',
  },
  'cells-differ': {
    name: 'cells differ too much',
    causes: 'A low or weak group; a wrong channel of the charger; a pin.',
    test: 'Measure every group by hand, at the plug.',
  },
  'wrong-count': {
    name: 'wrong number of cells',
    causes: 'A count or chemistry set wrong; a group that is nearly dead; the balance plug not seated.',
    test: 'Measure the terminals: do they fit the count of the pack?',
  },
  'time-ran-out': {
    name: 'time ran out',
    causes: 'A timer too short for the current; a group that leaks or never gets full.',
    test: 'Compare the charge that went in with the charge that was missing.',
  },
  'too-warm': {
    name: 'too warm',
    causes: 'A group of high resistance or an inner short; the charger itself; the sun.',
    test: 'Take it off. Feel which is warm.',
  },
  reversed: {
    name: 'polarity reversed',
    causes: 'A lead made the wrong way round; a group driven below zero.',
    test: 'Measure the polarity at that plug, with a meter.',
  },
  'full-stops-early': {
    name: 'shows full, stops early',
    causes: 'One group lower than the others; a group of high resistance. Its board stops at the first that is empty.',
    test: 'Measure every group at rest.',
  },
  'balances-for-hours': {
    name: 'balances for hours',
    causes: 'One group far behind; a group that leaks; a faulty pin.',
    test: 'Measure every group at the plug while it balances, and touch the plug.',
  },
};

/** A complaint in plain words, with its few causes and the one test that separates them. */
export const complaintText = (complaint: Complaint): Decoded => decoded[complaint];

const answers: Record<ComplaintAnswer, string> = {
  'a-group-low': 'a group is low',
  'terminals-dead': 'groups fine, terminals dead',
  'all-fine': 'all as it should be',
  'too-low-for-charger': 'too low for this charger',
  'same-with-another-pack': 'the same with it',
  'another-pack-works': 'that one works',
  'they-do': 'they do differ',
  'they-are-even': 'they are even',
  'voltage-fits': 'they fit',
  'voltage-does-not': 'they do not',
  'less-than-missing': 'less went in',
  'more-than-it-holds': 'more than it holds',
  'the-pack': 'the pack',
  'the-charger': 'the charger',
  'meter-says-so': 'it is reversed',
  'meter-says-right': 'it is right',
  'one-lower-at-rest': 'one is lower',
  'even-at-rest': 'they are even',
  'one-stays-low': 'one stays low',
  'jumps-when-touched': 'it jumps',
};
export const complaintAnswerText = (answer: ComplaintAnswer): string => answers[answer];

const blamed: Record<Blamed, string> = {
  cable: 'It is the cable or lead, not the pack: what every pack shows is never the pack. Repair it first.',
  charger: 'It is the charger, not the pack. Cross-check its channels under Instruments.',
  contact: 'It is a contact of this pack. Seat the plug again, look at its pins, then measure every group.',
  setting: 'It is a setting: count, chemistry, current or timer. Set it by the measured voltage.',
  board: 'The board has cut off: the groups are there. Enter each group, and the terminals after =.',
  groups: 'It is the groups. Measure each group and enter the values here.',
  'too-low':
    'The pack is too low for this charger to recognise. Measure each group: a group below its floor needs a rescue.',
  stop: 'Do not charge it. Put it outdoors, on stone, and enter what you found.',
};
/** What it comes down to, and what to do. */
export const blamedText = (what: Blamed): string => blamed[what];
