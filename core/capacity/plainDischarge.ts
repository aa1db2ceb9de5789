import type { Discharge } from './discharge';

/** A discharge of whatever was given and nothing else, for tests and measurements that care for no more. */
export const plainDischarge = (given: Partial<Discharge> = {}): Discharge => ({
  samples: 2,
  durationS: 7200,
  capacityAh: { value: 2, u: 0.013 },
  budget: [],
  energyWh: 7,
  meanVoltageV: 3.6,
  meanCurrentA: 1,
  endVoltageV: 2.8,
  reachedCutoff: true,
  fromS: 0,
  toS: 7200,
  gaps: [],
  groups: null,
  edges: [],
  course: null,
  segments: [],
  wild: [],
  warnings: [],
  ...given,
});
