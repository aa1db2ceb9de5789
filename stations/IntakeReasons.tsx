import type { IntakeReason } from '@/core/grading/intake';
import { intakeReasonText } from '@/words/intake';
import { Grounds } from '@/stations/Grounds';

/** Why a cell or a pack may or may not be used, each with the house rule it rests on. */
export const IntakeReasons = ({ reasons }: { reasons: readonly IntakeReason[] }) => (
  <ul className="reasons">
    {reasons.map((reason) => (
      <li key={intakeReasonText(reason)}>
        {intakeReasonText(reason)} <Grounds rule={reason.rule} code={reason.code} />
      </li>
    ))}
  </ul>
);
