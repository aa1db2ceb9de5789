import type { LogField } from './capacity/logColumns';

/** A time span of a log without a row, s from its start. */
interface Span {
  fromS: number;
  toS: number;
}
/** A window of state of charge, shares. */
interface ChargeWindow {
  from: number;
  to: number;
}

/** Every warning that a computation can give, with the facts it rests on; its sentence is in words/warnings.ts. */
export type Warning =
  // How a log was read.
  | { code: 'no-header'; columns: { index: number; field: LogField; position?: number }[] }
  | { code: 'unit-assumed'; columns: { field: LogField; position?: number; unit: string }[] }
  /**
   * Their columns were voltages against the negative terminal; `turned` where the first was that of the positive
   * terminal.
   */
  | { code: 'groups-as-taps'; turned: boolean }
  /** Place of the column, from 0. */
  | { code: 'terminals-among-groups'; index: number }
  /** By how much the terminals lay above the sum of the groups, and where they lay, means. */
  | { code: 'groups-not-sum'; apartV: number; voltageV: number }
  /** `rows` are the first few. */
  | { code: 'row-unreadable'; count: number; rows: number[] }
  /** Runs stored long ago have no place. */
  | { code: 'clock-reset'; count: number; rows: number[]; atS?: number[] }
  | { code: 'heading-again'; rows: number[] }
  /** Of dates such as 11/02/2026; assumed where nothing in the log decides. */
  | { code: 'date-order'; order: 'day-first' | 'month-first'; isAssumed: boolean }
  // What a log holds beside one discharge, and what was assumed of its tools.
  | { code: 'no-discharge' }
  | { code: 'wild-samples'; count: number; atS: number[] }
  | { code: 'current-missing'; count: number }
  | ({ code: 'gap' } & Span)
  | { code: 'current-negated' }
  | { code: 'charge-left-out' }
  | { code: 'rest-left-out'; beforeS: number; betweenS: number; afterS: number }
  | { code: 'brief-dips'; count: number }
  | { code: 'cutoff-in-gap'; silenceS: number; uS: number }
  | { code: 'cutoff-carried-on'; voltageV: number; uS: number }
  | { code: 'cutoff-not-reached'; voltageV: number; cutoffV: number }
  /** Null where it was taken as exact. */
  | { code: 'load-tolerance-assumed'; load: 'resistor' | 'current'; share: number | null }
  /** Of the steps of the load only the first are evaluated. */
  | { code: 'steps-not-evaluated'; evaluated: number; beyond: number }
  | { code: 'segments-not-listed'; listed: number; beyond: number }
  | { code: 'current-accuracy-assumed' }
  | { code: 'voltage-accuracy-assumed' }
  // Ageing.
  | { code: 'first-run-taken-as-new' }
  | { code: 'other-rates-left-out'; count: number }
  | { code: 'no-trend' }
  | { code: 'no-fade-seen' }
  /** So many times as far beyond the last run as the runs lie apart. */
  | { code: 'far-beyond-seen'; times: number }
  // Voltages of a self-discharge test.
  | { code: 'reading-uncertainty-assumed'; uV: number }
  // Charge put in.
  | { code: 'charge-accuracy-assumed'; share: number }
  | { code: 'charge-flat'; soc: number }
  | { code: 'start-below-reserve'; soc: number }
  // Resistance: the reading, and the conditions its protocol asks for.
  | { code: 'load-overrated'; loadPowerW: number; ratingW: number }
  | { code: 'drop-not-resolved'; relativeU: number }
  | { code: 'resolution-assumed' }
  | { code: 'leads-swamp'; leadOhm: number; resistanceOhm: number; zeroTaken: boolean }
  | { code: 'zero-not-taken' }
  | { code: 'after-time-unknown'; assumedS: number }
  | { code: 'temperature-unknown'; coldestC: number; warmestC: number }
  | { code: 'temperature-outside'; temperatureC: number; coldestC: number; warmestC: number }
  | { code: 'not-rested'; restedS: number; askedS: number }
  | { code: 'charge-outside'; openV: number; soc: number; asked: ChargeWindow }
  | { code: 'charge-unknown'; asked: ChargeWindow }
  | { code: 'surface-charge'; openV: number }
  | { code: 'board-in-path' }
  // Cells that are put together.
  | { code: 'time-limit' }
  // A pack under a load.
  | { code: 'cutoff-at-once'; group: number }
  | { code: 'load-not-carried'; afterS: number }
  | { code: 'profile-over' }
  | { code: 'carries-unevenly'; group: number; times: number }
  /** At most, were its heat not carried away. */
  | { code: 'cell-warms'; group: number; cell: number; riseK: number }
  | { code: 'taken-as-full' }
  | { code: 'ten-seconds-split' }
  | { code: 'sharing-uneven'; group: number; ratio: number }
  | { code: 'models-mixed'; group: number }
  | { code: 'groups-apart'; weakest: number; apartFraction: number }
  /** Before a charge, or in a group that is to be joined, whose limit is given. */
  | { code: 'voltages-apart'; apartV: number; joining?: { group: number; withinV: number } }
  /** A notice as an earlier version of the workshop kept it. */
  | { code: 'as-noted'; about: string; text: string };

export type WarningCode = Warning['code'];
