import type { Chemistry } from '../chemistry/chemistries';
import type { PlainCurve } from '../chemistry/openCircuit';
import type { UnfitReason } from '../judging/fitForUse';
import type { PackState } from '../packs/groupVoltages';
import type { Quantity } from '../quantity/quantity';
import type { Known } from './known';

/** Voltages that were measured at one time, corrected, V. */
export interface VoltageRound {
  state: PackState;
  at: Date;
  /** From the negative end; null where one was not measured. Empty where the terminals alone were measured. */
  groupsV: readonly (Quantity | null)[];
  terminalV: Quantity | null;
}

/** Charge that went in or out after the voltages were measured. */
export type ChargeMove = { at: Date } &
  /** Charged to the end, brought to storage, or discharged down to the floor. */
  (
    | { kind: 'charged' | 'stored' | 'emptied' }
    /** Used, or taken out; null where the amount is not noted, Ah. */
    | { kind: 'used'; chargeAh: number | null }
  );

/** Where a job at the bench leaves its charge. */
export const jobMove = { charge: 'charged', balance: 'charged', storage: 'stored', discharge: 'emptied' } as const;

/** Why nothing is done with a subject any more, or not by itself. */
export type OutOfService = 'scrapped' | 'retired' | 'apart' | 'put-away' | 'built-in';

/** What is on file of a subject, as plain data: it goes to workers. A cell has one group. */
export interface SubjectFacts {
  code: string;
  chemistry: Chemistry;
  series: number;
  /** By its label. */
  ratedCapacityAh: number;
  /** Null where not noted. */
  hasBoard: boolean | null;
  balanceConnector: boolean | null;
  /** By its label, A; null where it says nothing. */
  labelChargeA: number | null;
  labelDischargeA: number | null;
  /** Its open-circuit voltage curve; null: that of its chemistry. */
  curve: PlainCurve | null;
  /** In any order. */
  rounds: readonly VoltageRound[];
  /** In any order. */
  moves: readonly ChargeMove[];
  /** Of each group, Ah; null where it was not measured. */
  capacities: readonly (Known | null)[];
  /** Of each group after ten seconds, Ω, by the best kind of measurement; null where none was made. */
  resistances: readonly (Known | null)[];
  rescues: number;
  /** It was rescued, and its self-discharge, resistance or capacity was not measured since. */
  isUntested: boolean;
  outOfService: OutOfService | null;
  /** What speaks against its use, from its inspection, self-discharge test, resistances and uses. */
  unfit: readonly UnfitReason[];
}

/** A subject about which nothing is on file beyond its label. */
export const bareFacts = (
  of: Pick<SubjectFacts, 'code' | 'chemistry' | 'series' | 'ratedCapacityAh'>,
): SubjectFacts => ({
  hasBoard: null,
  balanceConnector: null,
  labelChargeA: null,
  labelDischargeA: null,
  curve: null,
  rounds: [],
  moves: [],
  capacities: [],
  resistances: [],
  rescues: 0,
  isUntested: false,
  outOfService: null,
  unfit: [],
  ...of,
});
