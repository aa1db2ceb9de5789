import { Grounds, HandbookLink } from '../Grounds';
import { handsStation, shelfStation } from '@/core/planning/benchPlan';
import type { PlannedJob } from '@/records/benchPlans';
import { PlusMinus } from '@/ui/PlusMinus';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import { addressOf } from '@/ui/tokens';
import { counted } from '@/words/counted';
import { hoursText } from '@/words/figures';
import { beginText, endText, jobName, slippedText, unplacedText } from '@/words/schedule';
import { benchNow, type BenchNow, benchOf } from '@/workshop/benchPlan';
import { now } from '@/workshop/clock';
import { judgedWorkshop } from '@/workshop/judged';
import { ActButton } from '@/ui/ActButton';
import { Link } from '@/ui/Link';
import { GoBar } from '../frame/GoBar';
import { JobActs, ReplanButton } from './JobActs';
import { type Lain, Lanes } from './Lanes';
import { HoursForm, JobsForm } from './PlanForms';
import { dropJobAction, withdrawHoursAction } from './planActions';

const minuteMs = 60_000;
const dayMs = 86_400_000;

/** What is done with whom, where and when: the next thing to do, each day in lanes, the list, and what is wanted. */
export async function PlanPage({ subject }: { subject: string }) {
  const bench = benchOf(await judgedWorkshop());
  const state = await benchNow();
  const { jobs, attended, slips } = state;
  const placed = inTime(jobs);
  const unplaced = jobs.filter(({ planned, begun }) => !planned && !begun);
  const hasTools = bench.chargers.length + bench.loads.length > 0;
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/upkeep">Upkeep</Link> · bench plan
        </h1>
        <span className="soft">No charge, discharge or rescue outside attended hours.</span>
        <span className="end">
          <ReplanButton isWanted={slips.length > 0} />
        </span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className="sheet lead-ember" aria-label="Next">
            <Next state={state} placed={placed} />
          </section>
          {placed.length > 0 && (
            <section className="sheet" aria-label="Lanes">
              <Lanes
                jobs={placed.map(lainOf)}
                stations={[...bench.chargers.map(({ id }) => id), ...bench.loads, handsStation, shelfStation]}
                attended={attended.map(({ fromAt, toAt }) => ({ fromMs: fromAt.getTime(), toMs: toAt.getTime() }))}
                nowMs={now().getTime()}
              />
            </section>
          )}
          {jobs.length > 0 && (
            <section className="sheet" aria-label="Jobs">
              <JobList placed={placed} unplaced={unplaced} state={state} />
            </section>
          )}
        </div>
        <div className="stack">
          <section className="sheet lead-ink" aria-label="What is wanted">
            <h2>What is wanted</h2>
            {!hasTools && (
              <p className="hot">
                ◆ No charger and no load is among the <Link href="/instruments">instruments</Link>: say what yours can
                do first.
              </p>
            )}
            <JobsForm subject={subject} />
          </section>
          <section className="sheet" aria-label="Attended hours">
            <h2>Attended hours</h2>
            {attended.length > 0 && (
              <ul className="reasons">
                {attended.map(({ id, fromAt, toAt }) => (
                  <li key={id} className="d-flex justify-content-between align-items-center">
                    <span className="num text-nowrap">
                      <When at={fromAt} as="EEE d HH:mm" /> – <When at={toAt} as="HH:mm" />
                    </span>
                    <ActButton label="Remove these hours" act={withdrawHoursAction.bind(null, id)}>
                      Remove
                    </ActButton>
                  </li>
                ))}
              </ul>
            )}
            <HoursForm />
          </section>
        </div>
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

/** A job with where it is planned, or where it runs. */
interface Timed {
  job: PlannedJob;
  station: string;
  fromAt: Date;
  toAt: Date;
}

/** Those that run or are planned, in the order of time. */
function inTime(jobs: readonly PlannedJob[]): Timed[] {
  return jobs
    .flatMap((job): Timed[] => {
      const { begun, planned } = job;
      if (begun) {
        const toAt = new Date(begun.at.getTime() + begun.plannedS * 1000);
        return [{ job, station: begun.station, fromAt: begun.at, toAt }];
      }
      return planned ? [{ job, station: planned.station, fromAt: planned.fromAt, toAt: planned.toAt }] : [];
    })
    .sort((a, b) => a.fromAt.getTime() - b.fromAt.getTime() || a.station.localeCompare(b.station));
}

const lainOf = ({ job: { id, of, kind, begun }, station, fromAt, toAt }: Timed): Lain => ({
  id,
  of,
  kind,
  station,
  fromMs: fromAt.getTime(),
  toMs: toAt.getTime(),
  isRunning: begun !== null,
});

/** What the hands do next, or what it takes before there is anything. */
function Next({ state, placed }: { state: BenchNow; placed: readonly Timed[] }) {
  const { jobs, attended, slips, plan } = state;
  if (jobs.length === 0)
    return (
      <>
        <p className="headline">Nothing is wanted</p>
        <p className="soft mb-0">Enter the jobs for your packs and cells, and your attended hours.</p>
      </>
    );
  const next = nextOf(placed);
  return (
    <>
      {slips.length > 0 && (
        <div role="alert">
          <p className="headline hot">◆ The plan slipped</p>
          <ul className="reasons mb-2">
            {slips.slice(0, 4).map((slip) => (
              <li key={slip.job.id}>
                {slippedText[slip.code](slip.job.of, slip.job.kind)}
                {slip.code === 'not-begun' && (
                  <>
                    {' at '}
                    <When at={slip.fromAt} as="HH:mm" />
                  </>
                )}
              </li>
            ))}
            {slips.length > 4 && <li>and {counted(slips.length - 4, 'more')}</li>}
          </ul>
        </div>
      )}
      {next ? (
        <p className="headline" style={slips.length > 0 ? { fontSize: '1.15rem' } : undefined}>
          <span className="num">
            <When at={next.at} as="EEE HH:mm" />
          </span>{' '}
          {next.does}
        </p>
      ) : (
        <p className="headline">The plan is empty</p>
      )}
      {attended.length === 0 && <p className="hot">◆ No attended hours. Add them to plan jobs.</p>}
      {plan && placed.length > 0 && (
        <p className="soft mb-0">
          Done by <When at={plan.endsAt} as="EEE d MMM HH:mm" />
          {'; '}
          <Gap plan={plan} attended={attended} /> Made <When at={plan.madeAt} as="d MMM HH:mm" />.
        </p>
      )}
    </>
  );
}

/** How far a plan is from what none can beat. */
function Gap({
  plan: { endsAt, boundAt, madeAt },
  attended,
}: {
  plan: NonNullable<BenchNow['plan']>;
  attended: BenchNow['attended'];
}) {
  const thereMs = (from: Date, to: Date): number =>
    attended.reduce((sum, { fromAt, toAt }) => sum + Math.max(0, Math.min(+to, +toAt) - Math.max(+from, +fromAt)), 0);
  const apartMs = thereMs(boundAt, endsAt);
  const how = <HandbookLink page="bench-plan">how it is planned</HandbookLink>;
  if (apartMs < minuteMs) return <>no plan is done earlier. {how}</>;
  return (
    <>
      none is done before <When at={boundAt} as="EEE HH:mm" />, {hoursText(apartMs / 1000)} of attended time earlier (
      {((100 * apartMs) / thereMs(madeAt, endsAt)).toFixed(1)} %). {how}
    </>
  );
}

/** The first thing for the hands: something to take off, or to begin whose turn has come. */
function nextOf(placed: readonly Timed[]): { at: Date; does: string } | null {
  const waiting = new Set(placed.map(({ job }) => job.id));
  const acts = placed.flatMap(({ job, station, fromAt, toAt }) => {
    if (job.begun) return [{ at: toAt, does: endText(job.kind, job.of, station) }];
    return job.after !== null && waiting.has(job.after)
      ? []
      : [{ at: fromAt, does: beginText(job.kind, job.of, station) }];
  });
  return acts.sort((a, b) => a.at.getTime() - b.at.getTime())[0] ?? null;
}

interface JobListProps {
  placed: readonly Timed[];
  unplaced: readonly PlannedJob[];
  state: BenchNow;
}

function JobList({ placed, unplaced, state: { plan, jobs } }: JobListProps) {
  const whys = new Map(plan?.unplaced.map(({ id, why }) => [id, why]));
  const named = (id: string): string => {
    const job = jobs.find((one) => one.id === id);
    return job ? `${job.of}: ${jobName(job.kind)}` : 'something else';
  };
  return (
    <>
      <div className="d-flex justify-content-between flex-wrap gap-2">
        <h2>{counted(jobs.length, 'job')}</h2>
        <a href="/api/v1/plan.ics" className="no-print">
          As a calendar (iCalendar)
        </a>
      </div>
      <div className="table-scroll" tabIndex={0}>
        <table className="table stacked">
          <thead>
            <tr>
              <th>When</th>
              <th>What</th>
              <th>
                <span className="visually-hidden">Do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {unplaced.map((job) => {
              const why = whys.get(job.id);
              return (
                <tr key={job.id} id={`job-${job.id}`}>
                  <td className="hot fw-bold">◆ in no plan</td>
                  <td>
                    <Who job={job} />
                    <br />
                    <span className="soft">
                      {why ? unplacedText(why, named) : 'It came after the plan was made.'}
                    </span>{' '}
                    {why && <Grounds code={why.code} />}
                  </td>
                  <td>
                    <Drop job={job} />
                  </td>
                </tr>
              );
            })}
            {placed.map((timed) => (
              <JobRow
                key={timed.job.id}
                timed={timed}
                isBlocked={placed.some(({ job }) => job.id === timed.job.after)}
              />
            ))}
          </tbody>
        </table>
      </div>
      {placed.some(({ job }) => job.planned) && (
        <>
          <p className="soft mt-2 mb-0">
            Each job gets the time of its charger sheet plus its ±, which is enough for five of six jobs. Between two
            jobs the cell or pack rests for half an hour. Before a resistance it rests as long as the house rules say.
          </p>
          <PlusMinus />
        </>
      )}
    </>
  );
}

const Who = ({ job: { of, kind } }: { job: PlannedJob }) => (
  <>
    <Link href={addressOf(of)} className="num fw-bold">
      {of}
    </Link>
    : {jobName(kind)}
  </>
);

const Drop = ({ job }: { job: PlannedJob }) => (
  <VoidForm
    verb="Drop"
    what={`${job.of}: ${jobName(job.kind)}`}
    brief
    question={`Why is ${job.of} not wanted any more?`}
    note="What follows it is then done without it."
    action={dropJobAction.bind(null, job.id)}
  />
);

function JobRow({ timed: { job, station, fromAt, toAt }, isBlocked }: { timed: Timed; isBlocked: boolean }) {
  const { planned, begun, of, kind } = job;
  const at = now();
  const isLong = toAt.getTime() - fromAt.getTime() > dayMs;
  const isHot = begun ? toAt <= at : fromAt <= at && !isBlocked;
  const name = `${of}, ${jobName(kind)}`;
  return (
    <tr id={`job-${job.id}`}>
      <td className="text-nowrap num">
        {begun ? '● ' : ''}
        <When at={fromAt} as="EEE HH:mm" /> – <When at={toAt} as={isLong ? 'EEE d MMM' : 'HH:mm'} />
        {begun && <div className={toAt <= at ? 'hot fw-bold' : ''}>{toAt <= at ? '◆ look at it' : 'at it now'}</div>}
      </td>
      <td>
        <Who job={job} />
        <span className="soft">
          {', '}
          {station}
          {sheetOf(job) && (
            <>
              {' · '}
              <Link href={`/upkeep/${of}?goal=${sheetOf(job)}`}>sheet</Link>
            </>
          )}
          {kind === 'hold' && (
            <>
              {' · '}
              <Link href={`/self-discharge?subject=${of}`}>self-discharge test</Link>
            </>
          )}
          <br />
          {planned && durationText(planned)}
        </span>
      </td>
      <td>
        <div className="d-flex gap-1 align-items-start">
          {(begun || !isBlocked) && <JobActs id={job.id} name={name} isBegun={begun !== null} hot={isHot} />}
          {!begun && <Drop job={job} />}
        </div>
      </td>
    </tr>
  );
}

/** What a sheet is made for, where there is one. */
const sheetOf = ({ kind }: PlannedJob): string | null => (kind === 'resistance' || kind === 'hold' ? null : kind);

function durationText({ expectedMin, doubtMin, isBlind }: NonNullable<PlannedJob['planned']>): string {
  if (expectedMin > 2 * 1440) return hoursText(expectedMin * 60);
  const minutes = `${Math.round(expectedMin)} ± ${Math.max(1, Math.round(doubtMin))} min`;
  return isBlind ? `${minutes}, worst case: no reading yet` : minutes;
}
