import { type Duty, duties } from './duty';
import type { IntakeClass } from './intake';

/** What a cell counts as, each as one thing: by its inspection where that rules it out, else by its duty. */
export const standings = [...duties, 'rescue', 'out', 'ungraded'] as const;
export type Standing = (typeof standings)[number];

export function standingOf(intakeClass: IntakeClass | null, duty: Duty | null): Standing {
  if (intakeClass === 'out') return 'out';
  if (intakeClass === 'rescue-only') return 'rescue';
  return duty ?? 'ungraded';
}
