import { chemistries, type Chemistry } from '@/core/chemistry/chemistries';
import type { Identity } from '@/core/planning/identify';
import type { ChargerSheet, LimitedBy, SheetGoal, SheetRefusal, SheetStep } from '@/core/planning/sheet';
import { display, formatFigure } from '@/core/quantity/format';
import type { SubjectState } from '@/core/state/subjectState';
import { counted } from './counted';
import { hoursText, millivolts, setV } from './figures';
import { type Sentences, sentenceOf } from './say';
import { unfitText } from './unfit';

/** What a charger is to do, as it is chosen. */
export const goalTexts: Record<SheetGoal, string> = {
  charge: 'charge',
  balance: 'charge and balance',
  storage: 'bring to storage',
  discharge: 'discharge',
  capacity: 'measure the capacity',
  cycle: 'cycle',
  rescue: 'rescue from below its floor',
  'run-down': 'run down for recycling',
};

const amps = (value: number): string => formatFigure(value, display.current, 2);
const ampHours = (value: number): string => formatFigure(value, display.capacity, 2);

/** A pack as it is cross-checked: "11.1 V, 3 in series". */
export const identityText = ({ chemistry, series }: Identity): string =>
  `${(chemistries[chemistry].nominalV * series).toFixed(1)} V, ${series} in series, ${chemistries[chemistry].name}`;

const listed = (couldBe: readonly Identity[]): string => couldBe.map(identityText).join('; or ');

const refusals: Sentences<SheetRefusal> = {
  'group-count': ({ series, groups }) =>
    `${counted(groups, 'group')} measured, but the sheet is for ${series} in series. Count the groups at the balance ` +
    'connector.',
  'sum-apart': ({ sumV, measuredV }) =>
    `The groups add up to ${setV(sumV)}, the terminals show ${setV(measuredV)}. One reading is wrong, or a group is ` +
    'missing. Measure each group again.',
  'dead-terminals': ({ measuredV, series }) =>
    `The terminals show ${setV(measuredV)}. Never divide that by ${series} groups and never force a charge. Measure ` +
    'each group at the balance connector. Groups that are fine mean that the board has cut off.',
  'group-above-full': ({ position, voltageV, fullV }) =>
    `Group ${position} is at ${setV(voltageV)}; this chemistry is full at ${setV(fullV)}. The cells are of another ` +
    'chemistry, or overcharged. Do not charge them.',
  'not-its-voltage': ({ told, measuredV, couldBe }) =>
    `${setV(measuredV)} is not ${identityText(told)}.` +
    (couldBe.length > 0 ? ` It could be ${listed(couldBe)}.` : '') +
    ' Set the charger for this pack, not for the last one.',
  'perhaps-fewer': ({ told, measuredV, couldBe }) =>
    `${setV(measuredV)} could be ${listed(couldBe)}. Charged as ${told.series} in series, a smaller pack burns. ` +
    'Count the groups at the balance connector, or measure each of them.',
  'perhaps-iron-phosphate': ({ measuredV, couldBe }) =>
    `${setV(measuredV)} could be ${listed(couldBe)}. Charged to 4.2 V, iron phosphate is ruined. Read the label or ` +
    'the print on the cells first.',
  scrapped: () => 'Its inspection rules out any charge. Look at its verdict.',
  retired: () => 'This pack is retired. Nothing more is done with it.',
  apart: () => 'This pack was taken apart.',
  'put-away': () => 'Its batch was put away.',
  'built-in': () => 'This cell is built into a pack. Use the pack’s sheet.',
  'primary-cell': () => 'A primary cell is never charged. It leaks, or bursts.',
  'measure-first': () => 'Measure each group first. Terminal voltage does not show a low or a full group.',
  'board-cut-off': () =>
    'The groups are alive and the terminals are dead: the board has cut off. Do not force a charge at the terminals. ' +
    'Wake the board at its charge input, or charge at the balance connector. Then measure the terminals again.',
  'below-floor': ({ position, perGroupV, floorV }) =>
    `Group ${position} is at ${setV(perGroupV)}, below its floor of ${setV(floorV)}. Only the attended rescue brings ` +
    'it up, where the house rules allow one.',
  'not-below-floor': ({ floorV }) => `No group is below ${setV(floorV)}. Charge the pack as usual.`,
  'only-lithium-is-rescued': () =>
    'Nickel and lead-acid need no rescue. Charge them at their lowest current, and watch them.',
  'rescue-forbidden': ({ rescues, rescuesAllowed }) =>
    rescuesAllowed === 0
      ? 'This house never charges lithium that was below its floor. Retire it.'
      : `It was rescued ${rescues === 1 ? 'once' : 'twice'} already, and the house allows no more. Retire it.`,
  'too-low-for-rescue': ({ position, perGroupV, rescueFloorV }) =>
    `Group ${position} is at ${setV(perGroupV)}, below ${setV(rescueFloorV)}: too low even for a rescue. Retire it.`,
  'not-watched': () =>
    'This pack has no balance connector, so the charger cannot see its groups. Bring up a low group alone, at its ' +
    'own leads.',
  'balance-first': ({ lowest, apartV }) =>
    `The groups are ${millivolts(apartV)} apart, group ${lowest} is the lowest. Balance the pack first: otherwise ` +
    'the full group is overcharged, or the low group is emptied.',
  empty: ({ position }) => `Group ${position} is nearly empty. Charge the pack first.`,
  'rescued-untested': () => 'This pack was rescued. Test its self-discharge, resistance and capacity before any use.',
  unfit: ({ reason }) => unfitText(reason),
  'no-mode': ({ needs }) =>
    /^\d/.test(needs)
      ? `This charger has no mode that ends at ${needs} V a cell. Another mode ruins the pack, or burns it.`
      : `This charger has no mode for ${needs === 'lead' ? 'lead-acid' : needs}. Choose another charger.`,
  'charger-blind': ({ packV, lowestPackV }) =>
    `The pack is at ${setV(packV)}. This charger recognises a pack from ${setV(lowestPackV)}. Choose another ` +
    'charger; do not force it.',
  'too-few-channels': ({ channels, series }) =>
    `This charger balances ${counted(channels, 'group')}; the pack has ${series}. Choose another charger.`,
  'does-not-balance': () => 'This charger does not balance. Choose another one, or bring up the low group alone.',
  'one-group': () => 'One group has nothing to balance with. Charge it.',
  'balanced-otherwise': ({ family }) =>
    family === 'nickel'
      ? 'A slow charge balances nickel: 0.1C for 16 hours. Choose that charge.'
      : 'Lead-acid balances while the charger holds the end voltage. Choose the charge, and leave it on for hours.',
  'cannot-discharge': () => 'This charger cannot discharge. Use a load with a meter, and stay with it.',
  'step-too-coarse': ({ stepA, mostA, by }) =>
    `The smallest step of this charger, ${amps(stepA)}, is above the limit of ` +
    `${formatFigure(mostA, display.current)} (${limitTexts[by]}). Use a smaller charger.`,
  'end-beyond-limits': ({ perGroupV, fromV, toV }) =>
    `${setV(perGroupV)} a cell is outside its limits. Choose an end from ${setV(fromV)} to ${setV(toV)}.`,
  'cycling-harms': () => 'Cycling shortens the life of lead-acid. Measure its capacity once; otherwise keep it full.',
  'run-down-elsewhere': () =>
    'Do not run it flat here. That is common practice for two to four lithium cells in series and for nickel. Take ' +
    'it to the recycler undischarged, with its terminals taped; local rules decide.',
};

/** Why there is no sheet for a pack and a goal. */
export const sheetRefusalText = (refusal: SheetRefusal): string => sentenceOf(refusals, refusal);

/** What to set, in the trade's terms. */
export function modeText(
  { chemistry }: { chemistry: Chemistry },
  { goal, main, isBalanced, isByCharge, endV, series }: ChargerSheet,
): string {
  const { family } = chemistries[chemistry];
  if (main === 'discharge')
    return isByCharge ? 'Discharge at constant current; ends by charge' : 'Discharge at constant current';
  if (goal === 'rescue') return 'Constant current, a nickel or direct mode; balance connector off; attended throughout';
  if (family === 'nickel') return 'Constant current; ends by charge, or at the voltage dip';
  const mode = `Constant current, then constant voltage at ${setV(endV / series)} a cell`;
  return isBalanced ? `${mode}; balance connector in` : mode;
}

const limitTexts: Record<LimitedBy, string> = {
  house: 'by the house rules',
  label: 'by its label',
  charger: 'by the charger’s current',
  power: 'by the charger’s power at this voltage',
  plug: 'limited by the balance connector',
  rescued: 'low after a rescue',
  'weakest-group': 'by its weakest group',
  'gentle-start': 'low at first: nearly empty',
  wanted: 'as entered',
};

/** What limits the current. */
export const currentLimitText = (by: LimitedBy): string => limitTexts[by];

/** One step of a sheet. */
export function sheetStepText({ kind, currentA, untilV, chargeAh, minutes }: SheetStep): string {
  if (kind === 'rest') return `Rest ${hoursText(minutes * 60)}.`;
  const verb = kind === 'charge' ? 'Charge' : 'Discharge';
  if (chargeAh <= 0) return 'Nothing to do: it is at this charge already.';
  const moved = `${ampHours(chargeAh)} ${kind === 'charge' ? 'in' : 'out'}`;
  const until = untilV === null ? moved : `${setV(untilV)}, about ${moved}`;
  return `${verb} at ${amps(currentA)} until ${until}: ${hoursText(minutes * 60)}.`;
}

/** What to see on the display when it is right. */
export function lookTexts({ chemistry }: { chemistry: Chemistry }, sheet: ChargerSheet): string[] {
  const { series, seen, main, goal, forecast, gentle, isByCharge } = sheet;
  const { startV, endV, endA, movedAh } = seen;
  const count = `${series} in series`;
  const setA = gentle?.currentA ?? (main === 'charge' ? sheet.chargeA : sheet.dischargeA) ?? 0;
  const isFalling = main === 'charge' && forecast.afterMinuteA < 0.95 * setA;
  const isNickel = chemistries[chemistry].family === 'nickel' && main === 'charge';
  const rests = `. After a rest: about ${setV(forecast.endRestV)}`;
  const ends =
    isByCharge || isNickel
      ? `At the end: ${ampHours(movedAh)} ${main === 'charge' ? 'in' : 'out'}` +
        (isNickel ? ', lukewarm at most.' : `${rests}.`)
      : `At the end: ${setV(endV)}, ${amps(endA)}${goal === 'rescue' ? '' : `, about ${ampHours(movedAh)}${rests}`}.`;
  return [
    startV === null
      ? `At the start: ${count}, and the voltage that your meter shows.`
      : `At the start: ${count}, ${setV(startV)}, as your meter shows.`,
    `After a minute: ${amps(forecast.afterMinuteA)}, about ${setV(forecast.afterMinuteV)}. ` +
      (isFalling ? 'The current falls already. ' : `The voltage ${main === 'charge' ? 'rises' : 'falls'} slowly. `) +
      'Nothing is warm.',
    ...(gentle
      ? [`Up to ${setV(gentle.untilV)}: ${amps(gentle.currentA)} only. Then ${amps(sheet.chargeA ?? 0)}.`]
      : []),
    ...watchTexts(sheet),
    ends,
  ];
}

const after: Record<SheetGoal, string> = {
  charge: 'Disconnect it. If you do not use it within a day, bring it to storage charge.',
  balance: 'Disconnect it, let it rest for an hour and measure every group. That shows whether the balance lasts.',
  storage: 'Let it rest, measure every group, and store it cool and dry. Check it every month.',
  discharge: 'Let it rest for half an hour. Charge it to storage the same day.',
  capacity: 'Enter the discharged capacity, or import the log. It is at storage charge now.',
  cycle: 'Enter the capacity of each discharge. It is at storage charge now.',
  rescue:
    'Disconnect it at 3.0 V a group. Then: gentle balanced charge, rest, self-discharge test, resistance, capacity.',
  'run-down':
    'Then a car lamp, outdoors, on a surface that does not burn, attended. Check that it stays flat, and tape it. ' +
    'The local recycler says the rest.',
};

/** A discharge of several groups is watched group by group. */
function watchTexts({ main, series, weakest, floorPerGroupV, dischargeA }: ChargerSheet): string[] {
  if (dischargeA === null || series < 2) return [];
  const which = weakest === null ? 'any group' : `group ${weakest}`;
  const watch = main === 'charge' ? 'While it discharges watch' : 'Watch';
  return [`${watch} every group: stop when ${which} is at ${setV(floorPerGroupV)}.`];
}

/** What to do once a sheet is done. */
export function afterText(chemistry: Chemistry, goal: SheetGoal): string {
  const { family } = chemistries[chemistry];
  if (family === 'lead' && (goal === 'storage' || goal === 'charge')) return 'Keep lead-acid full: charge it monthly.';
  if (family === 'lead' && goal === 'capacity') return 'Charge it again at once. Keep lead-acid full.';
  if (family === 'nickel' && goal === 'charge') return 'Disconnect it. For long storage, discharge 20 % again.';
  return after[goal];
}

/** What to mind, where the action is. */
export function sheetCautions({ chemistry }: { chemistry: Chemistry }, sheet: ChargerSheet): string[] {
  const { goal, main, isBlind, dischargeA } = sheet;
  const { family } = chemistries[chemistry];
  return [
    'Check count, chemistry and polarity before the start.',
    'Never charge or discharge unattended. Use a surface that does not burn, with a smoke alarm near.',
    'Disconnect it if it gets warm, swells or smells.',
    ...(isBlind ? ['Its charge is not known, so these are the longest times. Measure its voltage at rest.'] : []),
    ...(goal === 'rescue'
      ? ['Below the floor the charger does not see the groups. Measure every group as the rescue guide says.']
      : []),
    ...(goal === 'cycle' && chemistry === 'nicd'
      ? ['Only nickel-cadmium has a memory effect. The capacity should rise with each cycle. If not, it is worn.']
      : []),
    ...(goal === 'cycle' && chemistry === 'nimh'
      ? ['Cycles activate a new or long-stored pack. Stop when two cycles agree within 3 %.']
      : []),
    ...(goal === 'cycle' && family === 'lithium'
      ? ['Lithium gains nothing from cycling. One cycle measures the capacity.']
      : []),
    ...(family === 'lead' && main === 'charge' ? ['Lead-acid makes gas. Ventilate, and avoid sparks.'] : []),
    ...(family === 'lead' && dischargeA !== null
      ? [
          goal === 'discharge'
            ? 'The discharge stops at the reserve of lead-acid. A deeper discharge shortens its life.'
            : 'This is a full discharge. Do it rarely: it shortens the life of lead-acid.',
        ]
      : []),
  ];
}

/** Whether a state is enough for a sheet, for the page. */
export const stateIdentity = ({ chemistry, series }: SubjectState): string =>
  chemistry === 'alkaline' ? 'Primary cells' : identityText({ chemistry, series });
