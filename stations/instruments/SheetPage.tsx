import { filledText, fillsText, nobodyKnowsText } from '@/words/instruments';
import { shownBefore } from './sheetLine';
import { judgedSheets } from '@/workshop/sheets';
import { pageOf } from '@/stations/address';
import { corrected, errorInterval } from '@/core/instruments/calibration';
import { shownU } from '@/core/instruments/instrument';
import { display, formatFigure, formatQuantity, type Display } from '@/core/quantity/format';
import { voltmeters } from '@/core/judging/instrumentBook';
import { chargeEndsHere, judgedWorkshop } from '@/workshop/judged';
import { When } from '@/ui/When';
import { HandbookLink } from '../Grounds';
import { notFound } from 'next/navigation';
import { CalibrateButtons } from './CalibrateButtons';
import { SheetBar } from './SheetBar';
import { counted } from '@/words/counted';
import { PlusMinus } from '@/ui/PlusMinus';
import { DifferenceChart } from './DifferenceChart';
import { NewBatteryForm } from './NewBatteryForm';
import { promiseText } from './promise';
import { adjustmentOf, calibrationOf, type JudgedChannel, type JudgedSheet, othersOn } from '@/core/judging/judgeSheet';
import { Link } from '@/ui/Link';

const millivolts: Display = { unit: 'mV', factor: 1e3, decimals: 1 };

/** A cross-check sheet: which instruments agree, which disagrees and by how much, and what that does to a cell. */
export async function SheetPage({ id, at }: { id: number; at: string | undefined }) {
  const workshop = await judgedWorkshop();
  const { instruments } = workshop;
  const sheet = (await judgedSheets(workshop)).find((one) => one.crossCheck.id === id);
  if (!sheet) notFound();
  const { crossCheck, channels, consensus } = sheet;
  const position = Math.min(crossCheck.batteries.length, pageOf(at));
  const here = channels.filter((channel) => channel.readings.some((one) => one.position === position));
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/instruments">Instruments</Link> · {crossCheck.name}
        </h1>
        <span className="soft">
          <When at={crossCheck.openedAt} as="d MMM yyyy" /> · {counted(channels.length, 'channel')} on{' '}
          {counted(crossCheck.batteries.length, 'battery', 'batteries')}
        </span>
      </div>
      <div className="cols wide-end">
        <Finding sheet={sheet} chargeEnds={await chargeEndsHere(workshop)} />
        <section className="sheet" aria-label="Battery at hand">
          <h2>At hand</h2>
          <div className="num" style={{ fontSize: '1.8rem', fontWeight: 650 }}>
            B{position} <span style={{ fontSize: '1.1rem' }}>{crossCheck.batteries[position - 1]}</span>
          </div>
          <p className="soft mb-2">
            {here.length === 0
              ? 'No reading on it yet.'
              : `Measured on it: ${here.map((channel) => channel.name).join(', ')}.`}
          </p>
          {crossCheck.batteries.map((label, i) => (
            <div key={i}>
              <Link
                href={`/instruments/check/${id}?at=${i + 1}`}
                aria-current={i + 1 === position ? 'true' : undefined}
                scroll={false}
              >
                B{i + 1} {label}
              </Link>{' '}
              <span className="soft">{referenceText(consensus[i] ?? null)}</span>
            </div>
          ))}
          {crossCheck.pack === null && (
            <details className="mt-2">
              <summary>Another battery</summary>
              <NewBatteryForm check={id} />
            </details>
          )}
        </section>
      </div>
      {channels.length > 0 && (
        <section className="sheet mb-3" aria-label="Differences">
          <h2>Differences from the reference</h2>
          <DifferenceChart channels={channels} batteries={crossCheck.batteries} />
          <DifferenceTable sheet={sheet} />
          <PlusMinus />
        </section>
      )}
      <SheetBar
        sheetId={id}
        position={position}
        batteries={crossCheck.batteries}
        isPack={crossCheck.pack !== null}
        instruments={voltmeters(instruments)}
        othersV={crossCheck.batteries.map((_, i) => othersOn(sheet, i + 1))}
        standing={shownBefore(sheet)}
      />
    </>
  );
}

function referenceText(consensus: JudgedSheet['consensus'][number]): string {
  if (!consensus) return '';
  if (consensus.kind === 'nobody-knows') return 'cannot be known';
  const reference = formatQuantity(consensus.reference, display.voltage);
  return consensus.kind === 'declared' ? `${reference}, by ${consensus.by}` : reference;
}

/** The one answer of the sheet. */
function Finding({ sheet, chargeEnds }: { sheet: JudgedSheet; chargeEnds: readonly number[] }) {
  const { crossCheck, channels, consensus } = sheet;
  const apart = channels.filter((channel) => channel.apartOn > 0);
  const unknown = consensus.find((one) => one?.kind === 'nobody-knows');
  if (channels.length === 0) {
    return (
      <section className="sheet lead-ember empty" aria-label="Finding">
        <p>
          {crossCheck.pack === null
            ? 'Put the first battery on one instrument after the other. Type its code, then the voltage it shows.'
            : `Measure every group of ${crossCheck.pack} with one instrument after the other. Type its code, then ` +
              'the voltages.'}
        </p>
      </section>
    );
  }
  return (
    <section className="sheet lead-ember" aria-label="Finding">
      {apart.length === 0 ? (
        <p style={{ fontSize: '1.5rem', fontWeight: 700, lineHeight: 1.2 }}>
          {unknown?.kind === 'nobody-knows' ? 'Not known yet' : 'All agree within their uncertainty'}
        </p>
      ) : (
        apart.map((channel) => (
          <ApartChannel key={channel.name} sheet={sheet} channel={channel} chargeEnds={chargeEnds} />
        ))
      )}
      {unknown?.kind === 'nobody-knows' && <p className="ask">{nobodyKnowsText(unknown)}</p>}
      {apart.length > 0 && (
        <p className="soft mb-0">
          A wrong calibration is as dangerous as none. Raw readings stay; it counts from now on, and is withdrawn with
          one act. <HandbookLink page="calibration">how it is computed</HandbookLink>
        </p>
      )}
      {apart.length === 0 && consensus.some((one) => one?.kind === 'agreed') && (
        <p className="soft mb-0">
          The reference is the weighted mean of the largest set of instruments that agree within their uncertainty
          (chi-square, 95 %). One bad instrument cannot shift it.{' '}
          <HandbookLink page="cross-check">how it is found</HandbookLink> · sheet {crossCheck.id}
        </p>
      )}
    </section>
  );
}

const nextText = ({ low, high }: { low: number; high: number }): string =>
  `The next reading of 4 V will be off by ${formatFigure(low, display.milliVolt)} to ` +
  `${formatFigure(high, display.milliVolt)} (95 %);`;

function ApartChannel({
  sheet,
  channel,
  chargeEnds,
}: {
  sheet: JudgedSheet;
  channel: JudgedChannel;
  chargeEnds: readonly number[];
}) {
  const differences = channel.readings.flatMap((reading) => reading.difference ?? []);
  const mean = {
    value: differences.reduce((sum, one) => sum + one.value, 0) / differences.length,
    u: Math.min(...differences.map((one) => one.u)),
  };
  const offset = calibrationOf(sheet, channel, 'offset');
  const adjustment = adjustmentOf(sheet, channel);
  const isCharger = channel.instrument.kind === 'charger';
  const isAssumed = channel.instrument.ranges.voltage?.isAssumed && channel.instrument.ranges.voltage;
  const [firstEndV = 0, ...otherEndsV] = chargeEnds;
  const step =
    channel.instrument.ranges.voltage?.resolution ?? Math.max(0, ...channel.readings.map((one) => one.stepV));
  const [beside] = channel.readings.flatMap(({ fromSiblingsV }) => fromSiblingsV ?? []);
  if (differences.length === 0)
    return (
      <div className="mb-3">
        <span className="code">{channel.name}</span>
        <p className="mb-1" style={{ fontSize: '1.3rem', fontWeight: 700, lineHeight: 1.2 }}>
          reads {formatFigure(Math.abs(beside ?? 0), display.milliVolt)} {(beside ?? 0) < 0 ? 'below' : 'above'} the
          other channels of {channel.instrument.code}
        </p>
        <p className="soft mb-0">Measure the battery with two more instruments to find the reference.</p>
      </div>
    );
  return (
    <div className="mb-3">
      <span className="code">{channel.name}</span>
      <p style={{ fontSize: '1.5rem', fontWeight: 700, lineHeight: 1.2, margin: '2px 0 6px' }}>
        reads {formatQuantity({ value: Math.abs(mean.value), u: mean.u }, millivolts)} {mean.value < 0 ? 'low' : 'high'}
        {isCharger && offset.ok && (
          <>
            : it fills a {firstEndV} V cell to{' '}
            <span className="num hot">{filledText(offset.correction, firstEndV)}</span>
          </>
        )}
      </p>
      {isCharger && offset.ok && otherEndsV.length > 0 && (
        <p className="mb-1">It fills {fillsText(offset.correction, otherEndsV)}.</p>
      )}
      {isCharger && mean.value < 0 && (
        <p className="ask">
          It overcharges that cell every time, which is dangerous for lithium. Do not charge through this channel until
          it is corrected or the charger is set lower.
        </p>
      )}
      {offset.ok && (
        <p className="soft mb-2">
          {nextText(errorInterval(offset.correction, 4, shownU(step)))} corrected, 4.000 V shown means{' '}
          {formatQuantity(corrected({ value: 4, u: 0 }, offset.correction), display.voltage)}.
        </p>
      )}
      {isAssumed && (
        <p className="soft mb-2">
          Accuracy not noted {channel.instrument.code} is: {promiseText(isAssumed)} is assumed. This correction rests on
          that and on the {counted(differences.length, 'battery', 'batteries')} read here.
        </p>
      )}
      {channel.corrected ? (
        <p className="mb-0">It is corrected from now on. Measure once more to check.</p>
      ) : (
        <CalibrateButtons
          sheetId={sheet.crossCheck.id}
          name={channel.name}
          adjustment={
            adjustment && { position: adjustment.position, showedV: adjustment.showedV, setToV: adjustment.setToV }
          }
          stepV={step}
        />
      )}
    </div>
  );
}

function DifferenceTable({ sheet: { crossCheck, channels } }: { sheet: JudgedSheet }) {
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            <th>Channel</th>
            {crossCheck.batteries.map((label, i) => (
              <th key={i} className="num">
                B{i + 1} {label}
              </th>
            ))}
            <th>Finding</th>
          </tr>
        </thead>
        <tbody>
          {channels.map((channel) => (
            <tr key={channel.name} className={channel.apartOn > 0 ? 'odd-one' : ''}>
              <td className="num">{channel.name}</td>
              {crossCheck.batteries.map((_, i) => {
                const reading = channel.readings.find((one) => one.position === i + 1);
                return (
                  <td key={i} className="num">
                    {reading ? `${reading.raw.value.toFixed(3)} V` : '–'}
                    {reading?.difference && (
                      <>
                        <br />
                        {reading.difference.value > 0 ? '+' : ''}
                        {formatQuantity(reading.difference, millivolts)}
                      </>
                    )}
                  </td>
                );
              })}
              <td>{channelState(channel)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function channelState({ apartOn, corrected }: JudgedChannel): string {
  if (apartOn > 0) return '◆ odd one out';
  return corrected ? 'corrected' : '';
}
