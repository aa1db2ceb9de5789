import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { isOdd } from '@/core/statistics/crowd';
import { database } from '@/records/database';
import { roundById } from '@/records/rounds';
import { judgedWorkshop } from '@/stations/workshop';
import { Figure } from '@/ui/Figure';
import { format } from 'date-fns';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { BatchStrip } from './BatchStrip';
import { protocolText } from './ResistancePage';
import { crowdOfRound, readingsWithResults, roundCells, type RoundReading } from './round';
import { StepBar } from './StepBar';

/** A round under way: the last figure large, the next cell named, the batch as a strip. */
export async function RoundPage({ id, at }: { id: number; at: string | undefined }) {
  const [workshop, round] = await Promise.all([judgedWorkshop(), roundById(database(), id)]);
  if (!round) notFound();
  const readings = await readingsWithResults(round);
  const cells = roundCells(workshop, round.batchCode);
  const done = new Set(readings.map(({ reading }) => reading.code));
  const next = cells.find((cell) => cell.code === at) ?? cells.find((cell) => !done.has(cell.code)) ?? null;
  const crowd = crowdOfRound(readings, workshop.rules.limits.oddBeyond);
  const [last] = readings;
  const newest = readings.filter(({ reading }, i) => readings.findIndex((other) => other.reading.code === reading.code) === i);

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Round {round.id}</Link> · batch {round.batchCode}
        </h1>
        <span className="soft">
          {protocolText(round)} · {done.size} of {cells.length} done
        </span>
      </div>
      <div className="cols">
        {last ? <LastFigure last={last} odd={last.result !== null && isOdd(last.result.resistance.value, crowd)} medianOhm={crowd?.median ?? null} /> : <FirstCell batch={round.batchCode} resistor={round.method === 'resistor'} />}
        <section className="sheet" aria-label="Next cell">
          <h2>Next</h2>
          {next ? (
            <>
              <div className="num" style={{ fontSize: '1.8rem', fontWeight: 650 }}>
                {next.code}
              </div>
              <p className="soft mb-2">
                place {next.place}
                {next.voltageV !== null && ` · ${formatFigure(next.voltageV, display.voltage)} at intake`}
              </p>
            </>
          ) : (
            <p className="mb-2">
              All {cells.length} cells are measured. On to their <Link href="/runs">runs</Link>.
            </p>
          )}
          <ol className="tray" aria-label="Cells of the round">
            {cells.map((cell) => (
              <li key={cell.code}>
                <Link href={`/resistance/${id}?at=${cell.code}`} aria-label={`${cell.code}, ${done.has(cell.code) ? 'measured' : 'waiting'}`} prefetch={false} scroll={false} className={cell === next ? 'mark-now' : ''}>
                  <svg width="18" height="18" aria-hidden>
                    <circle cx="9" cy="9" r="7" fill={done.has(cell.code) ? 'var(--ink)' : 'none'} stroke="var(--soft)" />
                  </svg>
                </Link>
              </li>
            ))}
          </ol>
        </section>
      </div>
      {newest.length > 0 && (
        <section className="sheet mb-3" aria-label="The batch so far">
          <div className="d-flex justify-content-between flex-wrap">
            <h2>The batch so far</h2>
            <span className="soft">
              {newest.length} cells
              {crowd ? ` · median ${formatFigure(crowd.median, display.resistance)} · robust spread ${formatFigure(crowd.spread, display.resistance)} · odd beyond ${formatFigure(crowd.high, display.resistance)}` : ' · five make a crowd'}
            </span>
          </div>
          <BatchStrip points={newest.flatMap(({ reading, result }) => (result ? [{ code: reading.code, ohm: result.resistance.value, odd: isOdd(result.resistance.value, crowd) }] : []))} now={last?.reading.code ?? null} crowd={crowd} />
        </section>
      )}
      {readings.length > 0 && (
        <section className="table-scroll" tabIndex={0} aria-label="Readings">
          <table className="table">
            <thead>
              <tr>
                <th>At</th>
                <th>Cell</th>
                <th className="num">Open</th>
                <th className="num">Loaded</th>
                <th className="num">After</th>
                <th className="num">Current</th>
                <th className="num">Resistance</th>
                <th>&nbsp;</th>
              </tr>
            </thead>
            <tbody>
              {readings.map(({ reading, result }) => {
                const odd = result !== null && isOdd(result.resistance.value, crowd);
                return (
                  <tr key={reading.id} className={odd ? 'odd-one' : ''}>
                    <td className="num">{format(reading.takenAt, 'dd MMM HH:mm')}</td>
                    <td>
                      <Link className="num" href={`/cells/${reading.code}`} prefetch={false}>
                        {reading.code}
                      </Link>
                    </td>
                    <td className="num">{reading.openV?.toFixed(3)}</td>
                    <td className="num">{reading.loadedV?.toFixed(3)}</td>
                    <td className="num">{reading.afterV?.toFixed(3) ?? '–'}</td>
                    <td className="num">{result ? formatFigure(result.currentA.value, display.current) : '–'}</td>
                    <td className="num">{result ? formatQuantity(result.resistance, display.resistance) : 'none'}</td>
                    <td>{odd ? '◆ odd one' : ''}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
      )}
      <StepBar roundId={id} round={{ method: round.method, loadResistanceOhm: round.loadResistanceOhm, batchMedianOhm: crowd?.median ?? null }} currentCode={next?.code ?? null} cells={cells.map(({ code, chemistry }) => ({ code, chemistry }))} />
    </>
  );
}

function LastFigure({ last: { reading, result }, odd, medianOhm }: { last: RoundReading; odd: boolean; medianOhm: number | null }) {
  return (
    <section className="sheet lead-ember" aria-label="Last figure">
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <span className="code">{reading.code}</span>
        {result && <span className="soft">{formatFigure(result.currentA.value, display.current)} · {formatFigure(result.loadPowerW, display.power)} in the load</span>}
        {odd && <span className="tag hot ms-auto">◆ odd one: press again</span>}
      </div>
      {result ? <Figure quantity={result.resistance} as={display.resistance} /> : <p className="ask">These voltages give no resistance. They stay as read; measure again.</p>}
      {odd && result && medianOhm !== null && (
        <p className="mb-1">
          {(result.resistance.value / medianOhm).toFixed(1)} times the middle of this batch ({formatFigure(medianOhm, display.resistance)}). The same figure twice means the cell, another one means the contact.
        </p>
      )}
      {result?.warnings.map((warning) => (
        <p key={warning.code} className="ask mt-2 mb-1">
          {warning.message}
        </p>
      ))}
      {result && (
        <details className="soft">
          <summary>Where the ± comes from</summary>
          {result.resistance.budget.map((share) => (
            <div key={share.input} className="num">
              {share.input} {formatFigure(share.u, display.resistance, 2)}
            </div>
          ))}
        </details>
      )}
    </section>
  );
}

const FirstCell = ({ batch, resistor }: { batch: string; resistor: boolean }) => (
  <section className="sheet lead-ember empty">
    <p>
      Read the first cell of {batch}: its open voltage, then under load{resistor ? '' : ', then the current'}. Type them into the bar below and press Enter.
    </p>
  </section>
);
