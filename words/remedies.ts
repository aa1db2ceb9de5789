import { chemistries } from '@/core/chemistry/chemistries';
import { display, formatFigure } from '@/core/quantity/format';
import { mostThroughPlugA } from '@/core/packs/balancing';
import { type Remedies, type Remedy, type RemedyKind, type Uneven } from '@/core/packs/remedies';
import { counted } from './counted';
import { hoursText, millivolts, percentText, volts } from './figures';

const titles: Record<RemedyKind, string> = {
  bleed: 'Balance while charging',
  'top-up': 'Top up the low groups',
  drain: 'Drain the high groups',
  'charge-drain': 'Charge, drain the full ones, charge again',
  replace: 'Replace the bad group',
};

/** What a way to even out a pack is called. */
export const remedyText = (kind: RemedyKind): string => titles[kind];

/** Where one of the groups was not read. */
export const readAllFirst = 'Read all of its groups at rest first: what evens them out depends on each.';

const amps = (value: number): string => formatFigure(value, display.current, 2);
const ampHours = (value: number): string => formatFigure(value, display.capacity, 2);
const longest = 'more than four days';

/** How long a way takes. */
export const remedyHours = ({ hours }: Pick<Remedy, 'hours'>): string =>
  hours === null ? longest : hoursText(hours * 3600);

const movesText = ({ moves }: Remedy, verb: string, amperes: number): string[] =>
  moves.map(
    ({ position, chargeAh, stopV }) =>
      `Group ${position}: ${amps(amperes)} until ${ampHours(chargeAh)} ${verb}; its leads then show about ` +
      `${volts(stopV)} with the current on.`,
  );

const chargeSetting = ({ charger, groups, chemistry }: Uneven): string => {
  const { fullV, name } = chemistries[chemistry];
  return `Set ${name}, ${groups.length} in series, ${amps(charger.currentA)}, ${volts(fullV)} a cell; balance plug in.`;
};

const checkAfter = 'Wait an hour, read every group again and enter it here: it is held against this.';

/** What to do, with the settings and what one should see. */
export function remedySteps(remedy: Remedy, pack: Uneven): string[] {
  const { charger } = pack;
  const topUpA = Math.min(pack.topUpCurrentA, mostThroughPlugA);
  switch (remedy.kind) {
    case 'bleed':
      return [
        chargeSetting(pack),
        charger.timerS === null
          ? 'Let it run until it says that it is done.'
          : `Its timer ends at ${hoursText(charger.timerS)}` +
            (remedy.timerChance > 0.5 ? ': start it again until it ends by itself.' : '.'),
        `The high groups stand at their end and are bled by ${amps(charger.bleedA)} while the low ones rise to them.`,
        checkAfter,
      ];
    case 'top-up':
      return [
        'Find the two leads of the group in the balance plug, black lead first; measure its voltage there.',
        `Set a charger for one cell at ${amps(topUpA)}; check the polarity before it is joined.`,
        ...movesText(remedy, 'are in', topUpA),
        checkAfter,
      ];
    case 'drain':
      return [
        'Put the balance plug into what drains.',
        ...movesText(remedy, 'are out', pack.drainCurrentA),
        checkAfter,
      ];
    case 'charge-drain':
      return [
        `${chargeSetting(pack)} It ends as the first group is full.`,
        ...movesText(remedy, 'are out', pack.drainCurrentA),
        `${chargeSetting(pack)} All groups now get full together.`,
        checkAfter,
      ];
    case 'replace':
      return [
        'Choose a spare of the same chemistry, size and rated capacity, with the resistance of its neighbours.',
        ...remedy.moves.map(({ position, chargeAh, stopV }) =>
          chargeAh === 0
            ? `For group ${position}: it stands where its neighbours do.`
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
    'Stay with it: nothing is charged or discharged alone. On a surface that does not burn.',
    'Stop when anything gets warm.',
  ];
  const own = [
    ...(remedy.highestV > fullV + 0.005 ? [`A group is held at ${volts(remedy.highestV)} for a while.`] : []),
    ...(remedy.kind === 'top-up'
      ? ['The wrong way round shorts a group: measure before you join.', 'Insulate all leads but the two in use.']
      : []),
    ...(remedy.kind === 'top-up' && pack.topUpCurrentA > mostThroughPlugA
      ? [`Balance leads are thin: no more than ${amps(mostThroughPlugA)}, and that is what is reckoned with.`]
      : []),
    ...(remedy.kind === 'replace' ? replaceCautions : []),
    ...(remedy.kind === 'drain' ? ['All groups are lower afterwards: charge it before use, or store it so.'] : []),
    ...(remedy.leftShare > 0.04 ? [`It leaves ${percentText(remedy.leftShare)} of a group’s charge uneven.`] : []),
  ];
  return [...own, ...shared];
}

/** Why this way and not another. */
export function whyRecommended({ remedies, recommended, isEven, apartShare }: Remedies): string {
  if (isEven && recommended === null)
    return `The groups stand within ${percentText(Math.max(0.01, apartShare))} of a charge: nothing to even out.`;
  const best = remedies.find(({ kind }) => kind === recommended);
  if (!best) return 'None of these brings the groups together within four days.';
  if (best.kind === 'replace')
    return (
      `${remedyHours(best)}, of which somebody is there ${remedyHours({ hours: best.attendedHours })}. ` +
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

/** A pack evened out is within what was foretold up to so many times that, and never asked for less than this, V. */
const [asForetold, leastV] = [2, 0.01];

/** What came of it, beside what was foretold; null while no groups were read since. */
export function evenedText(
  { way, hours, spreadV: foretoldV }: { way: RemedyKind; hours: number; spreadV: number },
  tookS: number,
  spreadV: number | null,
): string {
  const took = `${remedyText(way)} took ${hoursText(tookS)}, foretold ${hoursText(hours * 3600)}.`;
  if (spreadV === null) return `${took} Let it rest, then read every group: that is held against what was foretold.`;
  const stands = `Rested, its groups stand ${millivolts(spreadV)} apart, foretold ${millivolts(foretoldV)}`;
  return spreadV <= Math.max(leastV, asForetold * foretoldV)
    ? `${took} ${stands}: it worked.`
    : `${took} ${stands}: it was not the charge alone. Read it again in some days.`;
}
