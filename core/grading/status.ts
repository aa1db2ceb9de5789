import { type Duty, duties } from './duty';
import type { IntakeClass } from './intake';

/** What a cell counts as, each as one thing: by its inspection where that rules it out, else by its duty. */
export const statuses = [...duties, 'rescue', 'out', 'ungraded'] as const;
export type Status = (typeof statuses)[number];

export function statusOf(intakeClass: IntakeClass | null, duty: Duty | null): Status {
  if (intakeClass === 'out') return 'out';
  if (intakeClass === 'rescue-only') return 'rescue';
  return duty ?? 'ungraded';
}
