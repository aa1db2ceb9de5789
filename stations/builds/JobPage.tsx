import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { ImpossibleInput } from '@/core/impossibleInput';
import { candidatesOf, chemistryOf, choicesOf, free, notYet, sizeNoted, sharedCurve } from '@/core/judging/candidates';
import { cellsIn, sizeOf } from '@/core/matching/room';
import type { Shape } from '@/core/matching/shapes';
import { display, formatFigure } from '@/core/quantity/format';
import { Link } from '@/ui/Link';
import { impossibleText } from '@/words/impossible';
import { counted } from '@/words/counted';
import { judgedWorkshop, type Workshop } from '@/workshop/judged';
import { inBackground } from '@/workshop/pool';
import { median } from 'simple-statistics';
import { BuildsBar } from './BuildsBar';
import { coldText, notYetText, shapeText } from './buildWords';
import { JobForm } from './JobForm';
import { type JobRequest, jobOf, needHref } from './need';

/** The shapes that can do a job, by a median cell of those at hand. */
export async function JobPage({ parameters }: { parameters: Record<string, string | undefined> }) {
  const workshop = await judgedWorkshop();
  const { cells, rules } = workshop;
  const models = choicesOf(free(cells), rules.limits.modelsInPack);
  const parsed = jobOf(parameters);
  const job = 'said' in parsed ? null : { ...parsed, model: parsed.model || (models[0]?.name ?? '') };
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
            <p className="ask mb-0">{'said' in parsed && parsed.said}</p>
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
  | {
      shapes: Shape[];
      cell: { capacityAh: number; resistanceOhm: number };
      cutoffPerGroupV: number;
      atHand: number;
      room: number | null;
    };

/** By a median cell of those that may be chosen. */
async function found(
  of: JobRequest,
  { cells, rules, curves }: Pick<Workshop, 'cells' | 'rules' | 'curves'>,
): Promise<Found> {
  const candidates = candidatesOf(cells, { ...of, without: [] });
  const chemistry = chemistryOf(cells, of.model);
  const missing = notYetText(notYet(cells, of));
  if (of.load === null) return { said: 'Give a load, in amperes or in watts.' };
  if (candidates.length === 0 || chemistry === null)
    return { said: `No free cell of ${of.model} is of that duty. ${missing}` };
  const cutoffPerGroupV = of.lowestV ?? lowestVoltageV(chemistry, rules.limits);
  const cell = {
    capacityAh: median(candidates.map(({ capacityAh }) => capacityAh)),
    resistanceOhm: median(candidates.map(({ resistanceOhm }) => resistanceOhm)),
  };
  const { load, minutes, energyWh, peakA, series, windowV, temperatureC } = of;
  const size = sizeOf(of.size || sizeNoted(cells, of.model));
  if (of.room !== null && size === null)
    return { said: 'Enter the size of a cell, such as 18650. Without it the room cannot be computed.' };
  const room = of.room && size && cellsIn(of.room, size);
  try {
    const shapes = await inBackground('shapes', {
      chemistry,
      series,
      load,
      windowV,
      minutes,
      energyWh,
      peakA,
      cutoffPerGroupV,
      temperatureC,
      cell,
      curve: sharedCurve(
        cells,
        candidates.map(({ id }) => id),
        curves,
      ),
      atHand: candidates.length,
      room,
    });
    return { shapes, cell, cutoffPerGroupV, atHand: candidates.length, room };
  } catch (error) {
    if (error instanceof ImpossibleInput) return { said: impossibleText(error) };
    throw error;
  }
}

function Shapes({ job, shown }: { job: JobRequest; shown: Found }) {
  if ('said' in shown)
    return (
      <p className="ask mb-0" role="alert">
        {shown.said}
      </p>
    );
  const { shapes, cell, cutoffPerGroupV, atHand, room } = shown;
  const best = shapes.find(({ short }) => short === null);
  const hrefOf = ({ series, parallel, enoughAh, minutes, energyWh, cutoffPerGroupV: lowestV }: Shape): string =>
    needHref({
      series,
      parallel,
      model: job.model,
      duty: job.duty,
      without: [],
      load: job.load,
      minutes: Number(Math.max(job.minutes ?? 0, (minutes * (job.energyWh ?? 0)) / energyWh).toPrecision(3)),
      lowestV: Number(lowestV.toFixed(3)),
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
        By a median cell of {formatFigure(cell.capacityAh, display.capacity, 2)} and{' '}
        {formatFigure(cell.resistanceOhm, display.resistance)}, never below {cutoffPerGroupV.toFixed(2)} V a group;{' '}
        {counted(atHand, 'such cell')} at hand.
        {room !== null && ` There is room for ${room}.`}
        {job.temperatureC !== null && ` ${coldText(job.temperatureC)}`}
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
                  <Link className="fw-bold text-nowrap" href={hrefOf(shape)}>
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
                <td>{shapeText(shape)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
