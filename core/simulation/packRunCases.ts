import { openCircuitOf, type Rechargeable } from '../chemistry/openCircuit';
import type { RunCell } from './packState';

/** A pack that ngspice computed as well: of each cell Ah, charge at the start, ohmic Ω, and Ω and s of branches. */
export interface CircuitCase {
  name: string;
  chemistry: Rechargeable;
  currentA: number;
  untilS: number;
  groups: readonly (readonly (readonly number[])[])[];
}

export const circuitCases: readonly CircuitCase[] = [
  {
    name: 'two in parallel that were joined at different charge, two groups',
    chemistry: 'li-ion',
    currentA: 2.4,
    untilS: 3600,
    groups: [
      [
        [2.1, 0.95, 0.031, 0.012, 14, 0.02, 900],
        [1.9, 0.88, 0.044, 0.017, 11, 0.024, 1100],
      ],
      [
        [2.2, 0.93, 0.028, 0.011, 16, 0.019, 850],
        [2.0, 0.93, 0.036, 0.014, 12, 0.022, 1000],
      ],
    ],
  },
  {
    name: 'pouches with one that is tired, three groups of three',
    chemistry: 'lipo',
    currentA: 9,
    untilS: 1500,
    groups: [
      [
        [1.6, 1, 0.018, 0.006, 8, 0.012, 700],
        [1.5, 1, 0.019, 0.007, 9, 0.013, 640],
        [1.55, 1, 0.02, 0.006, 7, 0.012, 680],
      ],
      [
        [1.6, 0.99, 0.017, 0.006, 8, 0.012, 700],
        [1.1, 0.99, 0.052, 0.021, 10, 0.03, 900],
        [1.6, 0.99, 0.018, 0.007, 9, 0.013, 660],
      ],
      [
        [1.5, 0.97, 0.02, 0.007, 8, 0.013, 720],
        [1.5, 0.97, 0.021, 0.008, 8, 0.013, 720],
        [1.45, 0.97, 0.02, 0.007, 9, 0.014, 700],
      ],
    ],
  },
];

export const groupsOfCase = ({ chemistry, groups }: CircuitCase): RunCell[][] =>
  groups.map((group) =>
    group.map(([capacityAh = 0, soc = 0, ohmicOhm = 0, ...branches]) => ({
      curve: openCircuitOf(chemistry),
      capacityAh,
      soc,
      ohmicOhm,
      branches: Array.from({ length: branches.length / 2 }, (_, b) => ({
        resistanceOhm: branches[2 * b] ?? 0,
        timeConstantS: branches[2 * b + 1] ?? 0,
      })),
    })),
  );
