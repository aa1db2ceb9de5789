import type { DutyVerdict } from './duty';
import type { IntakeVerdict } from './intake';

/** Where a cell waits: a station of the bench, the rescue, or nowhere any more. */
export type Waiting = 'intake' | 'resistance' | 'capacity' | 'shelf' | 'rescue' | 'build' | 'out' | 'put-away';

export interface Whereabouts {
  inBuild: boolean;
  /** Its batch was put away, by mistake taken in. */
  putAway: boolean;
}

/** The next station of a cell, from its verdicts: the first measurement that is missing, else the shelf. */
export function nextStation(intake: IntakeVerdict, duty: DutyVerdict, { inBuild, putAway }: Whereabouts): Waiting {
  if (putAway) return 'put-away';
  if (intake.class === 'out') return 'out';
  if (inBuild) return 'build';
  if (intake.class === 'rescue-only') return 'rescue';
  if (intake.class === null) return 'intake';
  if (duty.duty !== null) return 'shelf';
  if (duty.because.code === 'hold-first') return 'shelf';
  return duty.missing.includes('resistance') ? 'resistance' : 'capacity';
}
