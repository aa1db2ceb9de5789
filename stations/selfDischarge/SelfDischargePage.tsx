import { type JudgedSelfDischarge, toReadNow } from '@/core/judging/judgeSelfDischarge';
import { Link } from '@/ui/Link';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { selfDischargeName } from '@/words/selfDischarge';
import { now } from '@/workshop/clock';
import { allSelfDischarges } from '@/workshop/selfDischarges';
import { judgedWorkshop } from '@/workshop/judged';
import { GoBar } from '../frame/GoBar';
import { NewSelfDischargeForm } from './NewSelfDischargeForm';

export const nameOf = ({ held }: JudgedSelfDischarge): string => selfDischargeName(held.map(({ code }) => code));

/** Every self-discharge test: what is to be read now, who rests until when, what came of it. */
export async function SelfDischargePage({ subject }: { subject: string }) {
  const selfDischarges = await allSelfDischarges(await judgedWorkshop());
  const open = selfDischarges.filter(({ endedAt }) => endedAt === null);
  const wanted = open
    .map((selfDischarge) => ({ hold: selfDischarge, count: toReadNow(selfDischarge, now()).length }))
    .filter(({ count }) => count > 0);
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
          {wanted.map(({ hold: selfDischarge, count }) => (
            <p key={selfDischarge.id} style={{ fontSize: '1.3rem', fontWeight: 700 }} className="mb-2">
              <Link href={`/self-discharge/${selfDischarge.id}`}>
                Measure{' '}
                {count === selfDischarge.held.length
                  ? nameOf(selfDischarge)
                  : `${counted(count, 'more')} of ${nameOf(selfDischarge)}`}{' '}
                now
              </Link>
            </p>
          ))}
          {selfDischarges.length === 0 ? (
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
                  {selfDischarges.map((selfDischarge) => (
                    <SelfDischargeRow key={selfDischarge.id} hold={selfDischarge} />
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </section>
        <div className="stack">
          <section className="sheet lead-ink">
            <h2>Start a self-discharge test</h2>
            <NewSelfDischargeForm key={subject} subject={subject} />
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

function SelfDischargeRow({ hold: selfDischarge }: { hold: JudgedSelfDischarge }) {
  const { id, held, beganAt, dueAt, endedAt } = selfDischarge;
  const counts = { holds: 0, leaks: 0, 'cannot-tell': 0 };
  for (const { says } of held) counts[says.verdict] += 1;
  return (
    <tr className={endedAt ? 'soft' : ''}>
      <td>
        <Link className="num fw-bold" href={`/self-discharge/${id}`}>
          {nameOf(selfDischarge)}
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
