/** What a charger, tool or appliance said or did. */
export const complaints = [
  'too-low',
  'no-connection',
  'cells-differ',
  'wrong-count',
  'time-ran-out',
  'too-warm',
  'reversed',
  'full-stops-early',
  'balances-for-hours',
] as const;
export type Complaint = (typeof complaints)[number];

/** What a complaint comes down to once its test was made. */
export type Blamed = 'cable' | 'charger' | 'contact' | 'setting' | 'board' | 'groups' | 'too-low' | 'stop';

/** The test that separates the causes of each complaint: what it may show, and what that blames. Common practice. */
export const separations = {
  'too-low': { 'a-group-low': 'groups', 'terminals-dead': 'board', 'all-fine': 'setting' },
  'no-connection': {
    'same-with-another-pack': 'cable',
    'another-pack-works': 'contact',
    'too-low-for-charger': 'too-low',
    'terminals-dead': 'board',
  },
  'cells-differ': { 'they-do': 'groups', 'they-are-even': 'charger' },
  'wrong-count': { 'voltage-fits': 'groups', 'voltage-does-not': 'setting' },
  'time-ran-out': { 'less-than-missing': 'setting', 'more-than-it-holds': 'groups' },
  'too-warm': { 'the-pack': 'stop', 'the-charger': 'charger' },
  reversed: { 'meter-says-so': 'stop', 'meter-says-right': 'cable' },
  'full-stops-early': { 'one-lower-at-rest': 'groups', 'even-at-rest': 'groups' },
  'balances-for-hours': { 'one-stays-low': 'groups', 'jumps-when-touched': 'contact' },
} as const satisfies Record<Complaint, Record<string, Blamed>>;

/** An answer to the test of any complaint. */
export type ComplaintAnswer = { [C in Complaint]: keyof (typeof separations)[C] }[Complaint];

/** What the test of a complaint may show. */
export const answersTo = (complaint: Complaint): ComplaintAnswer[] =>
  Object.keys(separations[complaint]) as ComplaintAnswer[];

/** What is to blame by that answer; null where it is no answer to that complaint. */
export const blamedBy = (complaint: Complaint, answer: string): Blamed | null =>
  (separations[complaint] as Record<string, Blamed>)[answer] ?? null;
