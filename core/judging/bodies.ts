import type { InspectionFinding } from '@/core/grading/intake';
import type { Complaint, ComplaintAnswer } from '@/core/packs/complaints';
import type { RemedyKind, Uneven } from '@/core/packs/remedies';
import type { JobKind } from '@/core/planning/benchPlan';
import type { OwnLimits, RescueWhy } from './rescue';
import type { RetireAct } from './retiring';
import type { UpkeepAct } from './upkeep';

/** At a group of a pack, from the negative terminal; 0 is from terminal to terminal, left out the only one. */
interface AtGroup {
  position?: number;
}

/** A resistance as it was read, raw. */
export type ResistanceBody =
  | ({
      kind: 'load-step';
      openV: number;
      loadedV: number;
      afterV: number | null;
      currentA: number | null;
      /** Last digit of the voltages; of each where it is not that of all. */
      step: number;
      loadedStep?: number | null;
      afterStep?: number | null;
      currentStep: number | null;
    } & AtGroup)
  | ({
      kind: 'two-current';
      atLowV: number;
      lowCurrentA: number;
      atHighV: number;
      highCurrentA: number;
      step: number;
      highStep?: number | null;
      currentStep: number;
    } & AtGroup)
  | ({
      kind: 'resistance';
      resistanceOhm: number;
      step: number;
      openV: number | null;
      openStep?: number | null;
    } & AtGroup)
  | { kind: 'pulse'; runId: number; atS: number };

/** The contents of an entry: facts as they were read, by kind. */
export type Body =
  | ({ kind: 'voltage'; voltageV: number; step: number } & AtGroup)
  | { kind: 'mass'; massKg: number; step: number }
  | { kind: 'inspection'; findings: InspectionFinding[] }
  | { kind: 'skin-temperature'; skinC: number; step: number }
  | ResistanceBody
  /** What a channel of an instrument showed on a battery of a sheet. */
  | { kind: 'cross-check'; crossCheckId: number; position: number; channel: number; voltageV: number; step: number }
  /** The subjects of the entry are welded together, in parallel. */
  | { kind: 'weld' }
  /** What a pack could do when it was new, of each group from the negative terminal; noted as of that day. */
  | { kind: 'as-new'; capacityAh: number | null; price: number | null; resistancesOhm: number[] | null }
  /** The most that its label allows, and whether it has a balance connector. */
  | { kind: 'label'; chargeA: number | null; dischargeA: number | null; balanceConnector: boolean | null }
  /** Cycles that a pack had done by then. */
  | { kind: 'cycles'; count: number }
  /** Charged from rested voltages, of each group from the negative terminal, to full or to a rested voltage. */
  | {
      kind: 'partial-charge';
      startVoltagesV: number[];
      /** Last digit of them. */
      step: number;
      chargeAh: number;
      /** The most by which the charge may be off, a share. */
      chargeLimit: number | null;
      endVoltageV: number | null;
    }
  /** A capacity that a person noted, without a log. */
  | { kind: 'capacity-noted'; capacityAh: number; step: number }
  /** For how long a pack served in its usual use. */
  | { kind: 'run-time'; durationS: number }
  /** The packs of the entry are alike: bought and used together. */
  | { kind: 'twins' }
  /** What a charger, tool or appliance said of a pack, and what the test showed that separates its causes. */
  | { kind: 'complaint'; said: Complaint; answer: ComplaintAnswer }
  /** A pack is balanced from then on, with the predicted result. */
  | {
      kind: 'remedy';
      way: RemedyKind;
      hours: number;
      /** The imbalance of its rested groups afterwards, V. */
      spreadV: number;
      chargeA: number;
      bleedA: number;
      timerS: number | null;
      topUpA: number;
      drainA: number;
      /** What each group gets or gives; null or left out where it was begun before this was kept. */
      movePositions?: number[] | null;
      moveAh?: number[] | null;
      moveStopV?: number[] | null;
      /** Of the whole at rest afterwards, V. */
      packV?: number | null;
      connector?: Uneven['connector'] | null;
    }
  /** A rescue started at that current; and the day since when it was below two volts, if known. */
  | {
      kind: 'rescue';
      currentA: number;
      belowSince: string | null;
      /** Null or left out: it keeps to the house rules. */
      ownLimits?: OwnLimits['limits'] | null;
      ownReason?: string | null;
    }
  /** Every group at one moment of a rescue, from the negative terminal; warm to the hand, or measured at the skin. */
  | { kind: 'rescue-reading'; voltagesV: number[]; step: number; skinC: number | null; isWarm: boolean }
  /** The current of a rescue was taken off, put on again, or off for good. */
  | { kind: 'rescue-act'; act: 'off' | 'on' | 'end'; why: RescueWhy }
  /** The task that was due is postponed until then, and why. */
  | { kind: 'put-off'; act: UpkeepAct; untilAt: string; reason: string }
  /** A job that is wanted with it, after the job of that entry. */
  | { kind: 'job'; job: JobKind; after: string | null; dueAt: string | null }
  /** The job of that entry was begun at a station of the bench. */
  | { kind: 'job-begun'; of: string; station: string }
  /** A pack was taken out for use, with the timer that was computed then. */
  | { kind: 'taken-out'; forWhat: string | null; currentA: number | null; timerS: number | null }
  /** It was brought back; its lowest group under load, where given. */
  | { kind: 'brought-back'; usedAh: number | null; lowestV: number | null; lowestPosition: number | null }
  /** A group of a pack was mended; what was taken out of it where its cells were known. */
  | { kind: 'mended'; position: number; takenOut: string[]; putIn: string[] }
  /** A step of retiring. */
  | { kind: 'retiring'; act: RetireAct; voltageV: number | null; toWhom: string | null }
  | { kind: 'note'; text: string };

export type BodyKind = Body['kind'];
