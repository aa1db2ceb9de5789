import type { Complaint, ComplaintAnswer } from '../packs/complaints';
import type { SubjectState } from './subjectState';

/** Readings older than this no longer answer what a device said today. */
const freshMs = 24 * 3_600_000;

/** The answer that fresh readings give to the test of a complaint; null where the test is still to be made. */
export function answeredByReadings(complaint: Complaint, state: SubjectState, now: Date): ComplaintAnswer | null {
  if (!state.readAt || now.getTime() - state.readAt.getTime() > freshMs) return null;
  const { board, belowFloor, imbalance } = state;
  switch (complaint) {
    case 'too-low':
      if (belowFloor) return 'a-group-low';
      return board === 'cut-off' ? 'terminals-dead' : null;
    case 'no-connection':
      if (belowFloor) return 'too-low-for-charger';
      return board === 'cut-off' ? 'terminals-dead' : null;
    case 'cells-differ':
      return imbalance && (imbalance.isLarge ? 'they-do' : 'they-are-even');
    case 'full-stops-early':
      return imbalance?.isLarge ? 'one-lower-at-rest' : null;
    default:
      return null;
  }
}
