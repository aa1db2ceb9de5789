import { notMeasuredText } from '@/words/rounds';
import { oddRuleText } from '@/words/resistance';
import { warningText } from '@/words/warnings';
import { type OpenRound, openRoundById } from '@/workshop/rounds';
import { contextOf } from './roundContext';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { currentsAsked } from '@/core/resistance/methods';
import { isOutlier } from '@/core/statistics/population';
import { packFigure, timeOfReading } from '@/core/judging/judgePack';
import { cellOfCode, cellsOfBatch } from '@/core/judging/shelf';
import { Pages } from '@/ui/Pages';
import { counted } from '@/words/counted';
import { DotStrip } from '@/ui/DotStrip';
import { PlusMinus } from '@/ui/PlusMinus';
import { When } from '@/ui/When';
import { notFound } from 'next/navigation';
import { sayReading } from './roundLine';
import { protocolText } from './protocolText';
import {
  figuresByCell,
  type JudgedReading,
  firstOfWeld,
  roundCells,
  roundFigure,
  warningsOfRound,
  whyNotMeasured,
} from '@/core/judging/judgeRound';
import { Link } from '@/ui/Link';
import { packInRound, whyPackNotMeasured } from './packsOfRound';
import { RoundScreen, type ScreenCell } from './RoundScreen';
import { RuleLink } from '../RuleLink';
import { VoidEntry } from '../VoidEntry';

/** Readings listed at once, the newest first. */
const pageSize = 50;

/** A round under way: the last figure large, the next cell named, the batch as a strip. */
export async function RoundPage({ id, at, page }: { id: number; at: string | undefined; page: number }) {
  const open = await openRoundById(id);
  if (!open) notFound();
  const { round, protocol, workshop, readings, population } = open;
  const times = new Map<string, number>();
  const lines = new Map(readings.map(({ row }) => [`${row.entry} ${row.code}`, row.code]));
  for (const code of lines.values()) times.set(code, (times.get(code) ?? 0) + 1);
  const { batchCode } = round;
  const { cells, others } = batchCode === null ? packsAt(open, times) : cellsAt(open, batchCode, times);
  const done = cells.filter((cell) => times.has(cell.code)).length;
  // Of cells joined together the first is shown for all.
  const read = [...times.keys()].filter(
    (code) => firstOfWeld(cellOfCode(workshop, code) ?? { code, weldedTo: [] }) === code,
  ).length;
  const figures = figuresByCell(readings);
  const lastCode = readings[0]?.row.code;
  const lastPack = open.packs.find((pack) => pack.code === lastCode);
  const lastTime = lastPack && timeOfReading(lastPack, { roundId: id, takenAt: readings[0]?.row.resistance.takenAt });
  const lastCell = lastCode === undefined || batchCode === null ? null : roundFigure(lastCode, readings, population);
  const last = lastPack && lastTime ? packFigure(lastPack, lastTime) : lastCell;
  const instrument = workshop.instruments.byId(round.instrumentId);
  const differing = new Set(
    [...times]
      .filter(([code, count]) => count > 1 && roundFigure(code, readings, population)?.repeats?.differ)
      .map(([code]) => code),
  );
  const shown = readings.slice((page - 1) * pageSize, page * pageSize);

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Round {round.id}</Link> · {batchCode === null ? 'packs' : `batch ${batchCode}`}
        </h1>
        <span className="soft">
          {protocolText(protocol)}
          {round.loadResistanceOhm !== null && ` · ${round.loadResistanceOhm} Ω`}
          {instrument && ` · read with ${instrument.code}`}
          {round.zeroTaken !== null && (round.zeroTaken ? ' · zero taken' : ' · no zero taken')}
          {instrument?.archivedAt && ' (put away since)'} · {done} of {cells.length} done
          {read > done &&
            `, ${read - done} more that ${batchCode === null ? 'may not be read' : 'are not free'} any more`}
        </span>
        <span className="end">
          <Link href={`/resistance/compare?round=${round.id}`}>Compare</Link>
        </span>
      </div>
      <RoundScreen
        roundId={id}
        round={contextOf(open)}
        what={batchCode === null ? 'pack' : 'cell'}
        cells={cells}
        others={others}
        at={at === undefined ? null : String(at).toUpperCase()}
        last={last}
        said={warningsOfRound(readings)}
      />
      {batchCode !== null && figures.size > 0 && (
        <section className="sheet mb-3" aria-label="The batch so far">
          <div className="d-flex justify-content-between flex-wrap">
            <h2>The batch so far</h2>
            <span className="soft">
              {counted(figures.size, 'cell')}
              {population &&
                ` · median ${formatFigure(population.median, display.resistance)} · robust standard deviation ` +
                  `${formatFigure(population.spread, display.resistance)} · odd beyond ` +
                  `${formatFigure(population.high, display.resistance)}`}
            </span>
          </div>
          <DotStrip
            points={[...figures].map(([code, { result }]) => ({
              code,
              value: result?.resistance.value ?? 0,
              odd: isOutlier(result?.resistance.value ?? 0, population),
            }))}
            now={lastCode ?? null}
            as={display.resistance}
            population={population}
            limits={population ? [population.high] : []}
          />
          <p className="soft mb-0">
            {oddRuleText(population)} <RuleLink rule="oddBeyond" />
          </p>
        </section>
      )}
      {readings.length > 0 && <PlusMinus />}
      {batchCode === null && readings.length > 0 && <PackLines open={open} page={page} />}
      {batchCode !== null && readings.length > 0 && (
        <section className="table-scroll" tabIndex={0} aria-label="Readings">
          <table className="table">
            <thead>
              <tr>
                <th>At</th>
                <th>Cell</th>
                <th>Read</th>
                <th className="num">Resistance</th>
                <th>Remarks</th>
                <th className="text-end">Mistaken?</th>
              </tr>
            </thead>
            <tbody>
              {shown.map(({ row, result, leftOut }) => {
                const outlier = result !== null && leftOut === null && isOutlier(result.resistance.value, population);
                return (
                  <tr key={`${row.id} ${row.code}`} className={outlier ? 'odd-one' : ''}>
                    <td className="num">
                      <When at={row.resistance.takenAt} as="dd MMM HH:mm" />
                    </td>
                    <td>
                      <Link className="num" href={`/cells/${row.code}`}>
                        {row.code}
                      </Link>
                    </td>
                    <td style={{ minWidth: '12rem' }}>
                      {sayReading({ bodies: [row.resistance.facts], temperatureC: row.resistance.temperatureC })}
                    </td>
                    <td className="num">{result ? formatQuantity(result.resistance, display.resistance) : 'none'}</td>
                    <td>
                      {leftOut === null
                        ? [outlier && '◆ odd one', differing.has(row.code) && '◆ presses differ: a contact']
                            .filter(Boolean)
                            .join(', ')
                        : `not compared: ${warningText(leftOut)}`}
                    </td>
                    <td className="text-end">
                      <VoidEntry entry={row.entry} name={`this reading of ${row.code}`} />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <Pages page={page} total={readings.length} size={pageSize} href={(to) => `/resistance/${id}?page=${to}`} />
        </section>
      )}
    </>
  );
}

/** The cells of a round as its screen needs them, and those that are not measured, with the reason. */
function cellsAt({ workshop, round, protocol }: OpenRound, batchCode: string, times: ReadonlyMap<string, number>) {
  return {
    cells: roundCells(workshop, batchCode).map(
      ({ code, chemistry, place, voltageV, weldedTo, ratedCapacityAh }): ScreenCell => ({
        code,
        chemistry,
        weldedTo,
        series: 1,
        about:
          `place ${place}` + (voltageV === null ? '' : ` · ${formatFigure(voltageV, display.voltage)} when last read`),
        currentsA: currentsAsked(round.method, ratedCapacityAh * (weldedTo.length + 1), protocol.rateC),
        times: times.get(code) ?? 0,
      }),
    ),
    others: Object.fromEntries(
      cellsOfBatch(workshop, batchCode).flatMap((cell) => {
        const why = whyNotMeasured(cell);
        return why ? [[cell.code, notMeasuredText(cell.code, why)]] : [];
      }),
    ),
  };
}

/** The packs of a round, as the cells of one over a batch. */
function packsAt({ packs, round, protocol }: OpenRound, times: ReadonlyMap<string, number>) {
  return {
    cells: packs
      .filter((pack) => whyPackNotMeasured(pack) === null)
      .map((pack): ScreenCell => ({
        ...packInRound(pack, round),
        about: `${pack.name} · ${pack.series} in series, ${pack.parallel} in parallel`,
        currentsA: currentsAsked(round.method, pack.ratedCapacityAh, protocol.rateC),
        times: times.get(pack.code) ?? 0,
      })),
    others: Object.fromEntries(
      packs.flatMap((pack) => {
        const why = whyPackNotMeasured(pack);
        return why ? [[pack.code, why]] : [];
      }),
    ),
  };
}

/** What was read of packs in a round, a line each. */
function PackLines({ open, page }: { open: OpenRound; page: number }) {
  const lines = new Map<string, JudgedReading[]>();
  for (const reading of open.readings) lines.set(reading.row.entry, [...(lines.get(reading.row.entry) ?? []), reading]);
  return (
    <section className="table-scroll" tabIndex={0} aria-label="Readings">
      <table className="table">
        <thead>
          <tr>
            <th>At</th>
            <th>Pack</th>
            <th>Read</th>
            <th>Remarks</th>
            <th className="text-end">Mistaken?</th>
          </tr>
        </thead>
        <tbody>
          {[...lines.values()].slice((page - 1) * pageSize, page * pageSize).map((own) => {
            const [{ row, leftOut }] = own as [JudgedReading];
            const bodies = own.map(({ row: { resistance } }) => ({
              ...resistance.facts,
              ...(open.subjectOf(row.code)?.series === 1 ? {} : { position: resistance.position }),
            }));
            return (
              <tr key={row.entry}>
                <td className="num text-nowrap">
                  <When at={row.resistance.takenAt} as="d MMM yyyy HH:mm" />
                </td>
                <td>
                  <Link className="num" href={`/clinic/${row.code}`}>
                    {row.code}
                  </Link>
                </td>
                <td>{sayReading({ bodies, temperatureC: row.resistance.temperatureC })}</td>
                <td>{leftOut && `not compared: ${warningText(leftOut)}`}</td>
                <td className="text-end">
                  <VoidEntry entry={row.entry} name={`this reading of ${row.code}`} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Pages page={page} total={lines.size} size={pageSize} href={(to) => `/resistance/${open.round.id}?page=${to}`} />
    </section>
  );
}
