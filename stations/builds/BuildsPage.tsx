import { countBuilds, listBuilds } from '@/records/builds';
import { database } from '@/records/database';
import type { JudgedPack } from '@/core/judging/judgePack';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { counted } from '@/words/counted';
import { Pages } from '@/ui/Pages';
import { When } from '@/ui/When';
import { BuildsBar } from './BuildsBar';
import { choicesOf, free } from '@/core/judging/candidates';
import { Link } from '@/ui/Link';
import { JobForm } from './JobForm';
import { NeedForm } from './NeedForm';

const pageSize = 50;
/** More packs than these are opened by their code, and mended from their page. */
const mostToMend = 30;

/** Saved builds, and what the next pack must be. */
export async function BuildsPage({ page }: { page: number }) {
  const db = database();
  const workshop = await judgedWorkshop();
  const { cells, rules } = workshop;
  const [packs, builds, total] = await Promise.all([
    judgedPacks(workshop),
    listBuilds(db, pageSize, (page - 1) * pageSize),
    countBuilds(db),
  ]);
  const available = free(cells);
  const models = choicesOf(available, rules.limits.modelsInPack);
  return (
    <>
      <div className="head">
        <h1>Builds</h1>
        <span className="soft">{counted(available.length, 'graded cell is', 'graded cells are')} free</span>
      </div>
      <div className="stack mb-3">
        <section className="sheet lead-ink">
          <h2>A new pack: what must it do?</h2>
          {models.length === 0 ? (
            <p className="soft mb-0">
              A match needs graded cells: intake, resistance and a capacity test each. See what waits on the bench line.
            </p>
          ) : (
            <JobForm models={models} job={null} />
          )}
        </section>
        {models.length > 0 && (
          <details className="sheet">
            <summary>Its shape is known already</summary>
            <NeedForm models={models} need={null} />
          </details>
        )}
        <ToMend packs={packs.filter(({ apart, series }) => apart === null && series > 1)} />
        <section className="sheet" aria-label="Saved builds">
          <h2>Saved builds</h2>
          {builds.length === 0 ? (
            <div className="empty">
              <p>No build yet. Say how many in series and in parallel; the match finds the cells.</p>
            </div>
          ) : (
            <div className="table-scroll" tabIndex={0}>
              <table className="table">
                <tbody>
                  {builds.map((build) => (
                    <tr key={build.id} className={build.voidReason === null ? '' : 'soft'}>
                      <td>
                        <Link className="fw-bold" href={`/builds/${build.id}`}>
                          {build.voidReason === null ? build.name : <s>{build.name}</s>}
                        </Link>
                        {build.voidReason !== null && ` void: ${build.voidReason}`}
                      </td>
                      <td>
                        {build.series} in series, {build.parallel} in parallel
                      </td>
                      <td className="num">
                        <When at={build.savedAt} as="d MMM yyyy" />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          <Pages page={page} total={total.all} size={pageSize} href={(to) => `/builds?page=${to}`} />
        </section>
      </div>
      <BuildsBar model={models[0]?.name ?? ''} />
    </>
  );
}

/** Packs whose groups may be mended from the shelf, those that want attention first. */
function ToMend({ packs }: { packs: readonly JudgedPack[] }) {
  if (packs.length === 0) return null;
  const shown = packs.toSorted((a, b) => Number(b.isUrgent) - Number(a.isUrgent)).slice(0, mostToMend);
  return (
    <details className="sheet">
      <summary>Mend a pack from the shelf</summary>
      <ul className="list-unstyled mt-2 mb-0">
        {shown.map(({ code, name, amongGroups, isUrgent }) => {
          const failing = amongGroups?.groups.find(({ level }) => level === 'failing')?.position ?? 1;
          return (
            <li key={code}>
              <Link className="touch" href={`/builds/repair/${code}?group=${failing}`}>
                <b className="num">{code}</b> {name}
              </Link>
              {isUrgent && <span className="hot"> ◆ wants attention</span>}
            </li>
          );
        })}
      </ul>
    </details>
  );
}
