import { chemistries } from '@/core/chemistry/chemistries';
import type {
  ChargerSheet,
  CurrentLimit,
  SheetGoal,
  SheetPack,
  SheetRefusal,
  SheetStep,
} from '@/core/planning/chargerSheet';
import type { Identity } from '@/core/planning/identify';
import { display, formatFigure } from '@/core/quantity/format';
import { counted } from './counted';
import { hoursText } from './figures';
import { type Sentences, sentenceOf } from './say';

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

/** As a charger is set and shows it. */
export const setV = (value: number): string => formatFigure(value, display.voltage, 2);
const amps = (value: number): string => formatFigure(value, display.current, 2);
const ampHours = (value: number): string => formatFigure(value, display.capacity, 2);

/** A pack as it is cross-checked: "11.1 V, 3 in series". */
export const identityText = ({ chemistry, series }: Identity): string =>
  `${(chemistries[chemistry].nominalV * series).toFixed(1)} V, ${series} in series, ${chemistries[chemistry].name}`;

const listed = (couldBe: readonly Identity[]): string => couldBe.map(identityText).join('; or ');

const refusals: Sentences<SheetRefusal> = {
  'group-count': ({ series, groups }) =>
    `${counted(groups, 'group')} were read, and the sheet is for ${series} in series: count them at the balance plug.`,
  'sum-apart': ({ sumV, measuredV }) =>
    `Its groups add up to ${setV(sumV)}, its terminals show ${setV(measuredV)}: one of the readings is wrong, or a ` +
    'group was left out.',
  'group-above-full': ({ position, voltageV, fullV }) =>
    `Group ${position} stands at ${setV(voltageV)}; one of this chemistry is full at ${setV(fullV)}. It is of ` +
    'another chemistry, or overcharged: do not charge it.',
  'not-its-voltage': ({ told, measuredV, couldBe }) =>
    `${setV(measuredV)} is not ${identityText(told)}.` +
    (couldBe.length > 0 ? ` It could be ${listed(couldBe)}.` : '') +
    ' Set the charger for what it is, not for what the last one was.',
  'perhaps-fewer': ({ told, measuredV, couldBe }) =>
    `${setV(measuredV)} could be ${listed(couldBe)}. Charged as ${told.series} in series a smaller pack burns: ` +
    'count its groups at the balance plug, or read each of them.',
  'perhaps-iron-phosphate': ({ measuredV, couldBe }) =>
    `${setV(measuredV)} could be ${listed(couldBe)}. Charged to 4.2 V iron phosphate is ruined: read its label or ` +
    'the print on its cells first.',
  'below-floor': ({ perGroupV, floorV }) =>
    `A group stands at ${setV(perGroupV)}, below its floor of ${setV(floorV)}: it is not charged the usual way. ` +
    'Only the attended rescue brings it up, where the house rules allow that.',
  'not-below-floor': ({ floorV }) => `No group lies below ${setV(floorV)}: charge it the usual way.`,
  'only-lithium-is-rescued': () => 'Nickel and lead-acid need no rescue: charge them at their lowest current, watched.',
  'rescue-forbidden': ({ rescues, rescuesAllowed }) =>
    rescuesAllowed === 0
      ? 'This house never charges lithium that lay below its floor: retire it.'
      : `It was rescued ${rescues === 1 ? 'once' : 'twice'} already, and the house allows no more: retire it.`,
  'too-low-for-rescue': ({ perGroupV, rescueFloorV }) =>
    `A group stands at ${setV(perGroupV)}, below ${setV(rescueFloorV)}: too low even for rescue. Retire it.`,
  'measure-first': () => 'Measure every group first: what is rescued depends on the lowest.',
  'no-mode': ({ needs }) =>
    /^\d/.test(needs)
      ? `This charger has no mode that ends at ${needs} V a cell: with another it is ruined, or burns.`
      : `This charger has no mode for ${needs === 'lead' ? 'lead-acid' : needs}: choose another.`,
  'does-not-balance': () => 'This charger does not balance: choose another, or even the groups out one by one.',
  'one-group': () => 'One group has nothing to be balanced with: charge it.',
  'balanced-otherwise': ({ family }) =>
    family === 'nickel'
      ? 'Nickel is evened out by its own slow charge: a tenth of its capacity for sixteen hours. Choose that charge.'
      : 'Lead-acid evens out while it is held at its end: choose the charge, and leave it on for some hours.',
  'cannot-discharge': () => 'This charger cannot discharge: use a load with a meter, and stay with it.',
  'step-too-coarse': ({ stepA, rateC }) =>
    `The smallest step of this charger, ${amps(stepA)}, is more than it bears (${rateC}C): use a smaller charger.`,
  'cycling-harms': () =>
    'Cycling gains lead-acid nothing and costs it life. To know its capacity, measure it once; else keep it full.',
  'run-down-elsewhere': () =>
    'It is not run flat here: that is common practice for two to four lithium cells in series and nickel. Take it ' +
    'to the recycler as it is, its terminals taped; local rules decide.',
};

/** Why there is no sheet for a pack and a goal. */
export const sheetRefusalText = (refusal: SheetRefusal): string => sentenceOf(refusals, refusal);

/** What to set, in the trade's terms. */
export function modeText(
  { chemistry }: Pick<SheetPack, 'chemistry'>,
  { goal, main, isBalanced }: ChargerSheet,
): string {
  const { family, fullV } = chemistries[chemistry];
  if (main === 'discharge') return 'Discharge at constant current';
  if (goal === 'rescue') return 'Constant current without a check of the count; attended';
  if (family === 'nickel') return 'Constant current, ended by the charge put in or the dip of the voltage';
  const mode = `Constant current, then constant voltage at ${setV(fullV)} a cell`;
  return isBalanced ? `${mode}; balance plug in` : mode;
}

const limitTexts: Record<CurrentLimit, string> = {
  rate: 'by its rate',
  amps: 'held down by the charger’s amperes',
  watts: 'held down by the charger’s watts at this voltage',
  plug: 'held down by the thin balance connector it goes through',
  rescued: 'gently, since it was rescued',
};

/** What made the current what it is. */
export const currentLimitText = (by: CurrentLimit): string => limitTexts[by];

/** One step of a sheet. */
export function sheetStepText({ kind, currentA, untilV, chargeAh, minutes }: SheetStep): string {
  if (kind === 'rest') return `Rest ${hoursText(minutes * 60)}.`;
  const verb = kind === 'charge' ? 'Charge' : 'Discharge';
  const until = untilV === null ? `until ${ampHours(chargeAh)} are in` : `until ${setV(untilV)}`;
  return `${verb} at ${amps(currentA)} ${until}: ${ampHours(chargeAh)}, about ${hoursText(minutes * 60)}.`;
}

/** What to see on the display when it is right. */
export function lookTexts(pack: Pick<SheetPack, 'chemistry'>, sheet: ChargerSheet): string[] {
  const { series, seen, main, goal } = sheet;
  const { startV, minuteV, endV, endA, movedAh } = seen;
  const count = `${series} in series`;
  const amperes = (main === 'charge' ? sheet.chargeA : sheet.dischargeA) ?? 0;
  const isNickel = chemistries[pack.chemistry].family === 'nickel' && main === 'charge';
  return [
    startV === null
      ? `At the start: ${count}, and the voltage that your meter shows.`
      : `At the start: ${count}, ${setV(startV)}, as your meter shows.`,
    `After a minute: ${amps(amperes)}` +
      (minuteV === null ? '' : `, about ${setV(minuteV)}`) +
      `, slowly ${main === 'charge' ? 'rising' : 'falling'}. Nothing warm.`,
    isNickel
      ? `At the end: ${ampHours(movedAh)} in, lukewarm at most.`
      : `At the end: ${setV(endV)}, ${amps(endA)}${goal === 'rescue' ? '' : `, about ${ampHours(movedAh)}`}.`,
  ];
}

const after: Record<SheetGoal, string> = {
  charge: 'Take it off. If it is not used within a day, bring it to storage.',
  balance: 'Take it off, let it rest an hour and read every group: that tells whether it lasts.',
  storage: 'Let it rest, read every group, and lay it away cool and dry. Look at it every month.',
  discharge: 'Let it rest half an hour; charge it to storage the same day.',
  capacity: 'Note what it gave, or import the log. It lies at storage now.',
  cycle: 'Note what each discharge gave. It lies at storage now.',
  rescue: 'At 3.0 V a group take it off: then a gentle balanced charge, rest, hold test, resistance, capacity.',
  'run-down':
    'Then a car lamp, outdoors, on what does not burn, attended; see that it stays flat, tape it, and follow what ' +
    'the local recycler wants.',
};

/** What to do once a sheet is done. */
export function afterText(chemistry: SheetPack['chemistry'], goal: SheetGoal): string {
  const { family } = chemistries[chemistry];
  if (family === 'lead' && (goal === 'storage' || goal === 'charge')) return 'Lead-acid stays full: charge it monthly.';
  if (family === 'nickel' && goal === 'charge') return 'Take it off. For long storage take a fifth out again.';
  return after[goal];
}

/** What to mind, where the action is. */
export function sheetCautions({ chemistry }: Pick<SheetPack, 'chemistry'>, { goal, main }: ChargerSheet): string[] {
  const { family } = chemistries[chemistry];
  return [
    'Check count, chemistry and polarity before the start.',
    'Stay with it: nothing is charged or discharged alone. On a surface that does not burn, a smoke alarm near.',
    'Take it off when it gets warm, swells or smells.',
    ...(goal === 'rescue'
      ? ['The charger is blind below the floor: a meter at every group, by the rescue guide.']
      : []),
    ...(goal === 'cycle' && chemistry === 'nicd'
      ? ['Only nickel-cadmium has a memory: it should give more with each cycle; where it does not, it is worn.']
      : []),
    ...(goal === 'cycle' && chemistry === 'nimh'
      ? ['Cycles wake a new or long stored pack: once two give the same within 3 %, more gain nothing.']
      : []),
    ...(goal === 'cycle' && family === 'lithium' ? ['Cycling gains lithium nothing: once, to measure it.'] : []),
    ...(family === 'lead' && main === 'charge' ? ['It makes gas: air, and no spark.'] : []),
  ];
}
