import { strengthOf } from '@/core/statistics/line';
import { addressOf } from '@/ui/tokens';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { PlusMinus } from '@/ui/PlusMinus';
import { GoBar } from '../frame/GoBar';
import { alikeOf, type Predicted, predictionOf } from '@/core/judging/predict';
import { Link } from '@/ui/Link';
import { PredictPlot } from './PredictPlot';
import { thinned } from '@/ui/thinned';

/** A line over this many cells is as good as one over all of them. */
const mostCells = 1000;

const quantities = {
  energy: { name: 'Energy delivered', unit: 'Wh', decimals: 2 },
  voltage: { name: 'Mean voltage under load', unit: 'V', decimals: 3 },
} as const;

/** What resistance predicts: energy or voltage under load over the workshop's own cells of one model or packs. */
export async function PredictPage({ model: wanted, of }: { model?: string; of?: string }) {
  const workshop = await judgedWorkshop();
  const quantity = of === 'voltage' ? 'voltage' : 'energy';
  const models = alikeOf(workshop.cells, await judgedPacks(workshop));
  const model = models.find(({ name }) => name === wanted) ?? models[0];
  const shown = (model?.measured ?? []).slice(0, mostCells).map(({ code, ohm, energyWh, meanVoltageV }): Predicted => ({
    code,
    ohm,
    value: quantity === 'energy' ? energyWh : meanVoltageV,
  }));
  const protocol = model?.protocolId == null ? null : workshop.protocols.get(model.protocolId);
  const prediction = predictionOf(shown);
  const outside = new Set(prediction?.outside);
  const plotted = thinned(
    shown.map((cell) => ({ ...cell, x: cell.ohm, y: cell.value })),
    ({ code }) => String(outside.has(code)),
  );
  const { name, unit, decimals } = quantities[quantity];
  const href = (change: { model?: string; of?: string }) =>
    `/resistance/predict?${new URLSearchParams({ model: model?.name ?? '', of: quantity, ...change })}`;
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Resistance</Link> · what it predicts
        </h1>
        <span className="soft">Resistance against what the same cells or packs delivered down to their cut-off.</span>
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
          <p>Cells and packs with both a resistance and a discharge show here.</p>
        </section>
      ) : (
        <div className="cols">
          <section className="sheet" aria-label="Plot">
            <nav className="tabs d-flex gap-3 flex-wrap mb-1" aria-label="Model">
              {models.map(({ name: one }) => (
                <Link key={one} href={href({ model: one })} aria-current={one === model?.name ? 'true' : undefined}>
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
              below={protocol ? `${protocol.name}, a group’s mean, mΩ` : 'ten-second resistance, mΩ'}
            />
          </section>
          <section className="sheet lead-ember" aria-label="In words">
            {prediction ? (
              <>
                <div className="soft">
                  R² on {shown.length - prediction.leftOut.length} of {model?.name}
                </div>
                <div className="big mid">{prediction.line.rSquared.toFixed(2)}</div>
                <p style={{ fontWeight: 700 }}>{strengthOf(prediction.line.rSquared)}</p>
                <p>
                  Each further 10 mΩ means {Math.abs(prediction.line.slope.value * 0.01).toFixed(decimals)} ±{' '}
                  {(prediction.line.slope.u * 0.01).toFixed(decimals)} {unit}{' '}
                  {prediction.line.slope.value < 0 ? 'less' : 'more'}.
                </p>
                <PlusMinus />
                <p>A new cell is within the band in 95 % of cases.</p>
                {prediction.leftOut.length > 0 && (
                  <p>
                    The line is drawn without {prediction.leftOut.slice(0, 8).join(', ')}: so far off that one such
                    would turn it.
                  </p>
                )}
                {prediction.outside.length > 0 && (
                  <p className="mb-0">
                    Outside it:{' '}
                    {prediction.outside.slice(0, 8).map((code) => (
                      <Link key={code} className="num me-2" href={addressOf(code)}>
                        {code}
                      </Link>
                    ))}
                  </p>
                )}
              </>
            ) : (
              <p className="mb-0">
                {shown.length} of {model?.name}: five that differ are needed to draw a line.
              </p>
            )}
          </section>
        </div>
      )}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
