import type { Beforehand, VisitReason } from './visit';
import { type GroupFault, sound, type Unknowns } from './faults';

/** A combination of faults in one group, and how it may look. */
export interface Hypothesis {
  faults: GroupFault[];
  /** Of the faults that one group may have, before anything was read. */
  prior: number;
  /** Equally likely looks of it. */
  looks: Unknowns[];
}

const spaced = (from: number, to: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => from + ((to - from) * (i + 0.5)) / count);
const spacedLog = (from: number, to: number, count: number): number[] =>
  spaced(Math.log(from), Math.log(to), count).map(Math.exp);
const eitherWay = (sizes: number[]): number[] => [...sizes, ...sizes.map((size) => -size)];

/** Low against the others; where one is high, the others are low. */
const shifts = (count: number): number[] => [...spaced(-0.5, -0.035, count), ...spaced(0.035, 0.2, count / 4)];
const capacities = (count: number): number[] => spaced(0.35, 0.88, count);
const resistances = (count: number): number[] => spacedLog(1.5, 6, count);
/** It leaked for some days before the first round as well. */
const leaks = spacedLog(8e-5, 1e-3, 8).flatMap((leakPerH) =>
  [0.5, 2.5, 5, 10].map((days): Unknowns => ({ ...sound, leakPerH, shift: -leakPerH * 24 * days })),
);
/** What a tap adds to the group below it, and takes from that above. */
export const taps = eitherWay(spacedLog(0.02, 0.3, 10)).map((misreadV): [up: Unknowns, down: Unknowns] => [
  { ...sound, misreadV },
  { ...sound, misreadV: -misreadV },
]);
/** The same, of the group below the tap and of that above. */
export const tapsUp = taps.map(([up]) => up);
export const tapsDown = taps.map(([, down]) => down);
const channels = eitherWay(spacedLog(0.02, 0.15, 8));

/** What may be there in a group; taps and channels aside. From memory. */
const ofCells: Hypothesis[] = [
  { faults: [], prior: 0, looks: [sound] },
  { faults: ['charge-shifted'], prior: 0.2, looks: shifts(20).map((shift) => ({ ...sound, shift })) },
  { faults: ['low-capacity'], prior: 0.16, looks: capacities(14).map((capacity) => ({ ...sound, capacity })) },
  { faults: ['high-resistance'], prior: 0.14, looks: resistances(12).map((resistance) => ({ ...sound, resistance })) },
  { faults: ['leak'], prior: 0.12, looks: leaks },
  {
    faults: ['charge-shifted', 'high-resistance'],
    prior: 0.008,
    looks: shifts(8).flatMap((shift) => resistances(4).map((resistance) => ({ ...sound, shift, resistance }))),
  },
  {
    faults: ['low-capacity', 'high-resistance'],
    prior: 0.015,
    looks: capacities(6).flatMap((capacity) =>
      resistances(4).map((resistance) => ({ ...sound, capacity, resistance })),
    ),
  },
  {
    faults: ['charge-shifted', 'low-capacity'],
    prior: 0.008,
    looks: shifts(8).flatMap((shift) => capacities(4).map((capacity) => ({ ...sound, shift, capacity }))),
  },
];
/** And with the channel of any of so many instruments; the taps between two groups aside. */
export const hypothesesOf = (meters: number): Hypothesis[] => [
  ...ofCells,
  {
    faults: ['meter-channel'],
    prior: 0.07,
    looks: channels.flatMap((misreadV) =>
      Array.from({ length: meters }, (_, misreadBy) => ({ ...sound, misreadV, misreadBy })),
    ),
  },
];
/** And of a tap that is off. */
export const tapPrior = 0.09;
/**
 * Chances that a pack has no fault, one, two or three, by why it is measured. From memory: most packs are sound, and
 * few people complain of a sound one.
 */
const countPriors: Readonly<Record<VisitReason, readonly [number, number, number, number]>> = {
  routine: [0.6, 0.32, 0.07, 0.01],
  'after-use': [0.45, 0.43, 0.1, 0.02],
  complaint: [0.15, 0.63, 0.19, 0.03],
};
/** What is known from elsewhere counts as much as this many visits of the workshop. Own rule. */
const visitsElsewhere = 20;

/**
 * Chances that a pack has no fault, one, two or three: the usual ones, moved by how many of the workshop's own visits
 * found a fault. Source: Bayes' rule (a beta prior).
 */
export function countPriorsOf({ reason, past }: Pick<Beforehand, 'reason' | 'past'>): readonly number[] {
  const [usualSound, ...usualFaulty] = countPriors[reason];
  const sound = (visitsElsewhere * usualSound + past.visits - past.faulty) / (visitsElsewhere + past.visits);
  return [sound, ...usualFaulty.map((usual) => (usual * (1 - sound)) / (1 - usualSound))];
}

/** By how much the charges of sound groups differ that were never balanced (standard). From memory. */
export const neverEven = 0.035;
