import { packFigures } from '@/core/matching/groupFigures';
import { display, formatQuantity } from '@/core/quantity/format';
import { buildById, type BuildWithCells } from '@/records/builds';
import { packOfBuild } from '@/records/packs';
import { database } from '@/records/database';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { modelName, mostPlentiful } from '@/core/judging/models';
import { judgedWorkshop } from '@/workshop/judged';
import { PlusMinus } from '@/ui/PlusMinus';
import { PrintButton } from '@/ui/PrintButton';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import { notFound } from 'next/navigation';
import { BeforeJoining } from './BeforeJoining';
import { voltmeters } from '@/core/judging/instrumentBook';
import { now } from '@/workshop/clock';
import { batchMedian } from '../intake/intakeLine';
import { fetchCell } from '../intake/lineCell';
import { BuildBar } from './BuildBar';
import { BuildsBar } from './BuildsBar';
import { free } from '@/core/judging/candidates';
import { Link } from '@/ui/Link';
import { cellsByGroup, groupsOfBuild } from './groupsOfBuild';
import { GroupTable } from './GroupTable';
import { PackCapacity } from './PackCapacity';
import { type Place, Placement } from './Placement';
import { WeldForm } from './WeldForm';
import { SwapForm } from './SwapForm';
import { voidBuildAction } from './actions';

/** A voltage read within this time is of today. */
const freshMs = 12 * 3_600_000;

/** The build sheet: what to put where, with today's figures. Made to be printed. */
export async function BuildPage({ id }: { id: number }) {
  const build = await buildById(database(), id);
  if (!build) notFound();
  const [workshop, welded] = await Promise.all([judgedWorkshop(), packOfBuild(database(), id)]);
  const { cells, instruments } = workshop;
  const groups = groupsOfBuild(build, cells);
  const pack = packFigures(groups);
  const places = placesOf(build, cells);
  const placed = places.flatMap(({ code }) => cells.find((cell) => cell.code === code) ?? []);
  const models = mostPlentiful(placed.map(modelName)).map(({ name }) => name);
  const isToBeJoined = build.voidReason === null && welded === null;
  // What was measured longer ago may have changed since.
  const today = new Date(now().getTime() - freshMs);
  const next = places.find(({ readAt }) => readAt === null || readAt < today)?.code ?? null;

  return (
    <>
      <div className="head">
        <h1>
          <Link href="/builds" className="no-print">
            Builds
          </Link>{' '}
          {build.name}
        </h1>
        <span className="soft">
          {build.series} in series, {build.parallel} in parallel · {models.join(' and ')} · saved{' '}
          <When at={build.savedAt} as="d MMM yyyy" />
        </span>
        {welded !== null && (
          <span>
            welded as <Link href={`/clinic/${welded}`}>{welded}</Link>
          </span>
        )}
        {build.voidReason !== null && <span className="tag hot">void: {build.voidReason}</span>}
        <span className="end no-print">
          <Link className="btn btn-quiet" href={`/builds/${id}/labels`}>
            Labels
          </Link>{' '}
          <PrintButton />
        </span>
      </div>
      <div className="cols">
        <div className="stack">
          <section className="sheet lead-ember" aria-label="Pack capacity">
            <div className="soft">Capacity by its weakest group</div>
            <PackCapacity groups={groups} />
            <p className="mb-0">
              {pack.resistance ? formatQuantity(pack.resistance, display.resistance) : 'A resistance not known'} from
              end to end by the ten-second figures of its cells, joints not counted.
            </p>
          </section>
          <section className="sheet" aria-label="Groups">
            <h2>Groups, from the negative end</h2>
            <GroupTable groups={groups} />
            <PlusMinus />
          </section>
        </div>
        <BeforeJoining
          groups={cellsByGroup(build, build.series, cells)}
          workshop={workshop}
          next={isToBeJoined ? next : undefined}
        />
      </div>
      {isToBeJoined && (
        <section className="sheet mb-3" aria-label="Placement">
          <h2>Placement, in the order of work</h2>
          <Placement build={id} series={build.series} places={places} />
        </section>
      )}
      {isToBeJoined && (
        <details className="sheet mb-3 no-print">
          <summary>It is welded: make it a pack</summary>
          <WeldForm build={build.id} name={build.name} />
        </details>
      )}
      {isToBeJoined && (
        <div className="no-print">
          <details className="sheet mb-3">
            <summary>Swap a cell</summary>
            <SwapForm
              build={id}
              placed={placed.map((cell) => ({ code: cell.code, model: modelName(cell) }))}
              free={free(cells).flatMap((cell) =>
                models.includes(modelName(cell)) ? [{ code: cell.code, model: modelName(cell) }] : [],
              )}
            />
          </details>
          <VoidForm what="this build" note="Its cells go back to the shelf." action={voidBuildAction.bind(null, id)} />
        </div>
      )}
      {isToBeJoined ? (
        <BuildBar
          build={id}
          current={next}
          cells={placed.map(fetchCell)}
          median={batchMedian(placed)}
          model={models[0] ?? ''}
          meters={voltmeters(instruments)}
        />
      ) : (
        <BuildsBar model={models[0] ?? ''} />
      )}
    </>
  );
}

/** Group after group from the negative end, those welded together one after the other. */
function placesOf(
  { cells: placed }: BuildWithCells,
  cells: readonly JudgedCell[],
): (Place & { readAt: Date | null })[] {
  const byId = new Map(cells.map((cell) => [cell.id, cell]));
  return placed
    .flatMap(({ cellId, position, placedAt }) => {
      const cell = byId.get(cellId);
      return cell
        ? [
            {
              cellId,
              code: cell.code,
              position,
              isPlaced: placedAt !== null,
              weldedTo: cell.weldedTo,
              bond: cell.bond,
              readAt: cell.voltage?.takenAt ?? null,
            },
          ]
        : [];
    })
    .sort(
      (a, b) =>
        a.position - b.position || (a.bond ?? a.code).localeCompare(b.bond ?? b.code) || a.code.localeCompare(b.code),
    )
    .map(({ bond: _, ...place }) => place);
}
