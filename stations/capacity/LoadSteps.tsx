import { display, formatDuration, formatFigure, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { type Horizon, horizonsS, type LoadEdge } from '@/core/resistance/pulses';
import type { Relaxation } from '@/core/resistance/relaxation';
import { FileStepButton } from './FileStepButton';

const horizons = Object.keys(horizonsS) as Horizon[];
const listed = 20;
const milliohms = (quantity: Quantity): string => formatQuantity(quantity, display.resistance).replace(' mΩ', '');
const seconds = { unit: 's', factor: 1, decimals: 1 };

/**
 * Steps of current in a log with the resistance seen after each, the drift before it taken off, and what was fitted.
 */
export function LoadSteps({
  edges,
  runId,
  filed,
  standing,
}: {
  edges: LoadEdge[];
  runId: number;
  filed: number[];
  standing: boolean;
}) {
  return (
    <section className="sheet mb-3" aria-label="Load steps">
      <h2>Steps of the load in the log</h2>
      {edges.length === 0 ? (
        <p className="soft mb-0">
          No step of the load in this log. A rest before it, or pulses of some seconds, sampled every 2 s, would show
          one.
        </p>
      ) : (
        <div className="table-scroll" tabIndex={0}>
          <table className="table">
            <thead>
              <tr>
                <th className="num">At</th>
                <th className="num">Step</th>
                {horizons.map((horizon) => (
                  <th key={horizon} className="num">
                    {horizonsS[horizon]} s, mΩ
                  </th>
                ))}
                <th>Fitted, mΩ</th>
                <th>Keep</th>
              </tr>
            </thead>
            <tbody>
              {edges.slice(0, listed).map((edge) => (
                <tr key={edge.atS}>
                  <td className="num">{formatDuration(edge.atS)}</td>
                  <td className="num">{formatFigure(edge.deltaCurrentA, display.current)}</td>
                  {horizons.map((horizon) => (
                    <td key={horizon} className="num">
                      {resistanceAt(edge, horizon)}
                    </td>
                  ))}
                  <td className="text-nowrap">
                    {edge.relaxation ? <Fitted relaxation={edge.relaxation} /> : 'too coarse'}
                  </td>
                  <td>
                    {edge.resistanceOhm['10s'] !== undefined &&
                      standing &&
                      (filed.some((at) => Math.abs(at - edge.atS) < 1e-6) ? (
                        'filed'
                      ) : (
                        <FileStepButton runId={runId} atS={edge.atS} />
                      ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="soft mb-0 mt-2">
            The drift before each step is taken off; what its own charge costs is in the figures, not in the fit.
          </p>
          {edges.length > listed && <p className="soft mb-0">and {edges.length - listed} more</p>}
        </div>
      )}
    </section>
  );
}

/** What comes at once and in stages, then branches with their time constants where the log shows them. */
const Fitted = ({ relaxation: { ohmicOhm, stages, branches } }: { relaxation: Relaxation }) => (
  <span className="num" style={{ fontSize: '0.85rem' }}>
    {ohmicOhm ? `${milliohms(ohmicOhm)} at once` : 'too coarse for what comes at once'}
    {stages.map((stage) => (
      <span key={stage.toS}>
        <br />+ {milliohms(stage.resistanceOhm)} from {stage.fromS} to {stage.toS} s
      </span>
    ))}
    {branches.map((branch) => (
      <span key={branch.timeConstantS.value}>
        <br />a branch of {milliohms(branch.resistanceOhm)}, {formatQuantity(branch.timeConstantS, seconds)}
      </span>
    ))}
  </span>
);

function resistanceAt({ resistanceOhm, standardUncertaintyOhm, unsettled }: LoadEdge, horizon: Horizon): string {
  const value = resistanceOhm[horizon];
  if (value !== undefined) return milliohms({ value, u: standardUncertaintyOhm[horizon] ?? 0 });
  return unsettled.includes(horizon) ? 'not settled' : '–';
}
