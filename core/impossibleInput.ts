import type { MappedField } from './capacity/logMapping';

/** Why no computation can make sense of an input, with what was read; words/impossible.ts says it. */
export type Impossible =
  | { code: 'not-above-zero'; value: number }
  | { code: 'not-a-count'; what: 'series' | 'parallel' }
  | { code: 'no-finite-result' }
  // Points through which a curve or a line is to go.
  | { code: 'too-few-points'; points: number; least: number }
  | { code: 'parameters-not-told' }
  | { code: 'points-at-one-place' }
  | { code: 'points-not-rising' }
  // Readings.
  | { code: 'loaded-above-open'; openV: number; loadedV: number; droopV: number }
  | { code: 'resistance-not-above-zero' }
  | { code: 'no-resistance-there' }
  | { code: 'currents-in-wrong-order'; lowCurrentA: number; highCurrentA: number }
  | { code: 'no-group-voltages' }
  | { code: 'no-rested-voltage' }
  | { code: 'no-start-voltage' }
  | { code: 'start-near-end'; least: number }
  | { code: 'no-such-resistor' }
  | { code: 'columns-swapped'; row: number; columns: [number, number] }
  | { code: 'another-heading'; row: number }
  | { code: 'times-backwards'; count: number; rows: number }
  | { code: 'other-count'; highestV: number; series: number; likely: number }
  // Groups that nothing evens out.
  | { code: 'above-its-chemistry'; position: number; voltageV: number; fullV: number }
  | { code: 'needs-rescue'; position: number; voltageV: number; lowestV: number }
  // Files that are no log.
  | { code: 'no-text-table' }
  | { code: 'empty-file' }
  | { code: 'packing-broken' }
  | { code: 'workbook-broken' }
  | { code: 'no-such-sheet'; sheet: string }
  | { code: 'unpacks-too-large'; bytes: number }
  | { code: 'no-columns'; seen: string }
  /** `headings` is 0 without a heading. */
  | { code: 'more-fields'; headings: number; fields: number }
  | { code: 'too-few-samples'; count: number }
  | { code: 'group-columns'; columns: number; series: number }
  // What a person entered of a log's columns.
  | { code: 'mapped-twice'; what: MappedField }
  | { code: 'not-mapped'; what: 'time' | 'voltage' }
  | { code: 'unreadable-rows'; count: number; rows: number; first: number }
  /** `assumedUnit` where the column of time had none. */
  | { code: 'gap-too-long'; hours: number }
  | { code: 'log-too-long'; days: number; assumedUnit: string | null }
  // Cells that are to be matched.
  | { code: 'too-few-cells'; series: number; parallel: number; given: number }
  | { code: 'cell-twice'; cell: string }
  | { code: 'cell-without-figures'; cell: string }
  | { code: 'bond-too-large'; bond: string; cells: number; parallel: number }
  | { code: 'bonds-do-not-fit'; series: number; parallel: number }
  | { code: 'group-without-cells' }
  // A job that a pack is to do.
  | { code: 'no-amount' }
  | { code: 'no-count-within'; low: number; high: number }
  | { code: 'beyond-use'; temperatureC: number; coldestC: number; warmestC: number }
  | { code: 'too-few-of-a-model'; series: number; parallel: number }
  | { code: 'bond-of-models'; bond: string }
  // Cells that shall be in it.
  | { code: 'pin-not-there'; cell: string }
  | { code: 'pin-beyond'; cell: string; group: number; series: number }
  | { code: 'pins-contradict'; cell: string; groups: [number, number] }
  | { code: 'pins-too-many'; cells: number; places: number }
  | { code: 'pins-by-group' };

/** Input that no computation can make sense of; `field` names it. */
export class ImpossibleInput extends Error {
  constructor(
    readonly field: string,
    readonly why: Impossible,
  ) {
    super(`${field}: ${JSON.stringify(why)}`);
    this.name = 'ImpossibleInput';
  }
}

/** Returns `value` when it is finite and above zero; throws ImpossibleInput otherwise. */
export function positive(field: string, value: number): number {
  if (Number.isFinite(value) && value > 0) return value;
  throw new ImpossibleInput(field, { code: 'not-above-zero', value });
}
