import { allInstruments } from '@/workshop/instruments';
import { dischargeArithmetic } from '@/core/capacity/discharge';
import { display, formatQuantity } from '@/core/quantity/format';
import { database } from '@/records/database';
import { namedMappings } from '@/records/logMappings';
import { listRuns } from '@/records/runs';
import { Link } from '@/ui/Link';
import { countedRuns, judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { Pages } from '@/ui/Pages';
import { counted } from '@/words/counted';
import { PlusMinus } from '@/ui/PlusMinus';
import { When } from '@/ui/When';
import { GoBar } from '../frame/GoBar';
import { ImportForm } from './ImportForm';

const pageSize = 50;
/** Cells suggested for a run; any other is typed. */
const mostSuggested = 200;

/** Discharges that were imported, newest first, and the door for the next. */
export async function CapacityPage({ page, subject }: { page: number; subject: string }) {
  const db = database();
  const [workshop, runs, instruments, mappings] = await Promise.all([
    judgedWorkshop(),
    listRuns(db, dischargeArithmetic, pageSize, (page - 1) * pageSize),
    allInstruments(db),
    namedMappings(db),
  ]);
  const packs = (await judgedPacks(workshop)).filter(({ apart }) => apart === null);
  const total = await countedRuns(workshop);
  const waiting = [...packs, ...workshop.cells].filter(({ waits }) => waits === 'capacity');
  return (
    <>
      <div className="head">
        <h1>Capacity</h1>
        <span className="soft">
          {counted(total, 'discharge')} · {counted(waiting.length, 'cell or pack waits', 'cells and packs wait')} for
          theirs
        </span>
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Capacity tests">
          {runs.length === 0 ? (
            <div className="empty">
              <p>
                No capacity test yet. Discharge a full cell or pack through a resistor or at a constant current, log it,
                and import the log here.
              </p>
            </div>
          ) : (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <thead>
                  <tr>
                    <th>Cell or pack</th>
                    <th className="num">Capacity</th>
                    <th>Cut-off</th>
                    <th>File</th>
                    <th className="num">Samples</th>
                    <th>Ended</th>
                  </tr>
                </thead>
                <tbody>
                  {runs.map((run) => (
                    <tr key={run.id}>
                      <td>
                        <Link className="num fw-bold" href={`/capacity/${run.id}`}>
                          {run.code}
                        </Link>
                      </td>
                      <td className="num">
                        {run.reachedCutoff === false && '≥ '}
                        {run.capacityAh === null
                          ? '…'
                          : formatQuantity({ value: run.capacityAh, u: run.capacityU ?? 0 }, display.capacity)}
                      </td>
                      <td>{run.reachedCutoff === false ? <span className="hot">◆ not reached</span> : 'reached'}</td>
                      <td className="soft">{run.fileName}</td>
                      <td className="num">{run.samples.toLocaleString('en')}</td>
                      <td className="num text-nowrap">
                        <When at={run.endedAt} as="dd MMM HH:mm" />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          {runs.length > 0 && <PlusMinus />}
          <Pages page={page} total={total} size={pageSize} href={(to) => `/capacity?page=${to}`} />
        </section>
        <div className="stack">
          <section className="sheet lead-ink">
            <h2>Import a discharge</h2>
            <ImportForm
              key={subject}
              subject={subject}
              waiting={waiting.slice(0, mostSuggested).map(({ code }) => code)}
              packs={packs.map(({ code, series }) => ({ code, series }))}
              loggers={instruments
                .filter((one) => one.archivedAt === null && one.ranges.voltage)
                .map(({ code, name }) => ({ code, name }))}
              mappings={mappings}
            />
          </section>
          <p className="soft mb-0">
            A resistor has no shut-off. Be there before the cell, or the first group of a pack, reaches its floor.{' '}
            <Link href={`/capacity/resistor?subject=${subject}`}>Choose a resistor</Link>. Never leave a discharge
            unattended.
          </p>
        </div>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
