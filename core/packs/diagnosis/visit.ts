import { median } from 'simple-statistics';
import type { OpenCircuitCurve } from '../../chemistry/openCircuit';
import type { PackState } from '../groupVoltages';

/** One round of a visit: every group at one moment. */
export interface DiagnosedRound {
  state: PackState;
  /** Seconds from the first round. */
  atS: number;
  /** Positive on discharge; 0 at rest. */
  currentA: number;
  /** From the negative terminal; null where a group was not read. */
  groupVoltagesV: readonly (number | null)[];
  /** Last digit of the groups' voltages, V. */
  digitV: number;
  /** What the groups were read with; null where not given. Another one does not share its channels. */
  instrument: string | null;
  /** Since a charge ended, s; null: not known. */
  sinceChargeS: number | null;
  terminalV: { value: number; digitV: number } | null;
}

/** A lithium cell settles for this time after a charge, s. Common practice. */
export const settlingS = 1800;

/** The median of the groups that were read, V; null where none was. */
export function medianV({ groupVoltagesV }: Pick<DiagnosedRound, 'groupVoltagesV'>): number | null {
  const read = groupVoltagesV.filter((v) => v !== null);
  return read.length === 0 ? null : median(read);
}

/** The instruments of a visit, in the order in which they came; null: not noted. */
export const metersOf = (rounds: readonly Pick<DiagnosedRound, 'instrument'>[]): (string | null)[] => [
  ...new Set(rounds.map(({ instrument }) => instrument)),
];

/** Why a pack is measured. */
export const visitReasons = ['routine', 'after-use', 'complaint'] as const;
export type VisitReason = (typeof visitReasons)[number];

/** Visits that are over, and those of them after which a pack was mended, balanced or retired. */
export interface PastVisits {
  visits: number;
  faulty: number;
}

export type VisitsByReason = Readonly<Record<VisitReason, PastVisits>>;

/** What speaks for and against a fault before anything is read: house rules, and what the workshop knows of it. */
export interface Beforehand {
  reason: VisitReason;
  /** This workshop's own visits for that reason. */
  past: PastVisits;
  /** By how much the charges of groups differ that are kept even (standard). */
  evenShift: number;
  /** Chance that they were kept even. */
  keptEven: number;
  /** This many times as likely as with any instrument a channel misreads. */
  channelTimes: number;
  /**
   * This many times as likely as any, a group leaks: by position from the negative terminal, those far from the others.
   */
  leakTimes: ReadonlyMap<number, number>;
}

/** Where nothing is known beforehand: a pack kept by usual rules, as most are. From memory. */
export const nothingKnown: Beforehand = {
  reason: 'routine',
  past: { visits: 0, faulty: 0 },
  evenShift: 0.008,
  keptEven: 0.85,
  channelTimes: 1,
  leakTimes: new Map(),
};

export interface Diagnosed {
  curve: OpenCircuitCurve;
  series: number;
  ratedCapacityAh: number;
  /** In the order of time. */
  rounds: readonly DiagnosedRound[];
  /** Below this at rest a group was run too far down, V. */
  floorV: number;
  /** Of each group from the negative terminal, measured under one protocol, Ω; null where one was not. */
  groupResistancesOhm: readonly (number | null)[] | null;
  beforehand: Beforehand;
}
