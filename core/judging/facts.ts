import type { ChargerLimits } from '../planning/sheet';
import type { GroupAtEnd } from '@/core/capacity/groupsAtEnd';
import type { Chemistry } from '@/core/chemistry/chemistries';
import type { InspectionFinding } from '@/core/grading/intake';
import type { Correction } from '@/core/instruments/calibration';
import type { InstrumentKind, InstrumentRange, MeasuredQuantity, NotedRange } from '@/core/instruments/instrument';
import type { PackState } from '@/core/packs/groupVoltages';
import type { SelfDischargeFacts } from './judgeSelfDischarge';
import type { RetireAct } from './retiring';
import type { ResistanceFacts } from '@/core/resistance/judgeReading';
import type { MethodKey } from '@/core/resistance/methods';

/** One cell with the facts behind its verdicts. */
export interface CellFacts {
  id: number;
  code: string;
  batchCode: string;
  place: number;
  /** What names the weld it is part of; null for a cell on its own. */
  bond: string | null;
  /** The codes of those it is welded to. */
  weldedTo: string[];
  /** Its batch was put away, by mistake taken in; or it was retired and handed over. */
  putAway: boolean;
  /** Null where not known; then its size is known. */
  maker: string | null;
  model: string | null;
  size: string | null;
  chemistry: Chemistry;
  ratedCapacityAh: number;
  modelMassKg: number | null;
  /** It has a protection board of its own. */
  board: boolean;
  asNewOhm: number | null;
  /** The most that the label of its model allows, A; null where it says nothing. */
  labelChargeA: number | null;
  labelDischargeA: number | null;
  rescues: number;
  /** When the newest of them began here; null where none did. */
  rescuedAt: Date | null;
  /** The newest standing reading of each kind. */
  voltage: { valueV: number; step: number; instrumentId: number | null; channel: number | null; takenAt: Date } | null;
  massKg: number | null;
  massStepKg: number | null;
  /** Null until it was inspected; all standing findings together. */
  findings: InspectionFinding[] | null;
  /** Every standing reading of a round, newest first. */
  resistances: StoredResistance[];
  /** The self-discharge tests it was in, the newest first; fellows share theirs. */
  holds: SelfDischargeFacts[];
  /** Its newest standing partial charge. */
  partial: PartialCharged | null;
  /** The newest capacity that a person noted without a log. */
  noted: CapacityNoted | null;
  run: {
    id: number;
    endedAt: Date;
    capacityAh: number;
    capacityU: number;
    reachedCutoff: boolean | null;
    energyWh: number;
    meanVoltageV: number;
  } | null;
  buildId: number | null;
  /** The pack that it is welded into, and its group from the negative terminal. */
  pack: { code: string; position: number } | null;
}

/** A reading of a resistance round as stored, with what of its round it takes to judge it. */
export interface StoredResistance {
  /** This many cells welded in parallel were read as one. */
  together: number;
  /** The group of a pack, from the negative terminal; 0 is from terminal to terminal. A cell has the one. */
  position: number;
  roundId: number;
  protocolId: number;
  method: MethodKey;
  takenAt: Date;
  temperatureC: number | null;
  instrumentId: number | null;
  channel: number | null;
  ammeterId: number | null;
  /** When the last charge or discharge before it ended; null where nothing is known of one. */
  disturbedAt: Date | null;
  /** What the wires of a balance connector added, Ω; null where it was not read through one. */
  leadOhm: number | null;
  facts: ResistanceFacts;
}

export interface RoundReadingRow {
  id: number;
  subjectId: number;
  entry: string;
  code: string;
  confirmed: boolean;
  resistance: StoredResistance;
}

export interface NewInstrument {
  code: string;
  name: string;
  kind: InstrumentKind;
  channels: number;
  /** Null for what no resistance is measured with. */
  wires: 2 | 4 | null;
  leads: { gauge: number; lengthM: number } | null;
  certified: boolean;
  ranges: Partial<Record<MeasuredQuantity, NotedRange>>;
  /** Of a charger what it can do; null or left out where not noted. */
  charging?: (ChargerLimits & { outputs: number }) | null;
}

export interface StoredInstrument extends Omit<NewInstrument, 'ranges'> {
  id: number;
  archivedAt: Date | null;
  /** Its ranges as noted. */
  noted: NewInstrument['ranges'];
}

export interface Instrument extends StoredInstrument {
  /** With what is assumed where not noted. */
  ranges: Partial<Record<MeasuredQuantity, InstrumentRange>>;
}

export interface NewCalibration {
  instrumentId: number;
  channel: number;
  correction: Correction;
  crossCheckId: number | null;
  /** What it was compared with, in words. */
  reference: string;
  calibratedAt: Date;
  /** Of a device that was adjusted itself, V; else null. */
  adjusted: { showedV: number; setToV: number } | null;
}

export interface Calibration extends NewCalibration {
  id: number;
  withdrawnAt: Date | null;
  withdrawnBecause: string | null;
}

export interface NewProtocol {
  name: string;
  /** Which practitioners measure so, and why. */
  school: string;
  method: MethodKey;
  /** Window of state of charge, shares; null where any will do. */
  charge: { from: number; to: number } | null;
  temperature: { coldestC: number; warmestC: number } | null;
  restS: number;
  /** Rate of the load or of the charge, 1/h; null where the method sets none. */
  rateC: number | null;
  /** When the figure is read after the load or the charge came on. */
  holdS: number;
}

export interface Protocol extends NewProtocol {
  id: number;
  archivedAt: Date | null;
}

export interface NewPack {
  code: string;
  name: string;
  chemistry: Chemistry;
  series: number;
  parallel: number;
  ratedCapacityAh: number;
  board: 'full' | 'protects' | 'none';
  /** Null where not noted. */
  balanceConnector?: boolean | null;
  /** The build it was welded from; null for one that came as it is. */
  buildId?: number | null;
}

export interface Pack extends NewPack {
  id: number;
  buildId: number | null;
  /** When it was taken apart, and why; null while it is whole. */
  apart: { at: Date; because: string } | null;
}

/** One pack with the facts behind its verdicts. */
export interface PackFacts extends Pack {
  /** Null until it was looked at; all standing findings together. */
  findings: InspectionFinding[] | null;
  /** What was noted of it as new, with the day; null where not noted. */
  asNew: { at: Date; capacityAh: number | null; price: number | null; resistancesOhm: number[] | null } | null;
  /** What was noted of its label and its plugs since it came. */
  label: { chargeA: number | null; dischargeA: number | null; balanceConnector: boolean | null } | null;
  /** The count of cycles noted last, and when. */
  cyclesNoted: { count: number; at: Date } | null;
  /** When it was read at the end of a charge. */
  chargeEnds: Date[];
  /** The codes of its twins. */
  twins: string[];
  rescues: number;
  /** When the newest of them began here; null where none did. */
  rescuedAt: Date | null;
  /** The groups that were mended, and when, the newest first: what was read of the pack before counts no more. */
  mends: { at: Date; position: number }[];
  /** Every standing reading of its resistance, newest first. */
  resistances: StoredResistance[];
  /** The self-discharge tests it was in, the newest first; fellows share theirs. */
  holds: SelfDischargeFacts[];
  /** Its newest standing partial charge. */
  partial: PartialCharged | null;
  /** The newest capacity that a person noted without a log. */
  noted: CapacityNoted | null;
  /** The newest standing discharge that ended at the cut-off, else the newest; null without any. */
  run: PackRun | null;
  /** Its newest standing round of voltages, the newest at rest, and the newest after use. */
  latest: PackRound | null;
  rested: PackRound | null;
  afterUse: PackRound | null;
  /** The last step of retiring; null where there is none. */
  retiring: RetireAct | null;
  /** When it was taken out last; null where it never was. */
  takenOut: TakenOut | null;
  /** Every use on file, the newest first. */
  uses: BroughtBack[];
}

/** A capacity as a person noted it; of welded cells the share of one. */
export interface CapacityNoted {
  takenAt: Date;
  capacityAh: number;
  step: number;
}

/** A charge from rested voltages to full, or to a rested voltage; of welded cells the share of one. */
export interface PartialCharged {
  entry: string;
  takenAt: Date;
  /** From the negative terminal. */
  startVoltagesV: number[];
  step: number;
  chargeAh: number;
  chargeLimit: number | null;
  endVoltageV: number | null;
  instrumentId: number | null;
  channel: number | null;
}

/** A discharge of a pack, from its log. */
export interface PackRun {
  id: number;
  endedAt: Date;
  capacityAh: number;
  capacityU: number;
  reachedCutoff: boolean | null;
  meanCurrentA: number;
  energyWh: number;
  meanVoltageV: number;
  /** From the negative terminal, as it ended; null where no groups were logged. */
  groups: GroupAtEnd[] | null;
}

/** A pack that was taken out for use. */
export interface TakenOut {
  at: Date;
  forWhat: string | null;
  currentA: number | null;
  timerS: number | null;
}

/** What was entered about a use when the pack came back. */
export interface BroughtBack {
  at: Date;
  usedAh: number | null;
  durationS: number | null;
  lowestV: number | null;
  /** From the negative terminal. */
  lowestPosition: number | null;
}

export interface NewPackRound {
  entry: string;
  packId: number;
  series: number;
  state: PackState;
  /** What the load drew, A; left out where not given. */
  currentA?: number | null;
  /** Of the pack, °C; null or left out where not given. */
  temperatureC?: number | null;
  /** From the negative terminal; null where one could not be read, its wire broken. */
  groupVoltagesV: (number | null)[];
  /** Last digit of each. */
  groupStepsV: (number | null)[];
  terminalV: number | null;
  terminalStepV: number | null;
  /** What the groups were read with, group by channel where it has several; null where none was named. */
  instrumentId: number | null;
  terminalInstrumentId: number | null;
  confirmed: boolean;
  takenAt?: Date;
}

export interface PackRound extends Omit<NewPackRound, 'takenAt'> {
  id: number;
  /** Its code, or what was noted before instruments had one. */
  instrument: string;
  takenAt: Date;
  voidReason: string | null;
}

export interface CrossCheck {
  id: number;
  /** What its entries belong to. */
  occasionId: number;
  name: string;
  openedAt: Date;
  /** By position, from 1. */
  batteries: string[];
  /** The pack whose groups they are, from the negative terminal; null where they are batteries of their own. */
  pack: string | null;
  readings: number;
}

export interface CrossCheckReading {
  id: number;
  crossCheckId: number;
  position: number;
  instrumentId: number;
  channel: number;
  voltageV: number;
  step: number;
  takenAt: Date;
}

export interface NewRound {
  /** Null for a round over packs. */
  batchId: number | null;
  protocolId: number;
  method: MethodKey;
  /** What the voltage or the resistance is read with; null where none was named. */
  instrumentId: number | null;
  /** What the current is read with. */
  ammeterId: number | null;
  loadResistanceOhm: number | null;
  /** Relative tolerance of the resistor as printed on it. */
  loadTolerance: number | null;
  loadRatingW: number | null;
  /** Whether the zero of a resistance meter was taken; null where not noted. */
  zeroTaken?: boolean | null;
  /** When the recovery voltage is read, s after the load came off; null where not noted. */
  afterS?: number | null;
  /** What the wires of a balance connector add to a group read through it; null where none is used. */
  leadOhm?: number | null;
  /** Of the bench, where no reading says otherwise. */
  temperatureC: number | null;
}

export interface Round extends NewRound {
  id: number;
  /** What its entries belong to. */
  occasionId: number;
  zeroTaken: boolean | null;
  afterS: number | null;
  leadOhm: number | null;
  /** Null for a round over packs. */
  batchCode: string | null;
  openedAt: Date;
  /** Cells or packs read so far. */
  read: number;
}
