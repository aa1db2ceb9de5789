import { chemistries } from '@/core/chemistry/chemistries';
import { display, formatFigure } from '@/core/quantity/format';
import { mostThroughPlugA } from '@/core/packs/balancing';
import {
  type Remedies,
  type Remedy,
  type RemedyKind,
  topUpA,
  type Uneven,
  type WhyImpossible,
} from '@/core/packs/remedies';
import { counted } from './counted';
import { hoursText, millivolts, percentText, volts } from './figures';
import { type Sentences, sentenceOf } from './say';

const titles: Record<RemedyKind, string> = {
  bleed: 'Balance while charging',
  'top-up': 'Top up the low groups',
  drain: 'Drain the high groups',
  'charge-drain': 'Charge, drain the full ones, charge again',
  replace: 'Replace the bad group',
};

/** The name of a way to balance a pack. */
export const remedyText = (kind: RemedyKind): string => titles[kind];

/** Where one of the groups was not measured. */
export const readAllFirst = 'Measure all groups at rest first. What balances them depends on each.';

const amps = (value: number): string => formatFigure(value, display.current, 2);
const ampHours = (value: number): string => formatFigure(value, display.capacity, 2);
const longest = 'more than four days';

/** How long a way takes. */
export const remedyHours = ({ hours }: Pick<Remedy, 'hours'>): string =>
  hours === null ? longest : hoursText(hours * 3600);

const impossibles: Sentences<WhyImpossible> = {
  'no-connector': () => 'No balance connector is noted for this pack, so a charger does not see its groups.',
  'group-emptied': ({ position, leftAh }) =>
    leftAh <= 0
      ? `Group ${position} has less charge than that. It would be emptied.`
      : `Group ${position} would keep only ${ampHours(leftAh)}. That is below its reserve.`,
  'group-overcharged': ({ position, voltageV }) =>
    `Group ${position} would rise to ${volts(voltageV)}, above its end voltage.`,
};

/** Why a way is not for this pack. */
export const impossibleText = (why: WhyImpossible): string => sentenceOf(impossibles, why);

/** What the steps of a way need to know of the pack. */
export type Setup = Pick<Uneven, 'connector' | 'chemistry' | 'topUpCurrentA' | 'drainCurrentA'> & {
  series: number;
  capacityAh: number;
  charger: Pick<Uneven['charger'], 'currentA' | 'bleedA' | 'timerS'>;
};

/** What the steps of a way say of it. */
export type Stepped = Pick<Remedy, 'kind' | 'moves' | 'timerChance' | 'packV'>;

export const setupOf = (pack: Uneven): Setup => ({
  ...pack,
  series: pack.groups.length,
  capacityAh: Math.min(...pack.groups.map(({ capacityAh }) => capacityAh)),
});

/** Where the leads of a group are. */
const leadsOf = (position: number, { connector }: Setup): string => {
  if (connector === 'balance') return `pins ${position} and ${position + 1} of the balance connector (pin 1 is black)`;
  return connector === 'taps' ? 'its own two taps' : 'clips on its own cells';
};

const movesText = ({ moves }: Stepped, setup: Setup, verb: string, amperes: number): string[] =>
  moves.map(
    ({ position, chargeAh, stopV }) =>
      `Group ${position}: ${amps(amperes)} until ${ampHours(chargeAh)} ${verb}, at ${leadsOf(position, setup)}. Its ` +
      `leads then show about ${volts(stopV)} with the current on.`,
  );

const chargeSetting = ({ charger, series, chemistry }: Setup): string => {
  const { fullV, name } = chemistries[chemistry];
  return `Set ${name}, ${series} in series, ${amps(charger.currentA)}, ${volts(fullV)} a cell; balance connector in.`;
};

const checkAfter =
  'Wait an hour, then measure every group and enter it here. The result is compared with this forecast.';

/** What to do, with the settings and what one should see. */
export function remedySteps(remedy: Stepped, setup: Setup): string[] {
  const { charger, chemistry } = setup;
  const { family, fullV } = chemistries[chemistry];
  const ampsIn = topUpA(setup, setup.capacityAh);
  switch (remedy.kind) {
    case 'bleed':
      return [
        chargeSetting(setup),
        charger.timerS === null
          ? 'Let it run until it says that it is done.'
          : `Its timer ends at ${hoursText(charger.timerS)}` +
            (remedy.timerChance > 0.5 ? ': start it again until it ends by itself.' : '.'),
        `The high groups stay at their end and are bled by ${amps(charger.bleedA)} while the low ones rise to them.`,
        checkAfter,
      ];
    case 'top-up':
      return [
        'Measure the voltage at the two leads of the group. Red is the higher one.',
        family === 'lithium'
          ? `Set a charger for one cell: ${amps(ampsIn)}, then constant voltage at ${volts(fullV)}. Check the polarity.`
          : `Set a charger for one cell at ${amps(ampsIn)}. Check the polarity before you join it.`,
        ...movesText(remedy, setup, 'are in', ampsIn),
        `At rest the pack then shows about ${volts(remedy.packV)}.`,
        checkAfter,
      ];
    case 'drain':
      return [
        setup.connector === 'balance'
          ? 'Plug the balance connector into the device that drains.'
          : 'Clip a resistor or a load to each of these groups.',
        ...movesText(remedy, setup, 'are out', setup.drainCurrentA),
        `At rest the pack then shows about ${volts(remedy.packV)}.`,
        checkAfter,
      ];
    case 'charge-drain':
      return [
        `${chargeSetting(setup)} It ends as the first group is full.`,
        ...movesText(remedy, setup, 'are out', setup.drainCurrentA),
        `${chargeSetting(setup)} All groups now get full together.`,
        checkAfter,
      ];
    case 'replace':
      return [
        'Choose a spare of the same chemistry, size and rated capacity, with the resistance of its neighbours.',
        ...remedy.moves.map(({ position, chargeAh, stopV }) =>
          chargeAh === 0
            ? `For group ${position}: it is level with its neighbours.`
            : `For group ${position}: ${chargeAh > 0 ? 'charge' : 'drain'} the spare by ` +
              `${ampHours(Math.abs(chargeAh))} from half full, at most at half its capacity an hour; it then shows ` +
              `about ${volts(stopV)} with the current on.`,
        ),
        'Let it rest an hour. Within 20 mV of its neighbours it is joined.',
        'Open and close one joint at a time; keep the balance leads in their order, and measure each of them.',
        checkAfter,
      ];
  }
}

/** Of work at the joints of a pack. */
export const replaceCautions = [
  'Insulate every joint but the one you work at: a slipped tool is a short of hundreds of amperes.',
  'Heat from soldering hurts cells: weld, or solder on tabs.',
];

/** What to mind, where the action is. */
export function remedyCautions(remedy: Remedy, pack: Uneven): string[] {
  const { fullV } = chemistries[pack.chemistry];
  const shared = [
    'Never charge or discharge unattended. Use a surface that does not burn.',
    'Stop when anything gets warm.',
  ];
  const own = [
    ...(remedy.highestV > fullV + 0.005 ? [`A group is held at ${volts(remedy.highestV)} for a while.`] : []),
    ...(remedy.kind === 'top-up'
      ? ['The wrong way round shorts a group: measure before you join.', 'Insulate all leads but the two in use.']
      : []),
    ...(remedy.kind === 'top-up' && pack.connector === 'balance' && pack.topUpCurrentA > mostThroughPlugA
      ? [`Balance leads are thin: no more than ${amps(mostThroughPlugA)}. The forecast uses that.`]
      : []),
    ...(remedy.kind === 'replace' ? replaceCautions : []),
    ...(remedy.kind === 'drain' ? ['All groups are lower afterwards: charge it before use, or store it so.'] : []),
    ...(remedy.leftFraction > 0.04
      ? [`It leaves ${percentText(remedy.leftFraction)} of a group’s charge uneven.`]
      : []),
  ];
  return [...own, ...shared];
}

/** Why this way and not another. */
export function whyRecommended({ remedies, recommended, isEven, apartFraction }: Remedies): string {
  if (isEven && recommended === null)
    return `The groups are within ${percentText(Math.max(0.01, apartFraction))} of a full charge: nothing to balance.`;
  const best = remedies.find(({ kind }) => kind === recommended);
  if (!best) return 'None of these balances the groups within four days and within the limits of each.';
  if (best.kind === 'replace')
    return (
      `${remedyHours(best)}, ${remedyHours({ hours: best.attendedHours })} of them attended. ` +
      'Evening a bad group out does not last: it falls behind again.'
    );
  const others = remedies.filter((one) => one !== best);
  const beside = others.map((one) => `${remedyHours(one)} to ${verbs[one.kind]}`).join(', ');
  const aloneText = best.moves.length > 0 ? ` at the leads of ${counted(best.moves.length, 'group')}` : '';
  return (
    `${remedyHours(best)}${aloneText}, against ${beside}.` +
    (best.kind === 'top-up' ? ' It is by hand: mind the polarity.' : '') +
    (best.timerChance > 0.5 ? ' The charger’s timer ends it before: it has to be started again.' : '')
  );
}

const verbs: Record<RemedyKind, string> = {
  bleed: 'balance while charging',
  'top-up': 'top up',
  drain: 'drain',
  'charge-drain': 'charge, drain and charge again',
  replace: 'replace it',
};

/** A balanced pack is within its forecast up to this many times that, and never asked for less than this, V. */
const [asForecast, leastV] = [2, 0.01];

/**
 * What came of it, beside the forecast.
 *
 * @param apartV null while no groups were measured after the rest
 */
export function balancedText(
  { way, hours, spreadV: forecastV }: { way: RemedyKind; hours: number; spreadV: number },
  tookS: number,
  apartV: number | null,
  restLeftS: number,
): string {
  const took = `${remedyText(way)} took ${hoursText(tookS)} (forecast ${hoursText(hours * 3600)}).`;
  if (apartV === null)
    return restLeftS > 0
      ? `${took} Let it rest ${hoursText(restLeftS)} more, then measure every group. A reading before says too little.`
      : `${took} Measure every group now: the result is compared with the forecast.`;
  const result = `After a rest its groups are ${millivolts(apartV)} apart (forecast ${millivolts(forecastV)})`;
  return apartV <= Math.max(leastV, asForecast * forecastV)
    ? `${took} ${result}. It worked.`
    : `${took} ${result}. A low charge was not the only cause. Measure it again in a few days.`;
}
