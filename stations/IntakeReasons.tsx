import type { IntakeReason } from '@/core/grading/intake';
import { intakeReasonText } from '@/words/intake';
import { RuleLink } from './RuleLink';

/** Why a cell or a pack may or may not be used, each with the house rule it rests on. */
export const IntakeReasons = ({ reasons }: { reasons: readonly IntakeReason[] }) => (
  <ul className="reasons">
    {reasons.map((reason) => (
      <li key={intakeReasonText(reason)}>
        {intakeReasonText(reason)} {reason.rule && <RuleLink rule={reason.rule} />}
      </li>
    ))}
  </ul>
);
