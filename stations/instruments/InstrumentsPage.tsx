import { fillsText } from '@/words/instruments';
import { chargeEndsHere } from '@/workshop/judged';
import { judgedSheets } from '@/workshop/sheets';
import type { Calibration, Instrument } from '@/core/judging/facts';
import type { InstrumentRange, MeasuredQuantity } from '@/core/instruments/instrument';
import { leadPairOhm, wireAreaMm2 } from '@/core/instruments/leads';
import { type Display, display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { judgedWorkshop } from '@/workshop/judged';
import { ArchiveButton } from '@/ui/ArchiveButton';
import { When } from '@/ui/When';
import { GoBar } from '../frame/GoBar';
import { correctionsOf } from '@/records/corrections';
import { database } from '@/records/database';
import { counted } from '@/words/counted';
import type { InstrumentBook } from '@/core/judging/instrumentBook';
import { Corrections } from '../Corrections';
import { promiseText } from './promise';
import { archiveInstrumentAction } from './actions';
import { NewSheetForm } from './NewSheetForm';
import { InstrumentForm } from './InstrumentForm';
import { channelName } from '@/core/judging/judgeSheet';
import { Link } from '@/ui/Link';
import { WithdrawCalibration } from './WithdrawCalibration';

const kindNames = { meter: 'meter', checker: 'checker', charger: 'charger', load: 'load', logger: 'logger' };
const shownIn: Record<MeasuredQuantity, Display> = {
  voltage: { unit: 'mV', factor: 1e3, decimals: 1 },
  current: { unit: 'mA', factor: 1e3, decimals: 1 },
  resistance: { unit: 'mΩ', factor: 1e3, decimals: 2 },
};

function rangeText(quantity: MeasuredQuantity, { resolution, isAssumed, ...accuracy }: InstrumentRange): string {
  const step = `${Number((resolution * shownIn[quantity].factor).toPrecision(3))} ${shownIn[quantity].unit} steps`;
  return isAssumed ? `${step}, accuracy not known` : `${step}, ${promiseText(accuracy)}`;
}

/** What is on the bench, the sheets that hold it against each other, and the corrections in force. */
export async function InstrumentsPage({ edit }: { edit: string | undefined }) {
  const workshop = await judgedWorkshop();
  const { instruments } = workshop;
  const chargeEnds = await chargeEndsHere(workshop);
  const sheets = await judgedSheets(workshop);
  const editing = instruments.all.find((one) => one.code === String(edit ?? '').toUpperCase());
  const corrections = editing ? await correctionsOf(database(), { instrumentId: editing.id }) : [];
  return (
    <>
      <div className="head">
        <h1>Instruments</h1>
        <span className="soft">Two tools that disagree do not say which is wrong. Put one battery on all of them.</span>
      </div>
      <div className="cols wide-end">
        <div className="stack">
          <section className="sheet" aria-label="On the bench">
            <h2>On the bench</h2>
            {instruments.all.length > 0 && <p className="soft mb-1">± is what its maker promises at the most.</p>}
            {instruments.all.length === 0 ? (
              <p className="empty">
                No instrument yet. Note what your meter, checker and charger show as their last digit, and what their
                makers promise.
              </p>
            ) : (
              <div className="table-scroll" tabIndex={0}>
                <table className="table">
                  <tbody>
                    {instruments.all.map((instrument) => (
                      <InstrumentRow key={instrument.id} instrument={instrument} book={instruments} />
                    ))}
                  </tbody>
                </table>
              </div>
            )}
          </section>
          {instruments.calibrations.length > 0 && (
            <section className="sheet" aria-label="Calibrations">
              <h2>Calibrations</h2>
              <div className="table-scroll" tabIndex={0}>
                <table className="table">
                  <tbody>
                    {instruments.calibrations.map((calibration) => (
                      <CalibrationRow
                        chargeEnds={chargeEnds}
                        key={calibration.id}
                        calibration={calibration}
                        instrument={instruments.byId(calibration.instrumentId)}
                      />
                    ))}
                  </tbody>
                </table>
              </div>
            </section>
          )}
        </div>
        <div className="stack">
          <section className="sheet lead-ember" aria-label="Cross-checks">
            <h2>Cross-checks</h2>
            {sheets.map(({ crossCheck, channels }) => {
              const apart = channels.filter((channel) => channel.apartOn > 0);
              return (
                <p key={crossCheck.id} className="mb-2">
                  <Link className="fw-bold" href={`/instruments/check/${crossCheck.id}`}>
                    {crossCheck.name}
                  </Link>{' '}
                  <span className="soft">
                    <When at={crossCheck.openedAt} as="d MMM" /> ·{' '}
                    {counted(crossCheck.batteries.length, 'battery', 'batteries')} ·{' '}
                    {counted(channels.length, 'channel')}
                  </span>
                  {apart.length > 0 && (
                    <span className="hot">
                      {' '}
                      ◆ {apart.map((channel) => channel.name).join(', ')} {apart.length === 1 ? 'stands' : 'stand'}{' '}
                      alone
                    </span>
                  )}
                </p>
              );
            })}
            <NewSheetForm />
          </section>
          {editing ? (
            <section className="sheet lead-ink" aria-label={`Correct ${editing.code}`}>
              <h2>Correct {editing.code}</h2>
              <InstrumentForm key={editing.code} now={editing} />
              <p className="mt-2">
                <Link href="/instruments">Do not adjust</Link>
              </p>
              <Corrections corrections={corrections} />
            </section>
          ) : (
            <section className="sheet lead-ink" aria-label="A new instrument">
              <h2>A new instrument</h2>
              <InstrumentForm />
            </section>
          )}
        </div>
      </div>
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}

function InstrumentRow({ instrument, book }: { instrument: Instrument; book: InstrumentBook }) {
  const ranges = Object.entries(instrument.ranges) as [MeasuredQuantity, InstrumentRange][];
  const now = new Date();
  const corrections = Array.from({ length: instrument.channels }, (_, i) => i + 1).filter((channel) =>
    book.calibrationAt(instrument.id, channel, now),
  );
  return (
    <tr className={instrument.archivedAt ? 'soft' : ''}>
      <td className="num fw-bold">{instrument.code}</td>
      <td style={{ minWidth: '10rem' }}>
        {instrument.name}
        <br />
        <span className="soft">
          {kindNames[instrument.kind]}
          {instrument.channels > 1 && `, ${counted(instrument.channels, 'channel')}`}
          {instrument.certified && ', certified'}
          {instrument.wires && `, ${instrument.wires === 2 ? 'two' : 'four'} wires`}
          {instrument.leads &&
            `, ${instrument.leads.lengthM} m of gauge ${instrument.leads.gauge} ` +
              `(${wireAreaMm2(instrument.leads.gauge).toPrecision(2)} mm²): ` +
              `${formatFigure(leadPairOhm(instrument.leads.gauge, instrument.leads.lengthM), display.resistance)} ` +
              'there and back'}
          {instrument.archivedAt && (
            <>
              , put away <When at={instrument.archivedAt} as="d MMM yyyy" />
            </>
          )}
        </span>
      </td>
      <td>
        {ranges.flatMap(([quantity, finest]) =>
          [finest, ...(finest.coarser ?? [])].map((range) => (
            <div key={`${quantity} ${range.resolution}`} className="text-nowrap" title={quantity}>
              {rangeText(quantity, range)}
            </div>
          )),
        )}
        {corrections.length > 0 && (
          <span className="soft">
            corrected: {corrections.map((channel) => channelName(instrument, channel)).join(', ')}
          </span>
        )}
      </td>
      <td className="text-end">
        <Link
          className="btn btn-quiet"
          href={`/instruments?edit=${instrument.code}`}
          aria-label={`Correct ${instrument.code}`}
        >
          Correct
        </Link>
        <ArchiveButton
          name={instrument.code}
          away={instrument.archivedAt === null}
          act={archiveInstrumentAction.bind(null, instrument.id, instrument.archivedAt === null)}
        />
      </td>
    </tr>
  );
}

function CalibrationRow({
  calibration,
  instrument,
  chargeEnds,
}: {
  calibration: Calibration;
  instrument: Instrument | null;
  chargeEnds: readonly number[];
}) {
  if (!instrument) return null;
  const { correction, channel, calibratedAt, reference, withdrawnAt, withdrawnBecause } = calibration;
  return (
    <tr className={withdrawnAt ? 'soft' : ''}>
      <td className="num fw-bold">{channelName(instrument, channel)}</td>
      <td>
        from <When at={calibratedAt} as="d MMM yyyy HH:mm" />, against {reference}
        {instrument.kind === 'charger' && !withdrawnAt && !calibration.adjusted && (
          <>
            <br />
            <span className="hot">◆ uncorrected it fills {fillsText(correction, chargeEnds)}</span>
          </>
        )}
        {withdrawnAt && (
          <>
            <br />
            withdrawn <When at={withdrawnAt} as="d MMM yyyy" />: {withdrawnBecause}
          </>
        )}
      </td>
      <td className="num">
        {calibration.adjusted
          ? `device adjusted, ${formatFigure(calibration.adjusted.showedV, display.voltage)} to ` +
            formatFigure(calibration.adjusted.setToV, display.voltage)
          : formatQuantity(correction.offset, { unit: 'mV', factor: 1e3, decimals: 1 })}
        {correction.kind === 'line' &&
          ` and ${formatQuantity(correction.gain, { unit: 'mV/V', factor: 1e3, decimals: 2 })}`}
      </td>
      <td className="text-end">
        {!withdrawnAt && <WithdrawCalibration id={calibration.id} name={channelName(instrument, channel)} />}
      </td>
    </tr>
  );
}
