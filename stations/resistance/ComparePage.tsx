import { ratioReasonText, usualRatioText } from '@/words/resistance';
import { numberOf } from '@/stations/address';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { type Agreement, isApart, leastPairs } from '@/core/resistance/agreement';
import { database } from '@/records/database';
import { roundById } from '@/records/rounds';
import { modelName } from '@/core/judging/models';
import type { Round } from '@/core/judging/facts';
import { judgedPacks, judgedWorkshop, type Workshop } from '@/workshop/judged';
import { cellsOfBatch } from '@/core/judging/shelf';
import { thinned } from '@/ui/thinned';
import { counted } from '@/words/counted';
import { PlusMinus } from '@/ui/PlusMinus';
import { GoBar } from '../frame/GoBar';
import { AgreementPlot } from './AgreementPlot';
import { type CodedPair, compareProtocols, everyModel, packModel } from '@/core/judging/compareProtocols';
import { Link } from '@/ui/Link';
import { CompareForm } from './CompareForm';

function modelOfRound(workshop: Workshop, { batchCode }: Round): string | null {
  if (batchCode === null) return packModel;
  const [cell] = cellsOfBatch(workshop, batchCode);
  return cell ? modelName(cell) : null;
}

/** Of thousands of cells the plot shows the population thinned. */
const plotted = (pairs: readonly CodedPair[], agreement: Agreement): CodedPair[] =>
  thinned(
    pairs.map((pair) => ({
      ...pair,
      x: pair.first + pair.second,
      y: agreement.growing ? pair.second / pair.first : pair.first - pair.second,
    })),
    (pair) => String(isApart(pair, agreement)),
  );

/** Two protocols on the same cells or packs: how far they agree, why they differ, and whether that is usual. */
export async function ComparePage({
  first: firstId,
  second: secondId,
  round: roundId,
  model: chosenModel,
}: {
  first?: string;
  second?: string;
  round?: string;
  model?: string;
}) {
  const round = roundId === undefined ? null : await roundById(database(), numberOf(roundId));
  const workshop = await judgedWorkshop();
  const { protocols, first, second, models, model, pairs, agreement, verdict } = compareProtocols(
    workshop,
    await judgedPacks(workshop),
    Number(firstId) || round?.protocolId || null,
    Number(secondId) || null,
    chosenModel ?? (round && modelOfRound(workshop, round)),
  );
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/resistance">Resistance</Link> · two methods
        </h1>
        <span className="soft">Two methods usually give different values, and both can be right.</span>
      </div>
      {protocols.length < 2 ? (
        <section className="sheet lead-ember empty">
          <p>Measure the same cells or packs with two protocols to compare them here.</p>
          <Link href="/resistance">To the rounds</Link>
        </section>
      ) : (
        <div className="cols wide-end">
          <section className="sheet" aria-label="Agreement">
            <CompareForm
              protocols={protocols.map(({ id, name }) => [String(id), name])}
              first={String(first?.id ?? '')}
              second={String(second?.id ?? '')}
              models={
                models.length < 2
                  ? []
                  : [...models.map((name): [string, string] => [name, name]), [everyModel, 'every model']]
              }
              model={model ?? everyModel}
            />
            {agreement && first && second ? (
              <AgreementPlot
                pairs={plotted(pairs, agreement)}
                agreement={agreement}
                first={first.name}
                second={second.name}
              />
            ) : (
              <p className="empty">
                {counted(pairs.length, 'cell or pack', 'cells or packs')} {model !== null && `(${model}) `}
                {pairs.length === 1 ? 'was' : 'were'} measured by both; {leastPairs} are needed to say anything of two
                methods.
              </p>
            )}
          </section>
          <section className="sheet lead-ember" aria-label="In plain words">
            {agreement && first && second && verdict ? (
              <>
                <div className="soft">
                  {model ?? 'Every model'}: {second.name} over {first.name}
                </div>
                <div className="big mid">
                  {agreement.ratio.toFixed(2)}
                  <small>times</small>
                </div>
                <p style={{ fontWeight: 700 }}>{usualRatioText(verdict)}</p>
                <p>{ratioReasonText(verdict.why)}</p>
                {verdict.isUsual === false && (
                  <p className="ask">
                    Look for leads or clips in the figure, a bad contact, another charge or temperature, or a wrong
                    instrument.
                  </p>
                )}
                <p className="mb-1">
                  On {agreement.count} of them the first reads{' '}
                  {formatQuantity({ value: Math.abs(agreement.bias.value), u: agreement.bias.u }, display.resistance)}{' '}
                  {agreement.bias.value < 0 ? 'less' : 'more'} than the second.{' '}
                  {agreement.growing
                    ? `95 % of the ratios are from ${agreement.ratioLow.toFixed(2)} to ` +
                      `${agreement.ratioHigh.toFixed(2)} times.`
                    : `95 % of the differences are from ${formatFigure(agreement.low, display.resistance)} ` +
                      `to ${formatFigure(agreement.high, display.resistance)}.`}
                </p>
                {agreement.growing && (
                  <p>
                    The differences grow with the resistance itself, so the ratio is what the two have in common: odd is
                    what has an odd ratio.
                  </p>
                )}
                <PlusMinus />
                <p className="soft mb-0">
                  The limits are for a further one, from these {agreement.count}
                  {agreement.growing ? '' : `, each ± ${formatFigure(agreement.limitU, display.resistance)}`}. No value
                  is converted from one method to the other.
                </p>
              </>
            ) : (
              <p className="mb-0">Choose two protocols that share cells or packs.</p>
            )}
          </section>
        </div>
      )}
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
