import type { JudgedPack } from '@/core/judging/judgePack';
import { IntakeClassMark } from '@/ui/IntakeClassMark';
import { Link } from '@/ui/Link';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { bodyText, findingsText } from '@/words/bodies';
import { counted } from '@/words/counted';
import { InspectionKeys } from '../InspectionKeys';
import { PackPastForm } from './PackPastForm';

const connectorText = (has: boolean | null | undefined): string => {
  if (has === true) return 'has a balance connector';
  return has === false ? 'no balance connector' : 'balance connector not noted';
};

/** What is known of a pack beside its readings. */
export function AboutPack({ pack }: { pack: JudgedPack }) {
  const { code, intake, findings, asNew, cycles, twins } = pack;
  return (
    <section className="sheet mb-3" aria-label="Taken in" id="taken-in">
      <h2>{intake.class ? <IntakeClassMark of={intake.class} named /> : 'Not decided yet'}</h2>
      {intake.missing.includes('inspection') && (
        <>
          <p className="mb-0">Look, feel and smell: squeeze it, follow its leads, look into its connector.</p>
          <InspectionKeys code={code} kind="pack" />
        </>
      )}
      {!intake.missing.includes('inspection') && intake.missing.includes('voltage') && (
        <p className="mb-0">Measure its groups at rest: that decides whether you may use it.</p>
      )}
      <p className="mt-3 mb-2">
        {findings !== null && `Looked at: ${findingsText(findings)}. `}
        {cycles === null ? 'Cycles not noted' : `${counted(cycles, 'cycle')} so far`};{' '}
        {connectorText(pack.balanceConnector)}.{' '}
        {twins.length > 0 && (
          <>
            Twins:{' '}
            {twins.map((twin, i) => (
              <span key={twin}>
                {i > 0 && ', '}
                <Link className="num" href={addressOf(twin)}>
                  {twin}
                </Link>
              </span>
            ))}
            .
          </>
        )}
      </p>
      {asNew && (
        <p className="mb-2">
          As new, on <When at={asNew.at} as="d MMM yyyy" />: {bodyText({ kind: 'as-new', ...asNew })}.
        </p>
      )}
      <details id="past">
        <summary>{asNew || cycles !== null ? 'Add history and use' : 'Add history and use'}</summary>
        <PackPastForm code={code} />
      </details>
    </section>
  );
}
