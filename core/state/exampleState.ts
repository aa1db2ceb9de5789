import { type HouseRules, presetRules } from '../chemistry/houseRules';
import type { Chemistry } from '../chemistry/chemistries';
import { benchMeterU } from '../instruments/instrument';
import { bareFacts, type SubjectFacts } from './facts';
import { known } from './known';
import { stateOf, type SubjectState } from './subjectState';

/** A pack in a few figures, for tests and for models whose truth is known. */
export interface Example {
  chemistry: Chemistry;
  series: number;
  capacityAh: number;
  /** At rest, from the negative end, V; null: the terminals alone, or nothing. */
  groupsV?: readonly number[] | null;
  terminalV?: number | null;
  capacityU?: number;
  groupCapacitiesAh?: readonly number[];
  resistancesOhm?: readonly number[];
  meterU?: number;
  rules?: HouseRules;
  more?: Partial<SubjectFacts>;
}

/** When examples are measured. */
export const exampleAt = new Date(0);

/** The state of a pack as it was measured just now. */
export function exampleState(example: Example): SubjectState {
  const { chemistry, series, capacityAh, groupsV = null, terminalV = null, more } = example;
  const { capacityU = 0.02 * capacityAh, meterU = benchMeterU, rules = presetRules('workshop') } = example;
  const read = (value: number) => ({ value, u: meterU });
  const capacities = example.groupCapacitiesAh ?? new Array<number>(series).fill(capacityAh);
  const round = {
    state: 'rest' as const,
    at: exampleAt,
    groupsV: (groupsV ?? []).map(read),
    terminalV: terminalV === null ? null : read(terminalV),
  };
  return stateOf(
    {
      ...bareFacts({ code: 'PX1', chemistry, series, ratedCapacityAh: capacityAh }),
      capacities: capacities.map((value) => known({ value, u: capacityU }, 'measured')),
      resistances: (example.resistancesOhm ?? []).map((value) => known({ value, u: 0.05 * value }, 'measured')),
      rounds: groupsV === null && terminalV === null ? [] : [round],
      ...more,
    },
    rules,
    exampleAt,
  );
}
