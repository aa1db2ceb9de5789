/** Every warning the core can give. A screen may show an icon by code; the message stands alone. */
export type WarningCode =
  | 'board-in-path'
  | 'brief-dips'
  | 'after-time-unknown'
  | 'charge-accuracy-assumed'
  | 'charge-flat'
  | 'charge-left-out'
  | 'charge-outside'
  | 'charge-unknown'
  | 'clock-reset'
  | 'current-accuracy-assumed'
  | 'current-missing'
  | 'current-negated'
  | 'cutoff-carried-on'
  | 'cutoff-in-gap'
  | 'cutoff-not-reached'
  | 'drop-not-resolved'
  | 'gap'
  | 'leads-swamp'
  | 'load-overrated'
  | 'load-tolerance-assumed'
  | 'no-discharge'
  | 'no-header'
  | 'not-rested'
  | 'resolution-assumed'
  | 'rest-left-out'
  | 'row-unreadable'
  | 'sharing-uneven'
  | 'start-below-reserve'
  | 'surface-charge'
  | 'temperature-outside'
  | 'temperature-unknown'
  | 'time-limit'
  | 'unit-assumed'
  | 'voltage-accuracy-assumed'
  | 'voltages-apart'
  | 'wild-samples'
  | 'zero-not-taken';

export interface Warning {
  code: WarningCode;
  message: string;
}
