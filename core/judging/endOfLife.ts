import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import type { GroupResistances } from '../packs/groupResistances';
import type { Quantity } from '../quantity/quantity';
import type { HeldVerdict } from './judgeSelfDischarge';
import type { InspectionFinding } from '../grading/intake';

/** How much a sign says: it ends it, it speaks for lighter work, or it is watched. */
export type SignWeight = 'end' | 'heavy' | 'light';

/** A sign of age, with the facts. Source: common practice. */
export type AgeSign = (
  | { code: 'swollen' | 'leaks' }
  | { code: 'worn'; health: Quantity; limit: number; isNew: boolean }
  | { code: 'group-far'; position: number; times: number }
  | { code: 'risen'; times: number }
  | { code: 'always-uneven'; uneven: number; of: number }
  | { code: 'long-balancing'; hours: number }
  | { code: 'serves-shorter'; firstS: number; nowS: number }
  | { code: 'rescued'; rescues: number }
) & { weight: SignWeight; rule?: RuleKey };

/** What is known of a pack, or of a cell as a pack of one group. */
export interface Aged {
  findings: readonly InspectionFinding[] | null;
  capacity: Quantity | null;
  capacityIsAtLeast: boolean;
  /** What it held when new, or by its label. */
  asNewAh: number;
  /** That was measured when it was new. */
  isNewMeasured: boolean;
  amongGroups: Pick<GroupResistances, 'groups' | 'says'> | null;
  held: Pick<HeldVerdict, 'verdict'> | null;
  rescues: number;
  /** Spreads of its rounds at rest and at the end of charge, the newest first, V. */
  imbalancesV: readonly number[];
  /** How long it was balanced last, h; null where it never was. */
  balancedH: number | null;
  /** For how long it served, the newest first, s. */
  servedS: readonly number[];
  /** The clinic would replace a group of it: much of what speaks against it may be that group’s. */
  isRepairable: boolean;
}

export interface EndOfLife {
  signs: AgeSign[];
  /** It goes on, with lighter work, or ends; or first the repair, after which it is weighed again. */
  verdict: 'serves' | 'repair-first' | 'light-duty' | 'retire';
}

/** Of this many rounds nearly all uneven: it never stays even. From memory. */
const [fewestRounds, mostRounds, nearlyAll] = [4, 8, 0.75];
/** Hours in the balancing phase. From memory. */
const longBalancingH = 3;
/** From ten minutes to seven. Common practice. */
const shorterFraction = 0.7;
/** A resistance this many times its own past is heavy by itself. From memory. */
const heavyRise = 2;
/** Signs that speak for lighter work: this many of them end it. Own rule. */
const heavyEnds = 3;

const order: readonly SignWeight[] = ['end', 'heavy', 'light'];

/** The signs of the end, weighed, the gravest first. Source: common practice; the weights are an own rule. */
export function endOfLife(aged: Aged, rules: HouseRules): EndOfLife {
  const signs = [...safetyOf(aged), ...wornOf(aged, rules), ...resistancesOf(aged), ...kept(aged, rules)].toSorted(
    (a, b) => order.indexOf(a.weight) - order.indexOf(b.weight),
  );
  const heavy = signs.filter(({ weight }) => weight === 'heavy').length;
  if (signs.some(({ weight }) => weight === 'end')) return { signs, verdict: 'retire' };
  if (heavy > 0 && aged.isRepairable) return { signs, verdict: 'repair-first' };
  if (heavy >= heavyEnds) return { signs, verdict: 'retire' };
  return { signs, verdict: heavy > 0 ? 'light-duty' : 'serves' };
}

const safetyOf = ({ findings, held }: Aged): AgeSign[] => [
  ...(findings?.includes('swollen') ? [{ code: 'swollen' as const, weight: 'end' as const }] : []),
  ...(held?.verdict === 'leaks' ? [{ code: 'leaks' as const, weight: 'end' as const }] : []),
];

/** Below what a demanding duty asks for it is watched, below what leaves service it is heavy, further down the end. */
function wornOf({ capacity, capacityIsAtLeast, asNewAh, isNewMeasured }: Aged, rules: HouseRules): AgeSign[] {
  if (!capacity || capacityIsAtLeast) return [];
  const health = { value: capacity.value / asNewAh, u: capacity.u / asNewAh };
  const limits: [SignWeight, RuleKey][] = [
    ['end', 'lightHealth'],
    ['heavy', 'steadyHealth'],
    ['light', 'surgeHealth'],
  ];
  // Only what is surely below it.
  const met = limits.find(([, rule]) => health.value + 2 * health.u < rules[rule]);
  return met
    ? [{ code: 'worn', health, limit: rules[met[1]], isNew: isNewMeasured, weight: met[0], rule: met[1] }]
    : [];
}

function resistancesOf({ amongGroups }: Aged): AgeSign[] {
  if (!amongGroups) return [];
  const far = amongGroups.groups.filter(({ level }) => level === 'failing');
  const risen = amongGroups.says.flatMap((one) => ('times' in one && one.code === 'risen' ? [one.times] : []));
  return [
    ...far.map(({ position, timesMedian }): AgeSign => ({
      code: 'group-far',
      position,
      times: timesMedian ?? NaN,
      weight: 'heavy',
    })),
    ...risen.map((times): AgeSign => ({
      code: 'risen',
      times,
      weight: times >= heavyRise ? 'heavy' : 'light',
      rule: 'resistanceRisen',
    })),
  ];
}

function kept({ imbalancesV: spreadsV, balancedH, servedS, rescues }: Aged, rules: HouseRules): AgeSign[] {
  const recent = spreadsV.slice(0, mostRounds);
  const uneven = recent.filter((imbalanceV) => imbalanceV > rules.spreadGoodV).length;
  const [now, first] = [servedS[0], servedS.at(-1)];
  const signs: AgeSign[] = [];
  if (recent.length >= fewestRounds && uneven >= nearlyAll * recent.length)
    signs.push({ code: 'always-uneven', uneven, of: recent.length, weight: 'heavy', rule: 'spreadGoodV' });
  if (balancedH !== null && balancedH >= longBalancingH)
    signs.push({ code: 'long-balancing', hours: balancedH, weight: 'light' });
  if (servedS.length > 1 && now !== undefined && first !== undefined && now <= shorterFraction * first + 1e-9)
    signs.push({ code: 'serves-shorter', firstS: first, nowS: now, weight: 'heavy' });
  if (rescues > 0) signs.push({ code: 'rescued', rescues, weight: 'light' });
  return signs;
}
