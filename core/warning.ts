/** Every warning the core can give. A screen may show an icon by code; the message stands alone. */
export type WarningCode =
  | 'board-in-path'
  | 'brief-dips'
  | 'charge-flat'
  | 'charge-outside'
  | 'charge-unknown'
  | 'clock-reset'
  | 'current-negated'
  | 'cutoff-not-reached'
  | 'drop-not-resolved'
  | 'gap'
  | 'leads-swamp'
  | 'load-overrated'
  | 'load-released'
  | 'no-header'
  | 'not-rested'
  | 'resolution-assumed'
  | 'row-unreadable'
  | 'sharing-uneven'
  | 'start-below-reserve'
  | 'surface-charge'
  | 'temperature-outside'
  | 'temperature-unknown'
  | 'unit-assumed'
  | 'voltages-apart'
  | 'time-limit'
  | 'wild-samples'
  | 'zero-not-taken';

export interface Warning {
  code: WarningCode;
  message: string;
}
