import { packFigures } from '@/core/matching/groupFigures';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { buildById } from '@/records/builds';
import { packOfBuild } from '@/records/packs';
import { database } from '@/records/database';
import { modelName } from '@/core/judging/models';
import { judgedWorkshop } from '@/workshop/judged';
import { PlusMinus } from '@/ui/PlusMinus';
import { PrintButton } from '@/ui/PrintButton';
import { VoidForm } from '@/ui/VoidForm';
import { When } from '@/ui/When';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { BuildsBar } from './BuildsBar';
import { free } from '@/core/judging/candidates';
import { groupsOfBuild } from './groupsOfBuild';
import { GroupTable } from './GroupTable';
import { PackCapacity } from './PackCapacity';
import { WeldForm } from './WeldForm';
import { SwapForm } from './SwapForm';
import { voidBuildAction } from './actions';

/** The build sheet: what to put where, with the figures it stands on today. Made to be printed. */
export async function BuildPage({ id }: { id: number }) {
  const build = await buildById(database(), id);
  if (!build) notFound();
  const [{ cells, rules }, welded] = await Promise.all([judgedWorkshop(), packOfBuild(database(), id)]);
  const groups = groupsOfBuild(build, cells);
  const pack = packFigures(groups);
  const first = cells.find((cell) => cell.id === build.cells[0]?.cellId);

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
          {build.series} in series, {build.parallel} in parallel · {first && modelName(first)} · saved{' '}
          <When at={build.savedAt} as="d MMM yyyy" />
        </span>
        {welded !== null && (
          <span>
            welded as <Link href={`/clinic/${welded}`}>{welded}</Link>
          </span>
        )}
        {build.voidReason !== null && <span className="tag hot">void: {build.voidReason}</span>}
        <span className="end no-print">
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
        <section className="sheet" aria-label="Before you join them">
          <h2>Before you join them</h2>
          <ul className="mb-2 ps-3">
            <li>
              Bring the cells of a group within {formatFigure(rules.limits.joinWithinV, display.milliVolt)} of each
              other.
            </li>
            <li>Check every polarity twice, then cover what you do not work on.</li>
            <li>Fuse the pack, and give it a board that sees every group.</li>
            <li>Keep welded pairs together.</li>
          </ul>
          <p className="soft mb-0">Local codes and licensed people decide about large or fixed batteries.</p>
        </section>
      </div>
      {build.voidReason === null && welded === null && (
        <details className="sheet mb-3 no-print">
          <summary>It is welded: make it a pack</summary>
          <WeldForm build={build.id} name={build.name} />
        </details>
      )}
      {build.voidReason === null && welded === null && (
        <div className="no-print">
          <details className="sheet mb-3">
            <summary>Swap a cell</summary>
            <SwapForm
              build={id}
              codes={groups.flatMap((group) => group.codes)}
              free={free(cells)
                .filter((cell) => first && modelName(cell) === modelName(first))
                .map((cell) => cell.code)}
            />
          </details>
          <VoidForm what="this build" note="Its cells go back to the shelf." action={voidBuildAction.bind(null, id)} />
        </div>
      )}
      <BuildsBar model={first ? modelName(first) : ''} />
    </>
  );
}
