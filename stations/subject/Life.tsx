import { groupedBy } from '@/core/grouped';
import type { BodyKind } from '@/core/judging/bodies';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import type { Filed } from '@/records/ledger';
import type { Run } from '@/records/runs';
import { Link } from '@/ui/Link';
import { Pages } from '@/ui/Pages';
import { addressOf } from '@/ui/tokens';
import { When } from '@/ui/When';
import { FiledRow } from '../FiledRow';

const pageSize = 40;

/** Notes have a place of their own; of a pack the volts and resistances of its groups as well. */
const elsewhere: Record<'cell' | 'pack', BodyKind[]> = { cell: ['note'], pack: ['note', 'voltage'] };

/** What was filed in one press of Enter, kind by kind: of a pack a figure for each group. */
const pressed = (filed: readonly Filed[]) => [
  ...groupedBy(filed, ({ entry, body }) => `${entry} ${body.kind}`).values(),
];

interface LifeProps {
  subject: JudgedSubject;
  filed: readonly Filed[];
  runs: readonly Run[];
  page: number;
}

/** Everything that was read or noted of a cell or pack, the newest first, and its discharges. */
export function Life({ subject, filed, runs, page }: LifeProps) {
  const hidden = elsewhere[isPack(subject) ? 'pack' : 'cell'];
  const read = pressed(filed.filter(({ body }) => !hidden.includes(body.kind)));
  return (
    <section className="sheet mb-3" aria-label="All readings">
      <h2>All readings</h2>
      <div className="table-scroll" tabIndex={0}>
        <table className="table">
          <tbody>
            {(page === 1 ? runs : []).map((run) => (
              <tr key={`run${run.id}`} className={run.voidReason === null ? '' : 'soft'}>
                <td className="num text-nowrap">
                  <When at={run.endedAt} as="d MMM yyyy HH:mm" />
                </td>
                <td>discharge</td>
                <td>
                  <Link href={`/capacity/${run.id}`}>test {run.id}</Link>, {run.fileName}
                  {run.voidReason !== null && ` · void: ${run.voidReason}`}
                </td>
                <td />
              </tr>
            ))}
            {read.slice((page - 1) * pageSize, page * pageSize).map((one) => (
              <FiledRow key={`${one[0].entry} ${one[0].body.kind}`} filed={one} />
            ))}
          </tbody>
        </table>
      </div>
      <Pages page={page} total={read.length} size={pageSize} href={(to) => `${addressOf(subject.code)}?page=${to}`} />
      {read.length + runs.length === 0 && <p className="soft mb-0">Nothing yet.</p>}
    </section>
  );
}
