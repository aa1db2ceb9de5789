import { type Chemistry, chemistries, chemistryKeys } from '@/core/chemistry/chemistries';
import {
  type HouseRules,
  presetKeys,
  presetRules,
  type RuleKey,
  ruleBook,
  ruleKeys,
} from '@/core/chemistry/houseRules';
import { curveOfMake, hysteresisOf, type Make, makes, openCircuitOf, usualMakes } from '@/core/chemistry/openCircuit';
import { display, formatFigure } from '@/core/quantity/format';
import { methodKeys, methods } from '@/core/resistance/methods';
import type { CodeHandbook, CodePage } from '@/docs/handbook';
import { cautions } from '@/words/cautions';
import { makeNames } from '@/words/chemistry';
import { hoursText, setV } from '@/words/figures';
import { ruleFigure } from '@/words/houseRules';

export const pageKinds = ['caution', 'house rule', 'chemistry', 'table', 'method', 'limit', 'formula'] as const;
export type PageKind = (typeof pageKinds)[number];

/** One page of the handbook. */
export interface HandbookPage {
  key: string;
  kind: PageKind;
  title: string;
  /** What it is and why, with the schools where they disagree. */
  text: string;
  /** Where it comes from. */
  source: string;
  figures: { name: string; figure: string }[];
  /** Limits and formulas that it goes by. */
  goesBy: { key: string; title: string; figure: string | null }[];
  /** House rules that change it. */
  rules: RuleKey[];
  /** What it is used for. */
  usedFor: string[];
}

/** Every page: by the rules, chemistries, tables and methods themselves, and what the code says of its figures. */
export const pagesOf = ({ pages, ruleUses }: CodeHandbook, limits: HouseRules): HandbookPage[] => {
  const byKey = new Map(pages.map((page) => [page.key, page]));
  return [
    {
      key: 'cautions',
      kind: 'caution',
      title: 'Cautions that always apply',
      text: cautions.join(' '),
      source: 'common practice',
      figures: [],
      goesBy: [],
      rules: [],
      usedFor: ['Everything that is charged, discharged, probed, kept or carried.'],
    },
    ...ruleKeys.map((key) => rulePage(key, limits, ruleUses[key] ?? [])),
    ...chemistryKeys.map(chemistryPage),
    ...chemistryKeys.flatMap((key) => (key === 'alkaline' ? [] : [curvePage(key)])),
    curvePage('li-ion', 'cobalt'),
    curvePage('li-ion', 'manganese'),
    ...methodKeys.map(methodPage),
    ...pages.map((page) => codePage(page, byKey)),
  ];
};

function rulePage(key: RuleKey, limits: HouseRules, uses: readonly string[]): HandbookPage {
  const { title, reason } = ruleBook[key];
  return {
    key,
    kind: 'house rule',
    title,
    text: reason,
    source: /from memory/i.test(reason) ? 'from memory' : 'common practice',
    figures: [
      { name: 'in force here', figure: ruleFigure(key, limits[key]) },
      ...presetKeys.map((preset) => ({ name: preset, figure: ruleFigure(key, presetRules(preset)[key]) })),
    ],
    goesBy: [],
    rules: [key],
    usedFor: [...uses],
  };
}

/** Not common practice, but from memory. */
const fullFromMemory: readonly Chemistry[] = ['lfp', 'sla', 'nimh', 'nicd'];

function chemistryPage(key: Chemistry): HandbookPage {
  const { name, nominalV, fullV, lowestV, rechargeable } = chemistries[key];
  return {
    key: `chemistry-${key}`,
    kind: 'chemistry',
    title: name,
    text: rechargeable
      ? 'Limits of one cell; for a stack multiply by the number of cells. The data sheet of a cell comes first.'
      : 'Primary cells are never charged.',
    source:
      fullFromMemory.includes(key) || key === 'alkaline' ? 'common practice, partly from memory' : 'common practice',
    figures: [
      { name: 'nominal', figure: setV(nominalV) },
      ...(rechargeable ? [{ name: 'charge end', figure: setV(fullV) }] : [{ name: 'new', figure: setV(fullV) }]),
      { name: 'lowest, loaded', figure: setV(lowestV) },
    ],
    goesBy: [],
    rules: rulesOf(key),
    usedFor: ['What is charged and discharged, how far, and what a reading may be.'],
  };
}

function rulesOf(key: Chemistry): RuleKey[] {
  if (key === 'li-ion') return ['lowestCylindricalV', 'chargeCylindricalC', 'storageLithiumV', 'alarmCylindricalV'];
  if (key === 'lipo') return ['lowestPouchV', 'chargePouchC', 'storageLithiumV', 'alarmPouchV'];
  if (key === 'lihv') return ['lowestPouchV', 'chargePouchC'];
  if (key === 'lfp') return ['lowestIronPhosphateV', 'chargeCylindricalC'];
  if (key === 'sla') return ['chargeLeadC', 'leadReserve'];
  return key === 'alkaline' ? [] : ['chargeNickelC'];
}

const shares = [0, 5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 95, 100];

/** How the make of a cylindrical cell is chosen. */
const makesText =
  'Cylindrical cells have one of three positive electrodes: ' +
  makes.map((make) => `${makeNames[make]} ${Math.round(100 * usualMakes[make])} %`).join(', ') +
  ' of salvaged cells, from memory. A discharge from full chooses between them by its mean voltage. ' +
  'So does the designation of a model: the letter C, N or M after the first I, as in ICR (IEC 61960, from memory). ' +
  'Until then the make is unknown and the uncertainty of the charge includes all three.';

/** The curve of a chemistry; of a cylindrical cell, by its make. */
function curvePage(key: Exclude<Chemistry, 'alkaline'>, make: Make = 'mixed-oxide'): HandbookPage {
  const isCylindrical = key === 'li-ion';
  const curve = isCylindrical ? curveOfMake(make) : openCircuitOf(key);
  const limit = formatFigure(curve.uAt(0.5) * Math.sqrt(3), display.milliVolt);
  const hysteresis = hysteresisOf(key);
  return {
    key: make === 'mixed-oxide' ? `curve-${key}` : `curve-${make}`,
    kind: 'table',
    title: `${chemistries[key].name}${isCylindrical ? `, ${makeNames[make]}` : ''}: rested voltage against charge`,
    text: [
      `Open-circuit voltage of one cell at rest. A cell may differ from this curve by up to ${limit} either way.`,
      'Where the curve is flat, a voltage shows little of the charge.',
      ...(hysteresis > 0
        ? [
            `After a charge the cell rests up to ${formatFigure(hysteresis, display.milliVolt)} higher, after a ` +
              'discharge as much lower. The limit includes that.',
          ]
        : []),
      ...(isCylindrical ? [makesText] : []),
      'A curve measured in a slow discharge of the same model replaces it.',
    ].join(' '),
    source: curve.source,
    figures: shares.map((share) => ({ name: `${share} %`, figure: setV(curve.voltageAt(share / 100)) })),
    goesBy: [],
    rules: [],
    usedFor: ['Charge from a rested voltage, charging times, a partial charge, the diagnosis of groups.'],
  };
}

function methodPage(key: (typeof methodKeys)[number]): HandbookPage {
  const { name, does, seenAfter, typed, example } = methods[key];
  return {
    key: `method-${key}`,
    kind: 'method',
    title: `Resistance: ${name}`,
    text: does,
    source: key === 'two-current' ? 'published: IEC 61960-3, from memory' : 'common practice',
    figures: [
      { name: 'looks at', figure: seenAfter },
      { name: typed, figure: example },
    ],
    goesBy: [],
    rules: [],
    usedFor: ['Rounds of resistance; figures compare only within one protocol.'],
  };
}

const codePage = (
  { key, kind, title, text, source, values, worked, goesBy, usedFor, rules }: CodePage,
  byKey: ReadonlyMap<string, CodePage>,
): HandbookPage => ({
  key,
  kind,
  title,
  text,
  source,
  figures: [
    ...worked,
    ...values.flatMap(({ name, value, unit, told }) =>
      value === null && told === '' ? [] : [{ name, figure: value === null ? told : figureText(value, unit) }],
    ),
  ],
  goesBy: goesBy.flatMap((by) => {
    const page = byKey.get(by);
    if (!page) return [];
    const [one, ...more] = page.values;
    const isOne = one !== undefined && more.length === 0 && one.value !== null;
    return [{ key: by, title: page.title, figure: isOne ? figureText(one.value ?? NaN, one.unit) : null }];
  }),
  rules,
  usedFor,
});

/** A plain number of the code as people read it. */
function figureText(value: number, unit: string): string {
  if (unit === 'ms' || (unit === 's' && value >= 7200)) return hoursText(unit === 'ms' ? value / 1000 : value);
  if (unit === 'share') return `${Number((100 * value).toPrecision(6))} %`;
  return `${Number(value.toPrecision(12))} ${unit}`.trim();
}

/** All that is written on a page, for a search by any word of it. */
const writtenOn = ({ title, text, source, kind, figures, usedFor, rules }: HandbookPage): string =>
  [
    title,
    text,
    source,
    kind,
    ...figures.flatMap(({ name, figure }) => [name, figure]),
    ...usedFor,
    ...rules.map((rule) => ruleBook[rule].title),
  ]
    .join(' ')
    .toLowerCase();

/** The pages that have every word of it; those with it in their title first. */
export function foundIn(pages: readonly HandbookPage[], asked: string): HandbookPage[] {
  const words = asked.toLowerCase().split(/\s+/).filter(Boolean);
  const inTitle = ({ title }: HandbookPage): boolean => words.every((word) => title.toLowerCase().includes(word));
  return pages
    .filter((page) => words.every((word) => writtenOn(page).includes(word)))
    .sort((a, b) => Number(inTitle(b)) - Number(inTitle(a)));
}

/** The pages that a verdict, a warning or a refusal goes by; where none is named beside it, all of its room. */
export function saidWithin(
  { saidBy, pages: own }: CodeHandbook,
  code: string,
  pages: readonly HandbookPage[],
): { pages: HandbookPage[]; isNamed: boolean } | null {
  const said = Object.hasOwn(saidBy, code) ? saidBy[code] : undefined;
  const isNamed = said !== undefined && said.pages.length > 0;
  const inRooms = own.filter(({ room }) => said?.rooms.includes(room)).map(({ key }) => key);
  const keys = isNamed ? said.pages : inRooms;
  return keys.length === 0 ? null : { pages: pages.filter(({ key }) => keys.includes(key)), isNamed };
}
