import { countBatches, listBatches, listModels } from '@/records/batches';
import { database } from '@/records/database';
import { judgedWorkshop } from '@/workshop/judged';
import { cellsOfBatch } from '@/core/judging/shelf';
import { Link } from '@/ui/Link';
import { Pages } from '@/ui/Pages';
import { GoBar } from '../frame/GoBar';
import { NewBatchForm } from './NewBatchForm';

const pageSize = 50;

/** Batches with what is left to look at, and a form for the next delivery. */
export async function IntakePage({ page }: { page: number }) {
  const db = database();
  const [workshop, batches, total, models] = await Promise.all([
    judgedWorkshop(),
    listBatches(db, pageSize, (page - 1) * pageSize),
    countBatches(db),
    listModels(db),
  ]);
  const rows = batches.map((batch) => {
    const own = cellsOfBatch(workshop, batch.code);
    const count = (of: string | null) => (batch.archivedAt ? 0 : own.filter((cell) => cell.intake.class === of).length);
    return { ...batch, waiting: count(null), usable: count('usable'), rescue: count('rescue-only'), out: count('out') };
  });
  return (
    <>
      <div className="head">
        <h1>Intake</h1>
        <span className="soft">Look, smell, weigh, measure: then decide at once.</span>
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Batches">
          {rows.length === 0 ? (
            <div className="empty">
              <p>
                No cells yet. Take in the first box: give it a code, say where it came from and what is printed on the
                cells.
              </p>
            </div>
          ) : (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <thead>
                  <tr>
                    <th>Batch</th>
                    <th>From</th>
                    <th className="num">Cells</th>
                    <th className="num">To look at</th>
                    <th className="num">Usable</th>
                    <th className="num">Rescue only</th>
                    <th className="num">Out</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.code}>
                      <td>
                        <Link href={`/intake/${row.code}`} className="num fw-bold">
                          {row.code}
                        </Link>
                      </td>
                      <td>
                        {row.origin}
                        {row.archivedAt && <span className="soft"> · put away</span>}
                      </td>
                      <td className="num">{row.cells}</td>
                      <td className="num">{row.waiting > 0 ? <b className="hot">{row.waiting}</b> : 0}</td>
                      <td className="num">{row.usable}</td>
                      <td className="num">{row.rescue}</td>
                      <td className="num">{row.out}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          <Pages page={page} total={total} size={pageSize} href={(to) => `/intake?page=${to}`} />
        </section>
        <section className="sheet lead-ink">
          <h2>A new batch</h2>
          <NewBatchForm models={models} />
          <p className="soft mt-3 mb-0">
            Kept in a spreadsheet so far? <Link href="/intake/notebook">Bring your notebook</Link>.
          </p>
        </section>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
