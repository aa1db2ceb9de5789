import { voltmeters } from '@/core/judging/instrumentBook';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import { counted } from '@/words/counted';
import { upkeepStateText, upkeepText, upkeepWhy } from '@/words/upkeep';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { upkeepDue, type UpkeepDue } from '@/workshop/upkeep';
import { PackBar } from '../clinic/PackBar';
import { packContext } from '../clinic/packLine';
import { ChooseSubject } from './ChooseSubject';
import { postponeAction } from './actions';

/** Up to this many cells of a batch are named. */
const fewNamed = 4;

/** What is due with what lies there, the worst first; and the way to a charger's sheet. */
export async function UpkeepPage() {
  const workshop = await judgedWorkshop();
  const packs = await judgedPacks(workshop);
  const dues = await upkeepDue(workshop);
  const rules = [...new Set(dues.flatMap(({ rule }) => rule ?? []))];
  const now = dues.filter(({ state }) => state !== 'soon');
  return (
    <>
      <div className="head">
        <h1>Upkeep</h1>
        <span className="soft">A pack left full swells; a pack left empty dies.</span>
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Due">
          <p className="headline">{now.length === 0 ? 'Nothing is due' : `${counted(now.length, 'thing')} to do`}</p>
          {dues.length > 0 && (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <thead>
                  <tr>
                    <th>Who</th>
                    <th>What</th>
                    <th>When</th>
                    <th>Read</th>
                  </tr>
                </thead>
                <tbody>
                  {dues.map((due) => (
                    <Row key={`${due.name} ${due.act} ${due.state}`} due={due} />
                  ))}
                </tbody>
              </table>
            </div>
          )}
          <p className="soft mb-0">
            Cells in a pack and scrapped cells are not listed here. A self-discharge test is listed with its next
            reading.
            {rules.length > 0 && ' By '}
            {rules.map((rule, i) => (
              <span key={rule}>
                {i > 0 && ', '}
                <RuleLink rule={rule} />
              </span>
            ))}
          </p>
        </section>
        <section className="sheet lead-ink" aria-label="Charger sheets">
          <h2>The bench plan</h2>
          <p>
            Which job to do when and at which station, within the attended hours:{' '}
            <Link href="/upkeep/plan">the plan</Link>. Due dates can also appear in your calendar. Create the address
            under <Link href="/access">access</Link>.
          </p>
          <h2>Use</h2>
          <p>
            <Link href="/upkeep/use">Which packs may go out</Link>, for how long they serve, and which are not to be
            used.
          </p>
          <h2>A charger’s sheet</h2>
          <p>Every setting for one cell or pack, refused where it may be another than it is taken for.</p>
          <ChooseSubject />
        </section>
      </div>
      <PackBar shown={null} packs={packs.map(packContext)} meters={voltmeters(workshop.instruments)} />
    </>
  );
}

function Row({ due }: { due: UpkeepDue }) {
  const { name, address, codes, act, state, dueAt, readAt } = due;
  return (
    <tr>
      <th scope="row">
        <Link className="num fw-bold" href={address}>
          {name}
        </Link>
        {codes[0] !== name && (
          <>
            <br />
            <span className="soft">{codes.length <= fewNamed ? codes.join(', ') : counted(codes.length, 'cell')}</span>
          </>
        )}
      </th>
      <td>
        <b>{upkeepText(act)}</b>
        {(act === 'down-to-storage' || act === 'up-to-storage') && (
          <>
            {' · '}
            <Link href={`/upkeep/${codes[0]}?goal=storage`}>sheet</Link>
          </>
        )}
        {act === 'balance' && (
          <>
            {' · '}
            <Link href={`/upkeep/${codes[0]}?goal=balance`}>sheet</Link>
          </>
        )}
        {act === 'to-full' && (
          <>
            {' · '}
            <Link href={`/upkeep/${codes[0]}?goal=charge`}>sheet</Link>
          </>
        )}
        <br />
        <span className="soft">{upkeepWhy(due)}</span>
      </td>
      <td className="text-nowrap">
        <span className={state === 'overdue' ? 'hot fw-bold' : ''}>{upkeepStateText(state)}</span>
        <br />
        <span className="soft num">
          <When at={dueAt} as="d MMM HH:mm" />
        </span>
      </td>
      <td>
        <span className="soft num">
          <When at={readAt} as="d MMM" />
        </span>
        <br />
        {/* A task of an instrument cannot be postponed: it is no cell or pack. */}
        {act !== 'calibrate' && (
          <VoidForm
            verb="Postpone"
            what={name}
            brief
            question={`Why is ${name} postponed for a week?`}
            note="Then it comes back."
            action={postponeAction.bind(null, codes, act)}
          />
        )}
      </td>
    </tr>
  );
}
