import type { Chemistry } from '../chemistry/chemistries';
import type { HouseRules, RuleKey } from '../chemistry/houseRules';
import type { Quantity } from '../quantity/quantity';
import type { Act, Barrier } from '../state/permissions';
import type { SubjectState } from '../state/subjectState';
import type { Mistaken, EnteredPack } from './identify';

/** What a charger is to do with a pack. */
export const sheetGoals = [
  'charge',
  'balance',
  'storage',
  'discharge',
  'capacity',
  'cycle',
  'rescue',
  'run-down',
] as const;
export type SheetGoal = (typeof sheetGoals)[number];

/** What each goal does to a pack. */
export const goalActs: Record<SheetGoal, Act> = {
  charge: 'charge',
  balance: 'balance',
  storage: 'store',
  discharge: 'discharge',
  capacity: 'capacity-test',
  cycle: 'capacity-test',
  rescue: 'rescue',
  'run-down': 'retire',
};

/** What a charger can do, by its maker. */
export interface ChargerLimits {
  maxA: number;
  maxW: number;
  /** What it can burn while it discharges. */
  dischargeMaxW: number;
  /** Its currents are set in steps of this, A; zero for one that takes any. */
  stepA: number;
  /** Through its balance resistors, A; zero where it does not balance. */
  bleedA: number;
  /** Through the balance connector, where it charges there, A; left out or null: it charges at the main leads. */
  plugA?: number | null;
  /** What its modes are for: ends of lithium, V a cell, nickel, lead; left out or null: it is taken to have all. */
  modes?: readonly string[] | null;
  /** Below this it does not recognise a pack, V; left out or null: not known. */
  lowestPackV?: number | null;
  /** Groups that it can balance; left out or null: as many as are connected. */
  balanceChannels?: number | null;
}

/** What limits the current, or ends the discharge. */
export type LimitedBy =
  'house' | 'label' | 'charger' | 'power' | 'plug' | 'rescued' | 'weakest-group' | 'gentle-start' | 'wanted';

/** Why there is no sheet. */
export type SheetRefusal =
  | Mistaken
  | Barrier
  | { code: 'does-not-balance' }
  | { code: 'too-few-channels'; channels: number; series: number }
  | { code: 'no-mode'; needs: string }
  | { code: 'charger-blind'; packV: number; lowestPackV: number }
  | { code: 'cannot-discharge' }
  | { code: 'step-too-coarse'; stepA: number; mostA: number; by: LimitedBy }
  | { code: 'end-beyond-limits'; perGroupV: number; fromV: number; toV: number }
  | { code: 'cycling-harms' }
  | { code: 'run-down-elsewhere' };

/** One thing after the other. */
export interface SheetStep {
  kind: 'charge' | 'discharge' | 'rest';
  /** Zero for a rest. */
  currentA: number;
  /** Of the whole, V; null of a rest, and of what ends by charge. */
  untilV: number | null;
  /** Moved by then, Ah. */
  chargeAh: number;
  minutes: number;
}

/** A charge from nearly empty, until the whole reaches a voltage. */
export type Gentle = Pick<SheetStep, 'currentA' | 'chargeAh' | 'minutes'> & { untilV: number };

export interface ChargerSheet {
  goal: SheetGoal;
  /** The first whose settings are set; a discharge where nothing is charged before. */
  main: 'charge' | 'discharge';
  series: number;
  chemistry: Chemistry;
  /** No group is discharged below this under load, V. */
  floorPerGroupV: number;
  chargeA: number | null;
  dischargeA: number | null;
  /** What limits the current of the charge or else of the discharge. */
  limitedBy: LimitedBy;
  rateRule: RuleKey | null;
  /** Of the whole at the end of the main step, V. */
  endV: number;
  dischargeEndV: number | null;
  dischargeRule: RuleKey | null;
  timerMin: number;
  capacityLimitAh: number;
  temperatureLimitC: number;
  restMin: number | null;
  cycles: number | null;
  /** The balance connector is in, and the charger balances the groups. */
  isBalanced: boolean;
  /** Minutes of a quick and of a slow balancing; null where it does not balance. */
  balancing: { quickMin: number; slowMin: number } | null;
  /** The first, gentle part of a charge from nearly empty; null where none is needed. */
  gentle: Gentle | null;
  /** The group that ends the discharge; null where nothing is discharged, or all are alike. */
  weakest: number | null;
  steps: SheetStep[];
  expectedMin: number;
  /** Standard uncertainty of it, min. */
  expectedU: number;
  attendedMin: number;
  /** Of the main step. */
  forecast: { afterMinuteV: number; afterMinuteA: number; endRestV: number; charge: Quantity; minutes: Quantity };
  /** What to see when it is right: as it starts, and as it ends; of the whole, V. */
  seen: { startV: number | null; endV: number; endA: number; movedAh: number };
  /** The highest and the lowest that any group gets, V: within its limits. */
  groupsBetween: { lowestV: number; highestV: number };
  /** A discharge by a resistor of its own; null where none was given, or nothing is discharged. */
  load: { ohm: number; minutes: number; watts: number } | null;
  /** Below this the charger does not recognise a pack, V; null where that is not known. */
  chargerLowestV: number | null;
  /** The main step ends by the charge moved, not by a voltage. */
  isByCharge: boolean;
  /** A charge of a group was not known: it was taken for used up, or full. */
  isBlind: boolean;
}

/** What a person wants of this sheet, within the limits. */
export interface Wanted {
  currentA: number | null;
  /** Down to, or up to, V a group. */
  cutoffPerGroupV: number | null;
  untilChargeAh: number | null;
}
export const nothingWanted: Wanted = { currentA: null, cutoffPerGroupV: null, untilChargeAh: null };

/** What a sheet is asked for. */
export interface SheetInput {
  state: SubjectState;
  /** As it was measured before the start, to find out whether it is what it is taken for. */
  measured: Omit<EnteredPack, 'chemistry' | 'series'>;
  charger: ChargerLimits;
  goal: SheetGoal;
  wanted: Wanted;
  rules: HouseRules;
  /** A separate load that may discharge it instead, Ω. */
  loadOhm: number | null;
}

/** A sheet, or why there is none. */
export type Sheeted = { sheet: ChargerSheet; refusal: null } | { sheet: null; refusal: SheetRefusal };
