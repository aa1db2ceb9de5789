import { inspectionFindings } from '@/core/grading/intake';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { sagV } from '@/core/resistance/loadStep';
import { database } from '@/records/database';
import { readingsOfCell, type StoredReading } from '@/records/readings';
import { runsOfCell } from '@/records/runs';
import { type JudgedCell, judgedWorkshop } from '@/stations/workshop';
import { dutyNames, DutyMark } from '@/ui/DutyMark';
import { IntakeClassMark } from '@/ui/IntakeClassMark';
import { format } from 'date-fns';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { LimitTable } from './LimitTable';
import { VoidReading } from './VoidReading';

/** One cell's life: what it can do, on which readings that stands, everything ever read of it. */
export async function CellPage({ code }: { code: string }) {
  const cell = (await judgedWorkshop()).cells.find((one) => one.code === code.toUpperCase());
  if (!cell) notFound();
  const [readings, runs] = await Promise.all([readingsOfCell(database(), cell.id), runsOfCell(database(), cell.id)]);
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/shelf">Shelf</Link> · cell
        </h1>
        <span className="soft">
          {cell.maker} {cell.model} · {formatFigure(cell.ratedCapacityAh, display.capacity, 2)} rated · batch <Link href={`/intake/${cell.batchCode}`}>{cell.batchCode}</Link>, place {cell.place}
          {cell.bond && ` · welded to its neighbour (${cell.bond})`}
        </span>
      </div>
      <div className="cols wide-end">
        <Verdict cell={cell} />
        <section className="sheet" aria-label="Limits">
          <h2>Limits of the house</h2>
          {cell.duty.checks.length > 0 ? <LimitTable cell={cell} /> : <p className="soft mb-0">Capacity and resistance are missing yet.</p>}
        </section>
      </div>
      <section className="sheet" aria-label="Everything read of it">
        <h2>Everything read of it</h2>
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <tbody>
              {runs.map((run) => (
                <tr key={`run${run.id}`} className={run.voidReason === null ? '' : 'soft'}>
                  <td className="num text-nowrap">{format(run.endedAt, 'd MMM yyyy HH:mm')}</td>
                  <td>discharge</td>
                  <td>
                    <Link href={`/runs/${run.id}`}>run {run.id}</Link>, {run.fileName}
                    {run.voidReason !== null && ` · void: ${run.voidReason}`}
                  </td>
                  <td />
                </tr>
              ))}
              {readings.map((reading) => (
                <tr key={reading.id} className={reading.voidReason === null ? '' : 'soft'}>
                  <td className="num text-nowrap">{format(reading.takenAt, 'd MMM yyyy HH:mm')}</td>
                  <td>{kindNames[reading.kind]}</td>
                  <td>
                    {reading.voidReason === null ? sayReading(reading) : <s>{sayReading(reading)}</s>}
                    {reading.confirmed && ' · odd, confirmed'}
                    {reading.voidReason !== null && ` · void: ${reading.voidReason}`}
                  </td>
                  <td className="text-end">{reading.voidReason === null && <VoidReading entry={reading.entry} />}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {readings.length + runs.length === 0 && <p className="soft mb-0">Nothing yet.</p>}
      </section>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

const kindNames = { voltage: 'voltage', mass: 'weight', inspection: 'inspection', 'load-step': 'resistance' };

function Verdict({ cell }: { cell: JudgedCell }) {
  const { duty, intake } = cell;
  return (
    <section className="sheet lead-ember" aria-label="Verdict">
      <span className="code">{cell.code}</span>
      <p style={{ fontSize: '1.7rem', fontWeight: 700, margin: '2px 0 6px' }}>
        {intake.class !== null && intake.class !== 'usable' ? <IntakeClassMark of={intake.class} named /> : <DutyMark duty={duty.duty} named />}
      </p>
      {intake.class === 'usable' && <p>{duty.because}</p>}
      {duty.measureAgain && (
        <p className="ask">
          Measure its {duty.measureAgain.what} again: a surer figure could make it {dutyNames[duty.measureAgain.duty]}.
        </p>
      )}
      <ul className="reasons mb-2">
        {intake.reasons.map((reason) => (
          <li key={reason.text}>
            {reason.text} {reason.rule && <Link className="rule-key" href={`/rules#${reason.rule}`}>house rule</Link>}
          </li>
        ))}
      </ul>
      {cell.resistance && (
        <p className="soft mb-0">
          At 1 A it sags {formatFigure(sagV(1, cell.resistance.value), display.milliVolt)} and warms itself with {formatFigure(cell.resistance.value, { unit: 'mW', factor: 1000, decimals: 0 })}; {formatQuantity(cell.resistance, display.resistance)} after 10 s.
        </p>
      )}
      {cell.buildId !== null && (
        <p className="mt-2 mb-0">
          Set aside for <Link href={`/builds/${cell.buildId}`}>build {cell.buildId}</Link>.
        </p>
      )}
    </section>
  );
}

function sayReading(reading: StoredReading): string {
  switch (reading.kind) {
    case 'voltage':
      return formatFigure(reading.voltageV ?? NaN, display.voltage);
    case 'mass':
      return formatFigure(reading.massKg ?? NaN, display.mass);
    case 'inspection':
      return reading.findings?.length ? reading.findings.map((finding) => inspectionFindings[finding].text).join(', ') : 'nothing found';
    default:
      return `open ${reading.openV?.toFixed(3)} V, loaded ${reading.loadedV?.toFixed(3)} V${reading.currentA === null ? '' : ` at ${reading.currentA.toFixed(2)} A`}${reading.afterV === null ? '' : `, after ${reading.afterV.toFixed(3)} V`} (round ${reading.roundId})`;
  }
}
