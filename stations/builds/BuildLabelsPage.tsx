import { buildById } from '@/records/builds';
import { database } from '@/records/database';
import { Link } from '@/ui/Link';
import { judgedWorkshop } from '@/workshop/judged';
import { PrintButton } from '@/ui/PrintButton';
import { notFound } from 'next/navigation';
import { Labels } from '../Labels';
import { groupsOfBuild } from './groupsOfBuild';

/** A label for each cell of a build, with the group that it goes into. */
export async function BuildLabelsPage({ id }: { id: number }) {
  const build = await buildById(database(), id);
  if (!build) notFound();
  const { cells } = await judgedWorkshop();
  const labels = groupsOfBuild(build, cells).flatMap(({ codes }, g) =>
    codes.map((code) => ({ code, small: `${build.name}, group ${g + 1}` })),
  );
  return (
    <>
      <div className="head no-print">
        <h1>
          <Link href={`/builds/${id}`}>{build.name}</Link> · labels
        </h1>
        <span className="end">
          <PrintButton />
        </span>
      </div>
      <Labels labels={labels} />
    </>
  );
}
