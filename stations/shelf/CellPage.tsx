import { dutyReasonText } from '@/words/duty';
import { intakeReasonText } from '@/words/intake';
import { warningText } from '@/words/warnings';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { comparableOhmAh, heatW, highestCurrentA, sagV } from '@/core/resistance/uses';
import { chemistries } from '@/core/chemistry/chemistries';
import { methods } from '@/core/resistance/methods';
import { type Equipment, judgeResistance } from '@/core/judging/judgeResistance';
import { database } from '@/records/database';
import { filedOf } from '@/records/ledger';
import { resistancesBySubject } from '@/records/readings';
import { notesOf } from '@/records/notes';
import { runsOfSubject } from '@/records/runs';
import { judgedWorkshop, withCellsOf } from '@/workshop/judged';
import { cellOfCode } from '@/core/judging/shelf';
import type { StoredResistance } from '@/core/judging/facts';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { dutyNames } from '@/ui/DutyMark';
import { StandingMark } from '@/ui/StandingMark';
import { Pages } from '@/ui/Pages';
import { RuleLink } from '@/stations/RuleLink';
import { acrossSizes } from '@/ui/displays';
import { When } from '@/ui/When';
import { Fragment } from 'react';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { modelText } from '@/core/judging/models';
import { GoBar } from '../frame/GoBar';
import { PlusMinus } from '@/ui/PlusMinus';
import { AtCurrent, currentOf } from '../AtCurrent';
import { FiledRow } from '../FiledRow';
import { NextStep } from '../NextStep';
import { Notes } from '../Notes';
import { LimitTable } from './LimitTable';

const pageSize = 100;

/** One cell's life: what it can do, on which readings that stands, everything ever read of it. */
export async function CellPage({ code, amps, page }: { code: string; amps: string | undefined; page: number }) {
  const workshop = await withCellsOf(await judgedWorkshop(), { code: code.toUpperCase() });
  const { rules } = workshop;
  const cell = cellOfCode(workshop, code.toUpperCase());
  if (!cell) notFound();
  const db = database();
  const [filed, resistances, runs, notes] = await Promise.all([
    filedOf(db, cell.id),
    resistancesBySubject(db, [cell.id]),
    runsOfSubject(db, cell.id),
    notesOf(db, cell.id),
  ]);
  // Notes stand in a place of their own.
  const read = filed.filter(({ body }) => body.kind !== 'note');
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/shelf">Shelf</Link> · cell
        </h1>
        <span className="soft">
          {modelText(cell)} · {formatFigure(cell.ratedCapacityAh, display.capacity, 2)} rated · batch{' '}
          <Link href={`/intake/${cell.batchCode}`}>{cell.batchCode}</Link>, place {cell.place}
          {cell.weldedTo.length > 0 && ` · welded to ${cell.weldedTo.join(', ')}`}
          {cell.putAway && <b className="hot"> · its batch was put away</b>}
        </span>
      </div>
      <div className="cols wide-end">
        <Verdict cell={cell} />
        <section className="sheet" aria-label="Limits">
          <h2>Limits of the house</h2>
          {cell.duty.checks.length > 0 ? (
            <LimitTable cell={cell} />
          ) : (
            <p className="soft mb-0">{notMeasuredYet(cell)}</p>
          )}
        </section>
      </div>
      {cell.resistance && (
        <Uses
          cell={cell}
          resistance={cell.resistance}
          amps={currentOf(amps, cell.ratedCapacityAh)}
          sagShare={rules.limits.sagShare}
        />
      )}
      <History cell={cell} resistances={resistances.get(cell.id) ?? []} equipment={workshop} />
      {(cell.capacity ?? cell.resistance) && <PlusMinus />}
      <Notes code={cell.code} notes={notes} />
      <section className="sheet" aria-label="Everything read of it">
        <h2>Everything read of it</h2>
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <tbody>
              {(page === 1 ? runs : []).map((run) => (
                <tr key={`run${run.id}`} className={run.voidReason === null ? '' : 'soft'}>
                  <td className="num text-nowrap">
                    <When at={run.endedAt} as="d MMM yyyy HH:mm" />
                  </td>
                  <td>discharge</td>
                  <td>
                    <Link href={`/runs/${run.id}`}>run {run.id}</Link>, {run.fileName}
                    {run.voidReason !== null && ` · void: ${run.voidReason}`}
                  </td>
                  <td />
                </tr>
              ))}
              {read.slice((page - 1) * pageSize, page * pageSize).map((one) => (
                <FiledRow key={`${one.entry} ${one.body.kind}`} filed={one} />
              ))}
            </tbody>
          </table>
        </div>
        <Pages page={page} total={read.length} size={pageSize} href={(to) => `/cells/${cell.code}?page=${to}`} />
        {read.length + runs.length === 0 && <p className="soft mb-0">Nothing yet.</p>}
      </section>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

function Verdict({ cell }: { cell: JudgedCell }) {
  const { duty, intake } = cell;
  return (
    <section className="sheet lead-ember" aria-label="Verdict">
      <span className="code">{cell.code}</span>
      <p style={{ fontSize: '1.7rem', fontWeight: 700, margin: '2px 0 6px' }}>
        <StandingMark of={cell.standing} atLeast={duty.isAtLeast} named />
      </p>
      {intake.class === 'usable' && <p>{dutyReasonText(duty.because)}</p>}
      {cell.capacityIsAtLeast && cell.run && duty.duty !== null && (
        <p className="ask">
          <Link href={`/runs/${cell.run.id}`}>Its discharge</Link> ended above the cut-off: it holds at least{' '}
          {cell.capacity && formatQuantity(cell.capacity, display.capacity)}. A discharge down to the cut-off would tell
          how much.
        </p>
      )}
      {cell.leftOut !== null && (
        <p className="ask">Its newest ten-second reading does not grade it. {warningText(cell.leftOut)}</p>
      )}
      {duty.measureAgain && (
        <p className="ask">
          Measure its {duty.measureAgain.what} again: a surer figure could make it {dutyNames[duty.measureAgain.duty]}.
        </p>
      )}
      <ul className="reasons mb-2">
        {intake.reasons.map((reason) => (
          <li key={intakeReasonText(reason)}>
            {intakeReasonText(reason)} {reason.rule && <RuleLink rule={reason.rule} />}
          </li>
        ))}
      </ul>
      <NextStep cell={cell} />
    </section>
  );
}

/** What its resistance means in use, at a current one chooses. */
function Uses({
  cell,
  resistance,
  amps,
  sagShare,
}: {
  cell: JudgedCell;
  resistance: Quantity;
  amps: number;
  sagShare: number;
}) {
  const sag = sagShare * chemistries[cell.chemistry].nominalV;
  return (
    <section className="sheet mb-3" aria-label="In use">
      <AtCurrent amps={amps} />
      <p className="mb-0 mt-2">
        {formatQuantity(resistance, display.resistance)} after 10 s: at {amps} A it sags{' '}
        {formatQuantity(sagV(amps, resistance), display.milliVolt)} and turns{' '}
        {formatQuantity(heatW(amps, resistance), { unit: 'W', factor: 1, decimals: 2 })} into heat. It sags by{' '}
        {Math.round(sagShare * 100)} % ({formatFigure(sag, display.milliVolt)}) at{' '}
        {formatQuantity(highestCurrentA(sag, resistance), display.current)}.
        {cell.capacity &&
          !cell.capacityIsAtLeast &&
          ` Across sizes: ${formatQuantity(comparableOhmAh(resistance, cell.capacity.value), acrossSizes)}.`}
        {cell.asNewOhm !== null &&
          ` New it had ${formatFigure(cell.asNewOhm, display.resistance)}: now ` +
            `${(resistance.value / cell.asNewOhm).toFixed(2)} times that.`}
      </p>
    </section>
  );
}

/** Its resistance against its own past, within each protocol and its windows. */
function History({
  cell,
  resistances,
  equipment,
}: {
  cell: JudgedCell;
  resistances: StoredResistance[];
  equipment: Equipment;
}) {
  const { asNewOhm } = cell;
  const byProtocol = new Map<string, { takenAt: Date; quantity: Quantity; method: string }[]>();
  const rounds = new Set<number>();
  for (const resistance of resistances) {
    // Of a round the newest press counts: an earlier one may have been a bad contact.
    if (rounds.has(resistance.roundId)) continue;
    const { result, leftOut } = judgeResistance(resistance, cell, equipment);
    if (leftOut !== null) continue;
    rounds.add(resistance.roundId);
    const name = equipment.protocols.get(resistance.protocolId)?.name ?? '';
    if (result)
      byProtocol.set(name, [
        ...(byProtocol.get(name) ?? []),
        { takenAt: resistance.takenAt, quantity: result.resistance, method: methods[resistance.method].name },
      ]);
  }
  if (byProtocol.size === 0) return null;
  return (
    <section className="sheet mb-3" aria-label="Its resistance over time">
      <h2>Its resistance over time</h2>
      {[...byProtocol].map(([name, past]) => {
        const [newest, oldest] = [past[0], past.at(-1)];
        const change = newest && oldest && newest !== oldest ? newest.quantity.value / oldest.quantity.value - 1 : null;
        return (
          <p key={name} className="mb-1">
            <b>{name}</b> <span className="soft">({past[0]?.method})</span>:{' '}
            <span className="num">
              {past
                .slice(0, 6)
                .reverse()
                .map(({ takenAt, quantity }, i) => (
                  <Fragment key={takenAt.getTime()}>
                    {i > 0 && ' · '}
                    {formatQuantity(quantity, display.resistance)} on <When at={takenAt} as="d MMM" />
                  </Fragment>
                ))}
            </span>
            {change !== null &&
              `, ${change >= 0 ? 'up' : 'down'} ${Math.abs(change * 100).toFixed(0)} % since its first`}
            {asNewOhm !== null &&
              newest &&
              newest.method !== methods['ac-meter'].name &&
              newest.method !== methods.told.name &&
              `, ${(newest.quantity.value / asNewOhm).toFixed(2)} times its as-new value`}
          </p>
        );
      })}
      <p className="soft mb-0">
        Rising against its own past is the surest sign of age. Different protocols are not compared here.
      </p>
    </section>
  );
}

function notMeasuredYet({ capacity, resistance }: JudgedCell): string {
  if (capacity) return 'Its resistance is not measured yet.';
  return resistance ? 'Its capacity is not measured yet.' : 'Capacity and resistance are not measured yet.';
}
