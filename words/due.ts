import type { Rest } from '@/core/judging/due';

type After = Rest['reason'];

/** What it does, of one and of many. */
const doing: Record<After, [one: string, many: string]> = {
  charge: ['rests after charge', 'rest after charge'],
  discharge: ['rests after discharge', 'rest after discharge'],
  hold: ['· self-discharge test', '· self-discharge tests'],
  resistor: ['is on a resistor', 'are on resistors'],
  remedy: ['is being balanced', 'are being balanced'],
  job: ['is at the bench', 'are at the bench'],
  'run-down': ['discharges on a lamp', 'discharge on lamps'],
  use: ['is out in use', 'are out in use'],
  rescue: ['· rescue', '· rescues'],
  'rescue-stop': ['· rescue: STOP', '· rescues: STOP'],
  'rescue-off': ['· rescue, current off', '· rescues, current off'],
};

const meanwhile: Record<After, string> = {
  charge: 'Do not measure resistance yet.',
  discharge: 'Then measure its voltage and bring it to storage charge.',
  hold: 'Then measure it again with the same meter.',
  resistor: 'It has no shut-off: look at it now and then, and be there before it is empty.',
  remedy: 'Stay with it. Stop when anything gets warm.',
  job: 'Stay with it. The plan says where.',
  'run-down': 'Never leave it. Outdoors, on a surface that does not burn.',
  use: 'Computed from its capacity and sag, since it was taken out.',
  rescue: 'Stay with it. Then measure every group.',
  'rescue-stop': 'Switch the current off now.',
  'rescue-off': 'Check it. Then resume the rescue or give it up.',
};

const when: Record<After, string> = {
  charge: 'Ready to measure.',
  discharge: 'Ready to measure.',
  hold: 'Measure it again with the same meter.',
  resistor: 'Go there now and measure it. Take the resistor off at the cut-off. Nothing else stops it.',
  remedy: 'It should be done. Check it, and enter when it is.',
  job: 'It should be done. Check it, and enter it in the plan.',
  use: 'Stop and bring it back: only its reserve is left.',
  'run-down': 'Check whether the lamp still glows. If it is dark, take it off and enter that.',
  rescue: 'Measure every group now. If you are late, switch the current off.',
  'rescue-stop': 'Switch the current off now.',
  'rescue-off': 'Check it. Then resume the rescue or give it up.',
};

export const restText = (after: After, count: number): string => doing[after][count === 1 ? 0 : 1];

/** What to do with what rests, or has rested. */
export const restAdvice = (after: After, isDue: boolean): string => (isDue ? when[after] : meanwhile[after]);

/** Said aloud as the rest ends. */
export const restedText = (code: string, after: After): string =>
  after === 'charge' || after === 'discharge'
    ? `${code} has rested after its ${after}. ${when[after]}`
    : `${code} ${doing[after][0]}. ${when[after]}`;

/** Of a cell or pack, when what is on the watch is over. */
export const dueName: Record<After, string> = {
  charge: 'its rest after charge ends',
  discharge: 'its rest after discharge ends',
  hold: 'its self-discharge test needs a reading',
  resistor: 'it may be empty on its resistor',
  remedy: 'it should be balanced',
  job: 'its job at the bench should be done',
  'run-down': 'it should be flat',
  use: 'only its reserve is left',
  rescue: 'its rescue needs a reading of every group',
  'rescue-stop': 'its rescue is stopped',
  'rescue-off': 'its rescue goes on or ends',
};

/** What replaces the countdown once it is over. */
export const dueWords: Record<After, string> = {
  charge: 'rested',
  discharge: 'rested',
  hold: 'due',
  resistor: 'go there',
  remedy: 'look',
  job: 'look',
  'run-down': 'look',
  use: 'stop',
  rescue: 'read it',
  'rescue-stop': 'STOP',
  'rescue-off': 'look',
};

/** What ends it, where that is done on the watch. */
export const endWords: Record<After, string | null> = {
  charge: 'End the rest',
  discharge: 'End the rest',
  hold: null,
  resistor: 'It is off',
  remedy: null,
  job: null,
  'run-down': null,
  use: null,
  rescue: null,
  'rescue-stop': null,
  'rescue-off': null,
};
