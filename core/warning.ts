/** Every warning the core can give. A screen may show an icon by code; the message stands alone. */
export type WarningCode =
  | 'brief-dips'
  | 'charge-flat'
  | 'clock-reset'
  | 'current-negated'
  | 'cutoff-not-reached'
  | 'drop-not-resolved'
  | 'gap'
  | 'load-overrated'
  | 'load-released'
  | 'no-header'
  | 'resolution-assumed'
  | 'row-unreadable'
  | 'sharing-uneven'
  | 'start-below-reserve'
  | 'unit-assumed'
  | 'voltages-apart'
  | 'wild-samples';

export interface Warning {
  code: WarningCode;
  message: string;
}
