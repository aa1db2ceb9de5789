import type { Status } from '@/core/grading/status';
import { DutyMark } from './DutyMark';
import { IntakeClassMark } from './IntakeClassMark';

/** What a cell counts as, by shape, and by word where there is none beside it. */
export function StatusMark({ of, named = false, atLeast = false }: { of: Status; named?: boolean; atLeast?: boolean }) {
  if (of === 'out' || of === 'rescue')
    return <IntakeClassMark of={of === 'out' ? 'out' : 'rescue-only'} named={named} said={!named} />;
  return <DutyMark duty={of === 'ungraded' ? null : of} atLeast={atLeast} named={named} />;
}
