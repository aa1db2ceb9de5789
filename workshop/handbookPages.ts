import { type Chemistry, chemistries, chemistryKeys } from '@/core/chemistry/chemistries';
import {
  type HouseRules,
  presetKeys,
  presetRules,
  type RuleKey,
  ruleBook,
  ruleKeys,
} from '@/core/chemistry/houseRules';
import {
  curveOfMake,
  hysteresisOf,
  makes,
  openCircuitOf,
  type OpenCircuitCurve,
  type Rechargeable,
} from '@/core/chemistry/openCircuit';
import { handbookEntries } from '@/core/handbook/book';
import type { Drawing, Formula, HandbookEntry, Source } from '@/core/handbook/entry';
import { topics } from '@/core/handbook/entry';
import { display, formatFigure } from '@/core/quantity/format';
import { cautions } from '@/words/cautions';
import { makeNames } from '@/words/chemistry';
import { setV } from '@/words/figures';
import { ruleFigure } from '@/words/houseRules';

export const sections = ['Cautions', ...topics, 'Chemistries', 'House rules'] as const;
export type Section = (typeof sections)[number];

/** One page of the handbook. */
export interface HandbookPage {
  key: string;
  section: Section;
  title: string;
  /** A paragraph each. */
  text: readonly string[];
  formulas: readonly Formula[];
  figures: readonly { name: string; figure: string }[];
  table: { head: readonly string[]; rows: readonly (readonly string[])[] } | null;
  drawing: Drawing | null;
  sources: readonly string[];
  /** House rules that change it. */
  rules: readonly RuleKey[];
  /** Keys of related pages. */
  see: readonly string[];
}

const nothing = { formulas: [], figures: [], table: null, drawing: null, rules: [], see: [] };

/** Every page, with the house rules in force. */
export const handbookPages = (limits: HouseRules): HandbookPage[] => [
  { ...nothing, key: 'cautions', section: 'Cautions', title: 'Cautions', text: cautions, sources: ['Common practice'] },
  ...handbookEntries.map(entryPage),
  ...chemistryKeys.map(chemistryPage),
  ...ruleKeys.map((key) => rulePage(key, limits)),
];

const otherKeys = new Set<string>(['cautions', ...ruleKeys, ...chemistryKeys.map((key) => `chemistry-${key}`)]);

/** Whether the handbook has a page of that key. */
export const isInHandbook = (key: string): boolean =>
  otherKeys.has(key) || handbookEntries.some((entry) => entry.key === key);

const kindNames: Record<Source['kind'], string> = {
  published: 'Published',
  'common practice': 'Common practice',
  'own rule': 'Own rule',
  'from memory': 'From memory',
};

const sourceText = (source: Source): string =>
  kindNames[source.kind] +
  (source.of ? `, for ${source.of}` : '') +
  (source.kind === 'published' ? `: ${source.reference}` : '');

const entryPage = ({ topic, figures = [], sources, ...entry }: HandbookEntry): HandbookPage => ({
  ...nothing,
  ...entry,
  section: topic,
  figures: figures.map(([name, figure]) => ({ name, figure: figure() })),
  sources: sources.map(sourceText),
});

const rulePage = (key: RuleKey, limits: HouseRules): HandbookPage => ({
  ...nothing,
  key,
  section: 'House rules',
  title: ruleBook[key].title,
  text: [ruleBook[key].reason],
  figures: [
    { name: 'in force here', figure: ruleFigure(key, limits[key]) },
    ...presetKeys.map((preset) => ({ name: preset, figure: ruleFigure(key, presetRules(preset)[key]) })),
  ],
  sources: [/from memory/i.test(ruleBook[key].reason) ? 'From memory' : 'Common practice'],
  rules: [key],
  see: handbookEntries.filter(({ rules }) => rules?.includes(key)).map((entry) => entry.key),
});

const rulesOf: Record<Chemistry, readonly RuleKey[]> = {
  'li-ion': ['lowestCylindricalV', 'chargeCylindricalC', 'storageLithiumV', 'alarmCylindricalV'],
  lipo: ['lowestPouchV', 'chargePouchC', 'storageLithiumV', 'alarmPouchV'],
  lihv: ['lowestPouchV', 'chargePouchC'],
  lfp: ['lowestIronPhosphateV', 'chargeCylindricalC'],
  nimh: ['chargeNickelC', 'quickNickelC'],
  nicd: ['chargeNickelC', 'quickNickelC'],
  sla: ['chargeLeadC', 'leadReserve'],
  alkaline: [],
};

/** Their charge end is from memory, the other limits are common practice. */
const fullFromMemory: readonly Chemistry[] = ['lfp', 'sla', 'nimh', 'nicd'];

function chemistryPage(key: Chemistry): HandbookPage {
  const { name, nominalV, fullV, lowestV, rechargeable } = chemistries[key];
  const curves = key === 'alkaline' ? [] : curvesOf(key);
  return {
    ...nothing,
    key: `chemistry-${key}`,
    section: 'Chemistries',
    title: name,
    text: [
      rechargeable
        ? 'Limits of one cell. For cells in series multiply by their number. The data sheet of a cell comes first.'
        : 'Never charge primary cells.',
      ...(key === 'alkaline' ? [] : curveText(key)),
    ],
    figures: [
      { name: 'nominal', figure: setV(nominalV) },
      { name: rechargeable ? 'charge end' : 'new', figure: setV(fullV) },
      { name: 'lowest, under load', figure: setV(lowestV) },
    ],
    table: curves.length === 0 ? null : curveTable(curves),
    drawing: key === 'alkaline' ? null : 'open-circuit',
    sources: [
      'Common practice',
      ...(fullFromMemory.includes(key) ? ['From memory, for the charge end'] : []),
      ...(curves.some(([, { source }]) => source === 'from memory') ? ['From memory, for the curve'] : []),
    ],
    rules: rulesOf[key],
    see: ['open-circuit-voltage', 'charger-settings'],
  };
}

type NamedCurve = readonly [name: string, curve: OpenCircuitCurve];

const curvesOf = (key: Rechargeable): NamedCurve[] =>
  key === 'li-ion'
    ? makes.map((make) => [makeNames[make], curveOfMake(make)] as const)
    : [['rested voltage', openCircuitOf(key)]];

const percentages = [0, 5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 95, 100];

const curveTable = (curves: readonly NamedCurve[]): HandbookPage['table'] => ({
  head: ['charge', ...curves.map(([name]) => name)],
  rows: percentages.map((percent) => [
    `${percent} %`,
    ...curves.map(([, curve]) => setV(curve.voltageAt(percent / 100))),
  ]),
});

/** How well a rested voltage shows the charge of such a cell. */
function curveText(key: Rechargeable): string[] {
  const [first] = curvesOf(key);
  const limit = first && formatFigure(first[1].uAt(0.5) * Math.sqrt(3), display.milliVolt);
  const hysteresis = hysteresisOf(key);
  return [
    'The table shows the open-circuit voltage of a rested cell. ' +
      `A cell may differ from it by up to ${limit} either way.` +
      (hysteresis > 0
        ? ` After a charge the cell rests up to ${formatFigure(hysteresis, display.milliVolt)} higher, after a ` +
          'discharge as much lower. The limit includes that.'
        : ''),
  ];
}

/** The curves of the drawing of open-circuit voltages: [state of charge 0 to 1, volts]. */
export const drawnCurves = (['lipo', 'li-ion', 'lfp'] as const).map((key) => {
  const curve = openCircuitOf(key);
  const points = Array.from({ length: 51 }, (_, step) => [step / 50, curve.voltageAt(step / 50)] as const);
  return { name: chemistries[key].name, points };
});

/** All that is written on a page, for a search by any word. */
const writtenOn = ({ title, text, section, sources, figures, rules }: HandbookPage): string =>
  [
    title,
    ...text,
    section,
    ...sources,
    ...figures.flatMap(({ name, figure }) => [name, figure]),
    ...rules.map((rule) => ruleBook[rule].title),
  ]
    .join(' ')
    .toLowerCase();

/** The pages that contain every word; those with the words in their title first. */
export function foundIn(pages: readonly HandbookPage[], asked: string): HandbookPage[] {
  const words = asked.toLowerCase().split(/\s+/).filter(Boolean);
  const inTitle = ({ title }: HandbookPage): boolean => words.every((word) => title.toLowerCase().includes(word));
  return pages
    .filter((page) => words.every((word) => writtenOn(page).includes(word)))
    .sort((a, b) => Number(inTitle(b)) - Number(inTitle(a)));
}
