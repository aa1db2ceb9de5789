import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { ImpossibleInput } from '@/core/impossibleInput';
import { candidatesOf, chemistryOf, choicesOf, free, notYet } from '@/core/judging/candidates';
import type { Shape } from '@/core/matching/shapes';
import { display, formatFigure } from '@/core/quantity/format';
import { impossibleText } from '@/words/impossible';
import { counted } from '@/words/counted';
import { judgedWorkshop, type Workshop } from '@/workshop/judged';
import { inBackground } from '@/workshop/pool';
import { median } from 'simple-statistics';
import Link from 'next/link';
import { BuildsBar } from './BuildsBar';
import { notYetText, shapeText } from './buildWords';
import { JobForm } from './JobForm';
import { type JobAsked, jobOf, needHref } from './need';

/** The shapes that can do a job, by a middling cell of those at hand. */
export async function JobPage({ parameters }: { parameters: Record<string, string | undefined> }) {
  const workshop = await judgedWorkshop();
  const { cells, rules } = workshop;
  const models = choicesOf(free(cells), rules.limits.modelsInPack);
  const asked = jobOf(parameters);
  const job = asked && { ...asked, model: asked.model || (models[0]?.name ?? '') };
  return (
    <>
      <div className="head">
        <h1>
          <Link href="/builds">Builds</Link> · shapes for a job
        </h1>
        {job && <span className="soft">{job.model}</span>}
      </div>
      <div className="cols">
        <section className="sheet lead-ember" aria-label="Shapes">
          {job ? (
            <Shapes job={job} shown={await found(job, workshop)} />
          ) : (
            <p className="ask mb-0">In series: expected a whole number such as 7, or a span such as 6-8.</p>
          )}
        </section>
        <section className="sheet lead-ink" aria-label="The job">
          <h2>What it must do</h2>
          <JobForm key={JSON.stringify(job)} models={models} job={job} />
        </section>
      </div>
      <BuildsBar model={job?.model ?? models[0]?.name ?? ''} />
    </>
  );
}

type Found =
  | { said: string }
  | { shapes: Shape[]; cell: { capacityAh: number; resistanceOhm: number }; cutoffPerGroupV: number; atHand: number };

/** By a middling one of the cells that may be chosen. */
async function found(of: JobAsked, { cells, rules }: Pick<Workshop, 'cells' | 'rules'>): Promise<Found> {
  const candidates = candidatesOf(cells, { ...of, without: [] });
  const chemistry = chemistryOf(cells, of.model);
  const missing = notYetText(notYet(cells, of));
  if (of.load === null || of.minutes === null) return { said: 'Give a load, and for how many minutes.' };
  if (candidates.length === 0 || chemistry === null)
    return { said: `No free cell of ${of.model} is of that duty. ${missing}` };
  const cutoffPerGroupV = of.lowestV ?? lowestVoltageV(chemistry, rules.limits);
  const cell = {
    capacityAh: median(candidates.map(({ capacityAh }) => capacityAh)),
    resistanceOhm: median(candidates.map(({ resistanceOhm }) => resistanceOhm)),
  };
  const { load, minutes, peakA, series } = of;
  try {
    const shapes = await inBackground('shapes', {
      chemistry,
      series,
      load,
      minutes,
      peakA,
      cutoffPerGroupV,
      cell,
      atHand: candidates.length,
    });
    return { shapes, cell, cutoffPerGroupV, atHand: candidates.length };
  } catch (error) {
    if (error instanceof ImpossibleInput) return { said: impossibleText(error) };
    throw error;
  }
}

function Shapes({ job, shown }: { job: JobAsked; shown: Found }) {
  if ('said' in shown)
    return (
      <p className="ask mb-0" role="alert">
        {shown.said}
      </p>
    );
  const { shapes, cell, cutoffPerGroupV, atHand } = shown;
  const best = shapes.find(({ short }) => short === null);
  const hrefOf = ({ series, parallel, enoughAh }: Shape): string =>
    needHref({
      series,
      parallel,
      model: job.model,
      duty: job.duty,
      without: [],
      load: job.load,
      minutes: job.minutes,
      lowestV: cutoffPerGroupV,
      enoughAh: Number(enoughAh.toPrecision(4)),
    });
  return (
    <>
      <p className="headline">
        {best
          ? `${best.series} in series, ${best.parallel} in parallel: ${counted(best.cells, 'cell')}`
          : 'No shape does it with the cells at hand'}
      </p>
      <p className="soft">
        By a middling cell of {formatFigure(cell.capacityAh, display.capacity, 2)} and{' '}
        {formatFigure(cell.resistanceOhm, display.resistance)}, never below {cutoffPerGroupV.toFixed(2)} V a group;{' '}
        {counted(atHand, 'such cell')} at hand.
      </p>
      <div className="table-scroll" tabIndex={0}>
        <table className="table stacked mb-0">
          <thead>
            <tr>
              <th>Shape</th>
              <th className="num">Cells</th>
              <th className="num">Lasts</th>
              <th className="num">Gives</th>
              <th className="num">Volts</th>
              <th className="num">Sag</th>
              <th className="num">Each cell</th>
              <th>Says</th>
            </tr>
          </thead>
          <tbody>
            {shapes.map((shape) => (
              <tr key={`${shape.series} ${shape.parallel}`} className={shape.short === null ? '' : 'soft'}>
                <td>
                  <Link className="fw-bold text-nowrap" href={hrefOf(shape)} prefetch={false}>
                    {shape.series}s{shape.parallel}p
                  </Link>
                </td>
                <td className="num" data-label="Cells">
                  {shape.cells}
                </td>
                <td className="num" data-label="Lasts">
                  {Math.round(shape.minutes)} min
                </td>
                <td className="num" data-label="Gives">
                  {formatFigure(shape.energyWh, display.energy, 0)}
                </td>
                <td className="num" data-label="Volts">
                  {shape.fullV.toFixed(1)} to {shape.emptyV.toFixed(1)}
                </td>
                <td className="num" data-label="Sag">
                  {formatFigure(shape.peakSagV, display.voltage, 2)}
                </td>
                <td className="num" data-label="Each cell">
                  {formatFigure(shape.rateC, display.cRate)}
                </td>
                <td className="text-nowrap">{shapeText(shape)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
