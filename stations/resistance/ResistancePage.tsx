import type { MeasuredQuantity } from '@/core/instruments/instrument';
import { methods } from '@/core/resistance/methods';
import { listBatches } from '@/records/batches';
import { database } from '@/records/database';
import { countRounds, listRounds } from '@/records/rounds';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { cellsOfBatch } from '@/core/judging/shelf';
import { Link } from '@/ui/Link';
import { Pages } from '@/ui/Pages';
import { GoBar } from '../frame/GoBar';
import { NewRoundForm } from './NewRoundForm';
import { overPacks } from './overPacks';
import { RestButton } from './RestButton';

const pageSize = 50;
/** The newest batches are offered for a round and for a rest. */
const mostBatches = 60;

/** Rounds of resistance and what waits to be measured. */
export async function ResistancePage({ page }: { page: number }) {
  const db = database();
  const [workshop, rounds, total, batches] = await Promise.all([
    judgedWorkshop(),
    listRounds(db, pageSize, (page - 1) * pageSize),
    countRounds(db),
    listBatches(db, mostBatches),
  ]);
  const packs = await judgedPacks(workshop);
  const { instruments, protocols } = workshop;
  const measuring = (quantity: MeasuredQuantity) =>
    instruments.all
      .filter((one) => one.archivedAt === null && one.ranges[quantity])
      .map((one): [string, string] => [one.code, one.name]);
  const waiting = (code: string) => cellsOfBatch(workshop, code).filter((cell) => cell.waits === 'resistance').length;
  const usable = batches.filter(
    (batch) =>
      batch.archivedAt === null && cellsOfBatch(workshop, batch.code).some((cell) => cell.intake.class === 'usable'),
  );
  return (
    <>
      <div className="head">
        <h1>Resistance</h1>
        <span className="soft">Always under the same conditions; figures are compared within one protocol only.</span>
        <span className="end">
          <Link href="/resistance/protocols">Protocols</Link>
          <Link href="/resistance/compare">Compare methods</Link>
          <Link href="/resistance/predict">What it predicts</Link>
        </span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className="sheet">
            <h2>Rounds</h2>
            {rounds.length === 0 ? (
              <div className="empty">
                <p>
                  {usable.length === 0
                    ? 'Resistance needs usable cells: take a batch in first.'
                    : 'No round yet. Choose a batch and the load you have; then it goes cell after cell.'}
                </p>
                {usable.length === 0 && <Link href="/intake">To the intake</Link>}
              </div>
            ) : (
              <div className="table-scroll" tabIndex={0}>
                <table className="table">
                  <thead>
                    <tr>
                      <th>Round</th>
                      <th>Of</th>
                      <th>Protocol</th>
                      <th className="num">Measured</th>
                      <th className="num">Waiting</th>
                    </tr>
                  </thead>
                  <tbody>
                    {rounds.map((round) => (
                      <tr key={round.id}>
                        <td>
                          <Link className="fw-bold" href={`/resistance/${round.id}`}>
                            Round {round.id}
                          </Link>
                        </td>
                        <td className="text-nowrap">
                          <b className="num">{round.batchCode ?? 'packs'}</b>
                        </td>
                        <td className="soft">
                          {protocols.get(round.protocolId)?.name}, {methods[round.method].name}
                          {round.loadResistanceOhm !== null && ` ${round.loadResistanceOhm} Ω`}
                        </td>
                        <td className="num">{round.read}</td>
                        <td className="num">{round.batchCode === null ? '–' : waiting(round.batchCode)}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            )}
            <Pages page={page} total={total} size={pageSize} href={(to) => `/resistance?page=${to}`} />
          </section>
          {usable.length > 0 && (
            <section className="sheet">
              <h2>Just charged?</h2>
              <p className="soft mb-2">
                A cell must rest before you measure its resistance. Start the rest here; the watch counts it down.
              </p>
              <div className="d-flex flex-wrap gap-2">
                {usable.map((batch) => (
                  <RestButton key={batch.code} batchCode={batch.code} />
                ))}
              </div>
            </section>
          )}
        </div>
        <section className="sheet lead-ink">
          <h2>A new round</h2>
          <NewRoundForm
            protocols={[...protocols.values()]
              .filter((one) => one.archivedAt === null && one.method !== 'pulse')
              .map(({ id, name, method }) => ({ id, method, text: `${name}: ${methods[method].name}` }))}
            instruments={{
              voltage: measuring('voltage'),
              current: measuring('current'),
              resistance: measuring('resistance'),
            }}
            batches={[
              ...usable.map((batch): [string, string] => [
                batch.code,
                `${batch.code}: ${waiting(batch.code)} waiting, ${batch.origin}`,
              ]),
              ...(packs.length > 0
                ? [[overPacks, `packs: ${packs.map(({ code }) => code).join(', ')}`] as [string, string]]
                : []),
            ]}
          />
        </section>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
