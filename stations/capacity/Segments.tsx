import { chargeEfficiency } from '@/core/capacity/chargeEfficiency';
import { cyclesOf, type Segment } from '@/core/capacity/segments';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { display, formatDuration, formatFigure } from '@/core/quantity/format';
import { efficiencyText, numberedText, segmentText } from '@/words/segments';

/** Rows that are seen at once; a longer list is scrolled. */
const rowsSeen = 12;

const perCent = (out: number | null, into: number | null): string =>
  out === null || into === null || into === 0 ? '–' : `${((100 * out) / into).toFixed(1)} %`;
const orDash = (value: number | null, as: Parameters<typeof formatFigure>[1]): string =>
  value === null ? '–' : formatFigure(value, as);

/** What a row is about, and its figures. */
const HeadRow = ({ names }: { names: string[] }) => (
  <tr>
    {names.map((name, i) => (
      <th key={name} scope="col" className={i === 0 ? '' : 'num'}>
        {name}
      </th>
    ))}
  </tr>
);

/** What went on in a log, segment by segment, and what each of its cycles took and gave. */
export function Segments({ segments, chemistry }: { segments: readonly Segment[]; chemistry: Chemistry }) {
  if (segments.length < 2) return null;
  const cycles = cyclesOf(segments).filter(({ chargedAh }) => chargedAh !== null);
  const efficiency = chargeEfficiency(cycles, chemistry);
  return (
    <section className="sheet mb-3" aria-label="What went on in the log">
      <h2>What went on in the log</h2>
      <div
        className="table-scroll"
        style={segments.length > rowsSeen ? { maxHeight: 420, overflow: 'auto' } : undefined}
        tabIndex={0}
      >
        <table className="table num">
          <thead>
            <HeadRow names={['Segment', 'From', 'For', 'Charge', 'Energy', 'Voltage']} />
          </thead>
          <tbody>
            {segments.map((segment) => (
              <tr key={segment.fromS} className={segment.kind === 'rest' ? 'soft' : ''}>
                <th scope="row">
                  {segmentText(segment)} <span className="soft fw-normal">{numberedText(segment)}</span>
                </th>
                <td className="num">{formatDuration(segment.fromS)}</td>
                <td className="num">{formatDuration(segment.toS - segment.fromS)}</td>
                <td className="num">
                  {segment.kind === 'rest' ? '–' : formatFigure(segment.chargeAh, display.capacity)}
                </td>
                <td className="num">
                  {segment.kind === 'rest' ? '–' : formatFigure(segment.energyWh, display.energy)}
                </td>
                <td className="num text-nowrap">
                  {segment.startVoltageV.toFixed(3)} → {segment.endVoltageV.toFixed(3)} V
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {cycles.length > 0 && (
        <>
          <h3>Cycles</h3>
          <div className="table-scroll" tabIndex={0}>
            <table className="table num">
              <thead>
                <HeadRow names={['Cycle', 'Put in', 'Given', 'Of the charge', 'Of the energy']} />
              </thead>
              <tbody>
                {cycles.map((cycle) => (
                  <tr key={cycle.fromS}>
                    <th scope="row">{cycle.number}</th>
                    <td className="num">{orDash(cycle.chargedAh, display.capacity)}</td>
                    <td className="num">{orDash(cycle.dischargedAh, display.capacity)}</td>
                    <td className="num">{perCent(cycle.dischargedAh, cycle.chargedAh)}</td>
                    <td className="num">{perCent(cycle.dischargedWh, cycle.chargedWh)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {efficiency && (
            <p className={efficiency.says === 'lost' ? 'ask mb-0' : 'soft mb-0'}>{efficiencyText(efficiency)}</p>
          )}
        </>
      )}
    </section>
  );
}
