import { display, formatFigure } from '@/core/quantity/format';
import { type Batch, batchByCode, listModels, modelOfBatch } from '@/records/batches';
import { correctionsOf } from '@/records/corrections';
import { cellReadLast } from '@/records/readings';
import { database } from '@/records/database';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { cellsOfBatch } from '@/core/judging/shelf';
import { Corrections } from '../Corrections';
import { NextStep } from '../subject/NextStep';
import { ArchiveButton } from '@/ui/ArchiveButton';
import { weldText } from '@/ui/tokens';
import { timesText } from '@/words/counted';
import { IntakeClassMark } from '@/ui/IntakeClassMark';
import { modelText } from '@/core/judging/models';
import { When } from '@/ui/When';
import { notFound } from 'next/navigation';
import { voltmeters } from '@/core/judging/instrumentBook';
import { Link } from '@/ui/Link';
import { archiveBatchAction } from './actions';
import { CorrectBatchForm } from './CorrectBatchForm';
import { batchMedian, intakeFields } from './intakeLine';
import { lineCellOf, readAs } from './lineCell';
import { cellInHand } from './inHand';
import { InspectionKeys } from '../InspectionKeys';
import { IntakeReasons } from '../IntakeReasons';
import { IntakeBar } from './IntakeBar';
import { IntakeTray } from './IntakeTray';

/** One batch, cell after cell: the cell in hand large, what is still to be read of it, and the verdict at once. */
export async function BatchPage({
  code: asked,
  at,
  after,
}: {
  code: string;
  at: string | undefined;
  after: string | undefined;
}) {
  const code = asked.toUpperCase();
  const [judged, batch, latest] = await Promise.all([
    judgedWorkshop(),
    batchByCode(database(), code),
    cellReadLast(database(), code),
  ]);
  if (!batch) notFound();
  const workshop = await withCellsOf(judged, { batchCode: code });
  const cells = cellsOfBatch(workshop, code);
  const current = cellInHand(cells, {
    at: at && String(at).toUpperCase(),
    after: after && String(after).toUpperCase(),
    latest,
  });
  const before =
    cells.find((cell) => cell.code === latest && cell !== current) ??
    (current ? cells[current.place - 2] : cells.at(-1));
  const read = cells.filter((cell) => cell.intake.class !== null).length;
  const count = (of: string) => cells.filter((cell) => cell.intake.class === of).length;

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/intake">Intake</Link> · batch {code}
        </h1>
        <span className="soft">
          {batch.origin} · {read} of {cells.length} decided{batch.notes && ` · ${batch.notes}`}
          {batch.archivedAt && (
            <b className="hot">
              {' '}
              · put away on <When at={batch.archivedAt} as="d MMM yyyy" />
            </b>
          )}
        </span>
        <span className="end">
          <Link href={`/intake/${code}/labels`}>Labels</Link>
          {count('usable') > 0 && <Link href="/resistance">On to resistance</Link>}
        </span>
      </div>
      <div className="cols">
        {current ? <InHand cell={current} /> : <AllRead code={code} />}
        <section className="sheet" aria-label="Batch so far">
          <h2>Batch so far</h2>
          <p className="mb-2">
            <IntakeClassMark of="usable" /> {count('usable')} usable <br />
            <IntakeClassMark of="rescue-only" /> {count('rescue-only')} rescue only <br />
            <IntakeClassMark of="out" /> {count('out')} out
          </p>
          <IntakeTray
            batchCode={code}
            cells={cells.map((cell) => [cell.code, cell.intake.class])}
            now={current?.code ?? null}
          />
        </section>
      </div>
      {before && before !== current && before.intake.class !== null && (
        <section className="sheet" aria-label="The cell before">
          <h2>
            <span className="num">{before.code}</span> <IntakeClassMark of={before.intake.class} named />
          </h2>
          <IntakeReasons reasons={before.intake.reasons} />
          {before.intake.class !== 'usable' && <NextStep subject={before} />}
        </section>
      )}
      <AboutBatch batch={batch} />
      <IntakeBar
        batchCode={code}
        currentCode={current?.code ?? null}
        isVisit={at !== undefined}
        cells={cells.map(lineCellOf)}
        meters={voltmeters(workshop.instruments)}
        batch={batchMedian(cells)}
      />
    </>
  );
}

/** What was noted of the batch, to be corrected, and what stood there before. */
async function AboutBatch({ batch }: { batch: Batch }) {
  const db = database();
  const [model, models, corrections] = await Promise.all([
    modelOfBatch(db, batch.id),
    listModels(db),
    correctionsOf(db, { batchId: batch.id }),
  ]);
  return (
    <details className="sheet mt-3" aria-label="About this batch">
      <summary>About this batch{corrections.length > 0 && `, corrected ${timesText(corrections.length)}`}</summary>
      <div className="cols mt-2">
        {model && (
          <CorrectBatchForm
            key={corrections.length}
            code={batch.code}
            origin={batch.origin}
            notes={batch.notes}
            model={model}
            models={models}
          />
        )}
        <div>
          <ArchiveButton
            name={`batch ${batch.code} with its cells`}
            away={batch.archivedAt === null}
            act={archiveBatchAction.bind(null, batch.id, batch.archivedAt === null)}
          />
          <p className="soft">
            Taken in by mistake? Put the batch away: its cells no longer count, and all readings stay on file.
          </p>
          <Corrections corrections={corrections} />
        </div>
      </div>
    </details>
  );
}

const wanted = { voltage: 'Measure its resting voltage', weight: 'Weigh it', inspection: 'Look, feel and smell' };

function InHand({ cell }: { cell: JudgedCell }) {
  const [next] = cell.intake.missing;
  const has = readAs(cell);
  return (
    <section className="sheet lead-ember" aria-label="Cell in hand">
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <span className="code">{weldText([cell.code, ...cell.weldedTo])}</span>
        <span className="soft">
          {cell.weldedTo.length > 0 && 'welded together, read as one: figures are those of each · '}
          place {cell.place} · {modelText(cell)} · {formatFigure(cell.ratedCapacityAh, display.capacity, 2)}
          {cell.modelMassKg !== null && ` · ${formatFigure(cell.modelMassKg, display.mass)} when good`}
        </span>
      </div>
      <p style={{ fontSize: '1.7rem', fontWeight: 700, margin: '4px 0 10px' }}>
        {next ? `${wanted[next]}.` : <IntakeClassMark of={cell.intake.class} named />}
      </p>
      <div className="fields">
        {intakeFields.map((field) => (
          <div key={field}>
            <div className="soft">{field}</div>
            <div className="num" style={{ fontSize: '1.45rem', fontWeight: 600 }}>
              {has[field] ?? '–'}
            </div>
          </div>
        ))}
      </div>
      {next === 'inspection' && <InspectionKeys key={cell.code} code={cell.code} kind="cell" />}
      {next && (
        <p className="mt-3 mb-0">
          <Link className="btn btn-quiet" href={`/intake/${cell.batchCode}?after=${cell.code}`} scroll={false}>
            <kbd>-</kbd> leave it for later
          </Link>
        </p>
      )}
      {cell.intake.reasons.length > 0 && (
        <div className="mt-3">
          <IntakeReasons reasons={cell.intake.reasons} />
        </div>
      )}
      {cell.intake.unsafe && <p className="ask mt-2 mb-0">Set it aside outdoors, on stone. Never charge it.</p>}
      {cell.intake.missing.length === 0 && <NextStep subject={cell} />}
    </section>
  );
}

const AllRead = ({ code }: { code: string }) => (
  <section className="sheet lead-ink empty">
    <p>
      Every cell of {code} is decided. Print their <Link href={`/intake/${code}/labels`}>labels</Link>, or go on to{' '}
      <Link href="/resistance">resistance</Link>.
    </p>
  </section>
);
