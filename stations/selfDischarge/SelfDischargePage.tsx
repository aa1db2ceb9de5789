import { type JudgedHold, toReadNow } from '@/core/judging/judgeHold';
import { Link } from '@/ui/Link';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { holdName } from '@/words/hold';
import { now } from '@/workshop/clock';
import { allHolds } from '@/workshop/holds';
import { judgedWorkshop } from '@/workshop/judged';
import { GoBar } from '../frame/GoBar';
import { NewHoldForm } from './NewHoldForm';

export const nameOf = ({ held }: JudgedHold): string => holdName(held.map(({ code }) => code));

/** Every self-discharge test: what is to be read now, who rests until when, what came of it. */
export async function SelfDischargePage({ subject }: { subject: string }) {
  const holds = await allHolds(await judgedWorkshop());
  const open = holds.filter(({ endedAt }) => endedAt === null);
  const wanted = open.map((hold) => ({ hold, count: toReadNow(hold, now()).length })).filter(({ count }) => count > 0);
  return (
    <>
      <div className="head">
        <h1>Self-discharge</h1>
        <span className="soft">
          Let cells rest and measure them again. A cell that drops faster than the rest self-discharges.
        </span>
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Self-discharge tests">
          {wanted.map(({ hold, count }) => (
            <p key={hold.id} style={{ fontSize: '1.3rem', fontWeight: 700 }} className="mb-2">
              <Link href={`/self-discharge/${hold.id}`}>
                Measure {count === hold.held.length ? nameOf(hold) : `${counted(count, 'more')} of ${nameOf(hold)}`} now
              </Link>
            </p>
          ))}
          {holds.length === 0 ? (
            <div className="empty">
              <p>
                No self-discharge test yet. Charge a batch full, let it settle for a day, and put it to rest here. The
                watch says when to read it again.
              </p>
            </div>
          ) : (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <thead>
                  <tr>
                    <th>Test</th>
                    <th>Since</th>
                    <th>Next reading</th>
                    <th className="num">Hold</th>
                    <th className="num">Leak</th>
                    <th className="num">Not known</th>
                  </tr>
                </thead>
                <tbody>
                  {holds.map((hold) => (
                    <HoldRow key={hold.id} hold={hold} />
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </section>
        <div className="stack">
          <section className="sheet lead-ink">
            <h2>Start a self-discharge test</h2>
            <NewHoldForm key={subject} subject={subject} />
          </section>
          <p className="soft mb-0">
            A cell that leaks drains its neighbours in parallel and can run hot. Look at every stored lithium cell
            monthly, whatever this test said.
          </p>
        </div>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

function HoldRow({ hold }: { hold: JudgedHold }) {
  const { id, held, beganAt, dueAt, endedAt } = hold;
  const counts = { holds: 0, leaks: 0, 'cannot-tell': 0 };
  for (const { says } of held) counts[says.verdict] += 1;
  return (
    <tr className={endedAt ? 'soft' : ''}>
      <td>
        <Link className="num fw-bold" href={`/self-discharge/${id}`}>
          {nameOf(hold)}
        </Link>
      </td>
      <td className="num text-nowrap">
        <When at={beganAt} as="d MMM yyyy" />
      </td>
      <td className="num text-nowrap">
        {endedAt && 'ended'}
        {!endedAt && (dueAt ? <When at={dueAt} as="d MMM" /> : 'complete')}
      </td>
      <td className="num">{counts.holds}</td>
      <td className="num">{counts.leaks > 0 ? `◆ ${counts.leaks}` : '0'}</td>
      <td className="num">{counts['cannot-tell']}</td>
    </tr>
  );
}
