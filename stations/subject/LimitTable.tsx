import type { Met } from '@/core/grading/duty';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { JudgedSubject } from '@/core/judging/subject';
import { Link } from '@/ui/Link';
import { dutyNames } from '@/words/duty';

const signs: Record<Met, string> = { met: '✓ met', missed: '✗ missed', uncertain: '≈ unclear' };

/** Each limit that a cell or pack met or missed, with the measured value, its uncertainty and the house rule. */
export function LimitTable({ subject }: { subject: JudgedSubject }) {
  return (
    <>
      <div className="table-scroll" tabIndex={0}>
        <table className="table" style={{ fontSize: '0.92rem' }}>
          <thead>
            <tr>
              <th>Duty</th>
              <th className="num">Measured</th>
              <th className="num">Limit</th>
              <th>Met?</th>
            </tr>
          </thead>
          <tbody>
            {subject.duty.checks.map((check) => {
              const as = check.what === 'health' ? display.share : display.cRate;
              return (
                <tr key={check.rule}>
                  <td>
                    {dutyNames[check.duty]}, {check.what}
                  </td>
                  <td className="num">
                    {subject.capacityIsAtLeast && check.what === 'health' && '≥ '}
                    {formatQuantity(check.measured, as)}
                  </td>
                  <td className="num">
                    <Link href={`/handbook/${check.rule}`}>{formatFigure(check.limit, as)}</Link>
                  </td>
                  <td className={`text-nowrap ${check.met === 'met' ? '' : 'hot'}`}>{signs[check.met]}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {subject.capacityIsAtLeast && <p className="soft mb-0">The rates are as if it held its rated capacity.</p>}
    </>
  );
}
