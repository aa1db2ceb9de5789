import { curveBasisText } from '@/words/chemistry';
import { percentText } from '@/words/figures';
import { Grounds } from '@/stations/Grounds';
import { warningText } from '@/words/warnings';
import { isFirstAfterStorage } from '@/core/capacity/afterStorage';
import { estimateEarlyEnd } from '@/core/capacity/earlyEnd';
import { voltmeterU } from '@/core/judging/curveBook';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { display, formatDuration, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Warning } from '@/core/warning';
import { database } from '@/records/database';
import { type Run, runById, runsOfSubject } from '@/records/runs';
import { curveOf } from '@/records/samples';
import { columnsOf } from '@/core/capacity/sampleColumns';
import { judgedPacks, judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { cellOfCode } from '@/core/judging/shelf';
import { isPack } from '@/core/judging/subject';
import { Budget } from '@/ui/Budget';
import { Figure } from '@/ui/Figure';
import { VoidForm } from '@/ui/VoidForm';
import { addressOf, weldText } from '@/ui/tokens';
import { PlusMinus } from '@/ui/PlusMinus';
import { When } from '@/ui/When';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { voidEntryAction } from '@/stations/entryActions';
import { RunCurves } from './RunCurves';
import { judgeRun } from '@/workshop/judgeRun';
import { GroupsLeft } from './GroupsLeft';
import { LoadSteps } from './LoadSteps';
import { Segments } from './Segments';
import { ReadAgain } from './ReadAgain';
import { pulsesFiled } from '@/records/readings';
import { Link } from '@/ui/Link';

function loadText({ load, loadTolerance }: Run): string {
  const within = loadTolerance === null ? '' : ` ± ${Number((loadTolerance * 100).toPrecision(3))} %`;
  if (load.kind === 'column') return 'current as logged';
  return load.kind === 'resistor'
    ? `resistor ${load.resistanceOhm} Ω${within}`
    : `constant ${load.currentA.toFixed(3)} A${within}`;
}

/** Where a discharge ends: of a cell, of the first group that was logged, or of the whole by count. */
function cutoffText({ series, groupStepV }: Run, cutoffV: number): string {
  if (series === 1) return `${cutoffV} V`;
  return groupStepV === null
    ? `${formatFigure(series * cutoffV, display.voltage)}, ${cutoffV} V a group by count`
    : `${cutoffV} V in its first group`;
}

/** This many other runs are offered to be laid over. */
const mostCompared = 100;

/** What was assumed of the tools is no oddity of the log. */
const aboutTools = ['load-tolerance-assumed', 'current-accuracy-assumed', 'voltage-accuracy-assumed'];
const isAssumed = (notice: Warning): boolean =>
  aboutTools.includes(notice.code === 'as-noted' ? notice.about : notice.code);

/** One discharge: capacity large, the curve with its cut-off, everything that was noticed. */
export async function RunPage({ id }: { id: number }) {
  const db = database();
  const run = await runById(db, id);
  if (!run) notFound();
  const workshop = await withCellsOf(await judgedWorkshop(), { code: run.code });
  const { rules } = workshop;
  const subject =
    run.kind === 'pack'
      ? (await judgedPacks(workshop)).find(({ code }) => code === run.code)
      : cellOfCode(workshop, run.code);
  if (!subject) notFound();
  const ratedAh = subject.ratedCapacityAh;
  const cutoffV = lowestVoltageV(subject.chemistry, rules.limits);
  const [result, runs, drawn] = await Promise.all([
    judgeRun(run, cutoffV),
    runsOfSubject(db, run.subjectIds[0] ?? 0),
    curveOf(db, run.layoutId),
  ]);
  const compared = runs.filter((other) => other.voidReason === null && other.id !== id).slice(0, mostCompared);
  const logger = workshop.instruments.byId(run.loggerId);
  const together = 1 + run.withCodes.length;
  const asNewAh = isPack(subject) ? (subject.asNew?.capacityAh ?? null) : null;
  const health = result.capacityAh.value / together / (asNewAh ?? ratedAh);
  const curve = workshop.curves.of(subject);
  const measured = workshop.curves.learntOf(subject);
  const early =
    result.reachedCutoff === false && curve
      ? estimateEarlyEnd({
          discharge: result,
          curve,
          series: run.series,
          voltmeterU: voltmeterU(logger?.ranges.voltage ?? null, result.endVoltageV / run.series),
          resistanceOhm: isPack(subject) ? null : (subject.resistance?.value ?? null),
        })
      : null;
  const isFirst = isFirstAfterStorage(
    run.endedAt,
    compared.map(({ endedAt }) => endedAt),
    subject.chemistry,
  );
  const all = [...run.notices, ...result.warnings];
  const [assumed, notices] = [all.filter(isAssumed), all.filter((notice) => !isAssumed(notice))];

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/capacity">Capacity test {run.id}</Link> ·{' '}
          <Link href={addressOf(run.code)} className="num">
            {weldText([run.code, ...run.withCodes])}
          </Link>
        </h1>
        <span className="soft">
          {run.hasFile ? (
            <a href={`/api/v1/runs/${run.id}/file`} download={run.fileName}>
              {run.fileName}
            </a>
          ) : (
            run.fileName
          )}{' '}
          (<a href={`/api/v1/runs/${run.id}/samples?as=csv`}>CSV</a>,{' '}
          <a href={`/api/v1/runs/${run.id}/samples?as=parquet`}>Parquet</a>, <a href={`/api/v1/runs/${run.id}`}>JSON</a>
          ) · {loadText(run)} · {logger ? `logged by ${logger.code}, ` : ''}ended{' '}
          <When at={run.endedAt} as="d MMM yyyy HH:mm" />
        </span>
        {run.voidReason !== null && <span className="tag hot">void: {run.voidReason}</span>}
      </div>
      <div className="cols">
        <section className="sheet" aria-label="Curve">
          <RunCurves
            id={id}
            own={{ columns: columnsOf(drawn), segments: result.segments, load: run.load }}
            others={compared.map((other) => ({
              id: other.id,
              label: (
                <>
                  <Link href={`/capacity/${other.id}`}>Test {other.id}</Link>, {loadText(other)},{' '}
                  <When at={other.endedAt} as="d MMM yyyy" />
                </>
              ),
            }))}
            series={run.series}
            cutoffV={result.groups ? cutoffV : cutoffV * run.series}
            groups={result.groups?.map(({ reachedCutoff }) => reachedCutoff === true) ?? null}
            fromS={result.fromS}
            toS={result.toS}
            gaps={result.gaps}
            resetsS={run.notices.flatMap((notice) => (notice.code === 'clock-reset' ? (notice.atS ?? []) : []))}
            wild={result.wild}
          />
        </section>
        <section className="sheet lead-ember" aria-label="Capacity">
          <div className="soft">
            {result.reachedCutoff ? `Capacity down to ${cutoffText(run, cutoffV)}` : 'Capacity, at least'}
          </div>
          <Figure quantity={result.capacityAh} as={display.capacity} mid />
          {isFirst && (
            <p className="ask mb-2">
              Its first discharge in a month. It shows storage, not health. Two or three cycles give the capacity.
            </p>
          )}
          {early && (
            <p className="mb-2">
              Its voltage at the end means about{' '}
              <b className="num">{formatQuantity(early.capacityAh, display.capacity)}</b> down to empty: an estimate,
              from {percentText(early.startSoc.value)} to {percentText(early.endSoc.value)} by{' '}
              {curveBasisText(workshop.curves.basisOf(subject))}.
            </p>
          )}
          {measured?.runId === id && (
            <p className="mb-2">
              This test gives the open-circuit curve of its model. The curve turns a voltage into a state of charge.
            </p>
          )}
          <p className="mb-2">
            {result.reachedCutoff === false && 'at least '}
            {Math.round(health * 100)} % of {asNewAh === null ? 'the rated' : 'its capacity when new,'}{' '}
            {formatFigure(asNewAh ?? ratedAh, display.capacity, 2)}
            {together > 1 && ` of each: ${together} cells welded together count alike`}
          </p>
          <table className="table num" style={{ fontSize: '0.92rem' }}>
            <tbody>
              {(
                [
                  ['energy', formatFigure(result.energyWh, display.energy)],
                  ['loaded', formatDuration(result.durationS)],
                  [
                    'mean',
                    `${formatFigure(result.meanVoltageV, display.voltage)}, ` +
                      `${formatFigure(result.meanCurrentA, display.current)}`,
                  ],
                  ['rate', `${(result.meanCurrentA / ratedAh).toFixed(2)} C`],
                  ['samples', result.samples.toLocaleString('en')],
                ] as const
              ).map(([name, value]) => (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td className="num">{value}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Budget budget={result.budget} as={display.capacity} decimals={4} />
          <PlusMinus />
          {assumed.map((notice) => (
            <p key={warningText(notice)} className="soft mb-0">
              {warningText(notice)} <Grounds code={notice.code} />
            </p>
          ))}
        </section>
      </div>
      {result.groups && <GroupsLeft groups={result.groups} capacityAh={result.capacityAh.value} />}
      {notices.length > 0 && (
        <section className="sheet mb-3" aria-label="Noticed in the log">
          <h2>Noticed in the log</h2>
          {notices.map((notice) => (
            <p key={warningText(notice)} className="ask mb-1">
              {warningText(notice)} <Grounds code={notice.code} />
            </p>
          ))}
        </section>
      )}
      <Segments segments={result.segments} chemistry={subject.chemistry} />
      <LoadSteps edges={result.edges} runId={id} filed={await pulsesFiled(db, id)} standing={run.voidReason === null} />
      {run.hasFile && run.voidReason === null && (
        <ReadAgain
          runId={run.id}
          series={run.series}
          load={run.load}
          loadTolerance={run.loadTolerance}
          mapping={run.mapping}
        />
      )}
      {run.voidReason === null && (
        <VoidForm
          what="this test"
          note={
            `Its samples stay stored; ${run.code} is judged without ` +
            `${formatQuantity(result.capacityAh, display.capacity)}.`
          }
          action={voidEntryAction.bind(null, run.entry)}
        />
      )}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
