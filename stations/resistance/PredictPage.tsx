import { strengthOf } from '@/core/statistics/line';
import { modelName, mostPlentiful } from '@/core/judging/models';
import { judgedWorkshop } from '@/workshop/judged';
import { counted } from '@/words/counted';
import { PlusMinus } from '@/ui/PlusMinus';
import Link from 'next/link';
import { GoBar } from '../frame/GoBar';
import { type Predicted, predictionOf } from '@/core/judging/predict';
import { PredictPlot } from './PredictPlot';
import { thinned } from '@/ui/thinned';

/** A line over so many cells is as good as one over all of them. */
const mostCells = 1000;

const quantities = {
  energy: { name: 'Energy delivered', unit: 'Wh', decimals: 2 },
  voltage: { name: 'Mean voltage under load', unit: 'V', decimals: 3 },
} as const;

/** What resistance foretells: energy or voltage under load over the workshop's own cells of one model. */
export async function PredictPage({ model: wanted, of }: { model?: string; of?: string }) {
  const { cells } = await judgedWorkshop();
  const quantity = of === 'voltage' ? 'voltage' : 'energy';
  const known = cells.filter((cell) => !cell.putAway && cell.resistance && cell.run?.reachedCutoff);
  const models = mostPlentiful(known.map(modelName)).map((one) => one.name);
  const model = models.find((one) => one === wanted) ?? models[0];
  const own = known.filter((cell) => modelName(cell) === model).slice(0, mostCells);
  const shown = own.flatMap(({ code, resistance, run }): Predicted[] =>
    run && resistance
      ? [{ code, ohm: resistance.value, value: quantity === 'energy' ? run.energyWh : run.meanVoltageV }]
      : [],
  );
  const prediction = predictionOf(shown);
  const outside = new Set(prediction?.outside);
  const plotted = thinned(
    shown.map((cell) => ({ ...cell, x: cell.ohm, y: cell.value })),
    ({ code }) => String(outside.has(code)),
  );
  const { name, unit, decimals } = quantities[quantity];
  const href = (change: { model?: string; of?: string }) =>
    `/resistance/predict?${new URLSearchParams({ model: model ?? '', of: quantity, ...change })}`;
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Resistance</Link> · what it predicts
        </h1>
        <span className="soft">Ten-second resistance against what the same cells delivered down to their cut-off.</span>
        <nav className="end tabs" aria-label="Quantity">
          {(['energy', 'voltage'] as const).map((one) => (
            <Link key={one} href={href({ of: one })} aria-current={one === quantity ? 'true' : undefined}>
              {quantities[one].name}
            </Link>
          ))}
        </nav>
      </div>
      {models.length === 0 ? (
        <section className="sheet lead-ember empty">
          <p>Cells with both a resistance and a discharge show here.</p>
        </section>
      ) : (
        <div className="cols">
          <section className="sheet" aria-label="Plot">
            <nav className="tabs d-flex gap-3 flex-wrap mb-1" aria-label="Model">
              {models.map((one) => (
                <Link key={one} href={href({ model: one })} aria-current={one === model ? 'true' : undefined}>
                  {one}
                </Link>
              ))}
            </nav>
            <PredictPlot
              cells={plotted}
              band={prediction?.band ?? []}
              outside={prediction?.outside ?? []}
              label={`${name}, ${unit}`}
              decimals={decimals}
            />
          </section>
          <section className="sheet lead-ember" aria-label="In words">
            {prediction ? (
              <>
                <div className="soft">R² on {counted(shown.length - prediction.leftOut.length, 'cell')}</div>
                <div className="big mid">{prediction.line.rSquared.toFixed(2)}</div>
                <p style={{ fontWeight: 700 }}>{strengthOf(prediction.line.rSquared)}</p>
                <p>
                  Each further 10 mΩ goes with {Math.abs(prediction.line.slope.value * 0.01).toFixed(decimals)} ±{' '}
                  {(prediction.line.slope.u * 0.01).toFixed(decimals)} {unit}{' '}
                  {prediction.line.slope.value < 0 ? 'less' : 'more'}.
                </p>
                <PlusMinus />
                <p>A further cell lies within the band in nineteen of twenty cases.</p>
                {prediction.leftOut.length > 0 && (
                  <p>
                    The line is drawn without {prediction.leftOut.slice(0, 8).join(', ')}: so far off that one such cell
                    would turn it.
                  </p>
                )}
                {prediction.outside.length > 0 && (
                  <p className="mb-0">
                    Outside it:{' '}
                    {prediction.outside.slice(0, 8).map((code) => (
                      <Link key={code} className="num me-2" href={`/cells/${code}`} prefetch={false}>
                        {code}
                      </Link>
                    ))}
                  </p>
                )}
              </>
            ) : (
              <p className="mb-0">{counted(shown.length, 'cell')}: five that differ are needed to draw a line.</p>
            )}
          </section>
        </div>
      )}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
