/** What can be wrong with a group, or with the reading of it. */
export const groupFaults = [
  'charge-shifted',
  'low-capacity',
  'high-resistance',
  'leak',
  'sense-tap',
  'meter-channel',
  'dead',
  'over-discharged',
] as const;
export type GroupFault = (typeof groupFaults)[number];
/** And with a pack as a whole. */
export const packFaults = ['none', ...groupFaults, 'board-cut-off'] as const;
export type PackFault = (typeof packFaults)[number];

export interface Finding<Fault> {
  fault: Fault;
  /** Of its being there; several may be there at once. */
  probability: number;
  /** Of `charge-shifted`: the group holds more charge than the others, not less. */
  isAbove?: boolean;
  /** Of `meter-channel`: whose channel it is; left out where not noted. */
  instrument?: string;
}

/** What may be off in a group: the unknowns of its readings. */
export interface Unknowns {
  /** State of charge beside that of the others as the rounds began. */
  shift: number;
  /** Capacity and resistance as times that of the others. */
  capacity: number;
  resistance: number;
  /** Share of its charge that leaks in an hour beyond what the others lose. */
  leakPerH: number;
  /** What its channel or its taps add to what is read, V. */
  misreadV: number;
  /** Of a channel the instrument it belongs to; null of taps, which show with any. */
  misreadBy: number | null;
}

export const sound: Unknowns = { shift: 0, capacity: 1, resistance: 1, leakPerH: 0, misreadV: 0, misreadBy: null };

/** One way in which the readings of a group may have come about. */
export interface Way {
  faults: GroupFault[];
  probability: number;
  /** How it looks most likely. */
  look: Unknowns;
  /** How it may look, and the weight of each look as a logarithm. */
  looks: readonly Unknowns[];
  logs: readonly number[];
}
