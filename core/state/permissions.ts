import { chemistries } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import { handOverV } from '../judging/handOver';
import type { UnfitReason } from '../judging/fitForUse';
import type { OutOfService } from './facts';
import type { GroupState, SubjectState } from './subjectState';

/** Whatever may be done with a cell or pack. */
export type Act =
  | 'charge'
  | 'balance'
  | 'top-up'
  | 'drain'
  | 'store'
  | 'discharge'
  | 'capacity-test'
  | 'self-discharge-test'
  | 'resistance'
  | 'use'
  | 'rescue'
  | 'join'
  | 'retire';

/** Why something is not done, with the facts and the house rule. */
export type Barrier = (
  | { code: OutOfService | 'primary-cell' | 'measure-first' | 'one-group' | 'only-lithium-is-rescued' | 'not-watched' }
  | { code: 'board-cut-off' }
  | { code: 'below-floor'; position: number; perGroupV: number; floorV: number }
  | { code: 'group-above-full'; position: number; voltageV: number; fullV: number }
  | { code: 'balanced-otherwise'; family: 'nickel' | 'lead' }
  | { code: 'balance-first'; lowest: number; apartV: number }
  | { code: 'empty'; position: number }
  | { code: 'rescued-untested' }
  | { code: 'not-below-floor'; floorV: number }
  | { code: 'rescue-forbidden'; rescues: number; rescuesAllowed: number }
  | { code: 'too-low-for-rescue'; position: number; perGroupV: number; rescueFloorV: number }
  | { code: 'unfit'; reason: UnfitReason }
) & { rule?: RuleKey };

/** What is asked before it is done. */
export type Question = { code: 'not-full'; position: number; fraction: number } | { code: 'charge-not-known' };

export type Allowed = { allowed: true; asks: Question[] };
/** What is done first: another act, or measuring; null where nothing helps. */
export type Refused = { allowed: false; because: Barrier[]; first: Act | 'measure' | null };
export type Permission = Allowed | Refused;

/** A group with less than this is empty, a fraction: neither loaded for ten seconds nor handed out. From memory. */
const emptyBelow = 0.1;
/** A pack with more counts as charged, a fraction. */
const chargedFrom = 0.9;

/** Whether an act may be done now. */
export function permission(state: SubjectState, act: Act, rules: HouseRules): Permission {
  const because = barriers(state, act, rules);
  const [first] = because;
  if (first) return { allowed: false, because, first: firstStep(first) };
  return { allowed: true, asks: act === 'use' ? questions(state) : [] };
}

/** What clears a barrier. */
function firstStep({ code }: Barrier): Refused['first'] {
  switch (code) {
    case 'below-floor':
      return 'rescue';
    case 'balance-first':
      return 'balance';
    case 'empty':
      return 'charge';
    case 'measure-first':
    case 'board-cut-off':
      return 'measure';
    case 'rescued-untested':
      return 'self-discharge-test';
    case 'too-low-for-rescue':
    case 'rescue-forbidden':
      return 'retire';
    default:
      return null;
  }
}

function barriers(state: SubjectState, act: Act, rules: HouseRules): Barrier[] {
  const { outOfService } = state;
  if (act === 'retire')
    return outOfService === 'retired' || outOfService === 'put-away' ? [{ code: outOfService }] : [];
  if (outOfService) return [{ code: outOfService }];
  if (state.chemistry === 'alkaline' && act !== 'resistance') return [{ code: 'primary-cell' }];
  if (act === 'rescue') return againstRescue(state, rules);
  const voltages = againstVoltages(state, act);
  return voltages.length > 0 ? voltages : againstAct(state, act);
}

/** These work at the single groups, behind the board. */
const atTheGroups: readonly Act[] = ['balance', 'top-up', 'drain', 'self-discharge-test', 'join'];

function againstVoltages(state: SubjectState, act: Act): Barrier[] {
  const { belowFloor, mayBeLow, aboveFull, limits, board } = state;
  if (aboveFull) return [{ code: 'group-above-full', fullV: limits.endV, ...aboveFull }];
  if (belowFloor) {
    const { position, voltageV: perGroupV } = belowFloor;
    return [{ code: 'below-floor', position, perGroupV, floorV: limits.floorV }];
  }
  if (mayBeLow) return [{ code: 'measure-first' }];
  return board === 'cut-off' && !atTheGroups.includes(act) ? [{ code: 'board-cut-off' }] : [];
}

function againstAct(state: SubjectState, act: Act): Barrier[] {
  const { series, chemistry, imbalance } = state;
  const { family } = chemistries[chemistry];
  switch (act) {
    case 'balance':
      if (series < 2) return [{ code: 'one-group' }];
      return family === 'lithium'
        ? []
        : [{ code: 'balanced-otherwise', family: family === 'nickel' ? family : 'lead' }];
    case 'top-up':
    case 'drain':
      return series < 2 ? [{ code: 'one-group' }] : [];
    case 'store':
    case 'capacity-test':
      return unbalanced(imbalance);
    case 'resistance':
      return emptyGroup(state);
    case 'join':
      return againstTrust(state);
    case 'use':
      return [...againstTrust(state), ...unbalanced(imbalance), ...emptyGroup(state)];
    default:
      return [];
  }
}

/** What was found of it, and tests that are missing after a rescue. */
const againstTrust = ({ unfit, isUntested }: SubjectState): Barrier[] => [
  ...unfit.map((reason): Barrier => ({ code: 'unfit', reason, ...(reason.rule && { rule: reason.rule }) })),
  ...(isUntested ? [{ code: 'rescued-untested' as const }] : []),
];

const unbalanced = (imbalance: SubjectState['imbalance']): Barrier[] =>
  imbalance?.isLarge
    ? [{ code: 'balance-first', lowest: imbalance.lowest, apartV: imbalance.voltageV, rule: 'spreadGoodV' }]
    : [];

function emptyGroup({ groups }: SubjectState): Barrier[] {
  const empty = groups.find(({ soc }) => soc !== null && soc.value < emptyBelow);
  return empty ? [{ code: 'empty', position: empty.position }] : [];
}

function againstRescue(
  { chemistry, series, connector, groups, isGroupsRead, rescues, belowFloor }: SubjectState,
  rules: HouseRules,
): Barrier[] {
  if (chemistries[chemistry].family !== 'lithium') return [{ code: 'only-lithium-is-rescued' }];
  const { rescuesAllowed, rescueFloorV } = rules;
  if (rescues >= rescuesAllowed) return [{ code: 'rescue-forbidden', rescues, rescuesAllowed, rule: 'rescuesAllowed' }];
  // A charger is blind below the floor: each group is watched, and never guessed from the terminals.
  if (series > 1 && connector === 'none') return [{ code: 'not-watched' }];
  if (series > 1 ? !isGroupsRead : groups[0]?.restV == null) return [{ code: 'measure-first' }];
  const tooLow = groups.find(({ restV }) => restV !== null && restV.value < rescueFloorV);
  if (tooLow?.restV)
    return [
      {
        code: 'too-low-for-rescue',
        position: tooLow.position,
        perGroupV: tooLow.restV.value,
        rescueFloorV,
        rule: 'rescueFloorV',
      },
    ];
  return belowFloor ? [] : [{ code: 'not-below-floor', floorV: handOverV(chemistry) }];
}

function questions({ groups }: SubjectState): Question[] {
  const lowest = groups.reduce<GroupState | null>(
    (least, group) => (least?.soc && group.soc && least.soc.value <= group.soc.value ? least : group),
    null,
  );
  if (!lowest?.soc) return [{ code: 'charge-not-known' }];
  const { position, soc } = lowest;
  return soc.value < chargedFrom ? [{ code: 'not-full', position, fraction: soc.value }] : [];
}
