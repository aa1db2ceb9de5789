import { chemistries } from '@/core/chemistry/chemistries';
import { type Standing, standings } from '@/core/grading/standing';
import { database } from '@/records/database';
import { notedWith } from '@/records/notes';
import { judgedWorkshop } from '@/workshop/judged';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { pageOf } from '@/stations/address';
import { modelName } from '@/core/judging/models';
import { thinned } from '@/ui/thinned';
import { cellOfCode } from '@/core/judging/shelf';
import { counted } from '@/words/counted';
import { dutyNames } from '@/ui/DutyMark';
import { StandingMark } from '@/ui/StandingMark';
import { Pages } from '@/ui/Pages';
import { PlusMinus } from '@/ui/PlusMinus';
import Link from 'next/link';
import { CellSlip } from './CellSlip';
import { matches, readQuery } from './query';
import { ShelfBar } from './ShelfBar';
import { type MapPoint, ShelfMap } from './ShelfMap';
import { sortCells, sortKeyOf, ShelfTable } from './ShelfTable';
import { ShelfTray } from './ShelfTray';

export interface ShelfParameters {
  view?: string;
  q?: string;
  model?: string;
  cell?: string;
  sort?: string;
  page?: string;
}

const views = ['map', 'tray', 'table'] as const;
const pageSize = { map: Infinity, tray: 180, table: 60 };

/** Every cell with what it can still do: as a map, a tray or a table. */
export async function ShelfPage(given: ShelfParameters) {
  const workshop = await judgedWorkshop();
  const { rules, cells } = workshop;
  const view = views.find((one) => one === given.view) ?? 'map';
  const read = readQuery(given.q ?? '');
  const shelved = cells.filter((cell) => cell.intake.class !== null && !cell.putAway);
  const noted =
    read.ok && read.query.note !== undefined ? new Set(await notedWith(database(), read.query.note)) : undefined;
  const found = read.ok ? shelved.filter((cell) => matches(cell, read.query, noted)) : shelved;
  const page = pageOf(given.page);
  const sort = sortKeyOf(given.sort);
  const models = view === 'map' ? modelsOf(found) : [];
  const counts = countByStanding(found);
  const inBuilds = found.filter((cell) => cell.waits === 'build').length;
  const doubtful = again(found);
  const model = models.find((one) => one.name === given.model) ?? models[0];
  const chosen = given.cell === undefined ? null : cellOfCode(workshop, String(given.cell).toUpperCase());
  const href = (change: ShelfParameters) =>
    `/shelf?${new URLSearchParams(Object.entries({ ...given, ...change }).filter(([, value]) => value))}`;
  const sorted = view === 'table' && sort !== 'code' ? sortCells(found, sort) : found;
  const shown = Number.isFinite(pageSize[view])
    ? sorted.slice((page - 1) * pageSize[view], page * pageSize[view])
    : sorted;

  return (
    <>
      <div className="head">
        <h1>Shelf</h1>
        <span className="soft">
          {found.length} of {counted(shelved.length, 'cell')} · house rules{' '}
          <b style={{ color: 'var(--ink)' }}>{rules.name}</b>
          {given.q && (
            <>
              {' '}
              · only <b style={{ color: 'var(--ink)' }}>{given.q}</b>{' '}
              <Link href={href({ q: '', page: '' })}>show all</Link>
            </>
          )}
        </span>
        <nav className="end tabs" aria-label="View">
          {views.map((one) => (
            <Link key={one} href={href({ view: one, page: '' })} aria-current={one === view ? 'true' : undefined}>
              {{ map: 'Map', tray: 'Tray', table: 'Table' }[one]}
            </Link>
          ))}
        </nav>
      </div>
      {!read.ok && <p className="ask">{read.said}</p>}
      {found.length === 0 ? (
        <div className="sheet empty">
          <p>
            {cells.length === 0
              ? 'The shelf is empty. It fills as cells are taken in, measured and discharged.'
              : 'No cell is like that.'}
          </p>
          <Link href={cells.length === 0 ? '/intake' : '/shelf'}>
            {cells.length === 0 ? 'To the intake' : 'Show all'}
          </Link>
        </div>
      ) : (
        <div className={view === 'table' ? 'stack reversed' : 'cols'}>
          <section aria-label={view}>
            {view === 'map' && model && (
              <div className="sheet">
                <nav className="tabs d-flex gap-3 flex-wrap mb-1" aria-label="Model">
                  {models.map((one) => (
                    <Link
                      key={one.name}
                      href={href({ model: one.name })}
                      aria-current={one === model ? 'true' : undefined}
                    >
                      {one.name}
                    </Link>
                  ))}
                </nav>
                <ShelfMap
                  cells={pointsOf(model.cells)}
                  rated={model.rated}
                  nominalV={model.nominalV}
                  limits={rules.limits}
                  chosen={chosen?.code ?? null}
                />
              </div>
            )}
            {view === 'tray' && <ShelfTray cells={shown} />}
            {view === 'table' && <ShelfTable cells={shown} href={(by) => href({ sort: by, page: '' })} sort={sort} />}
            {view !== 'map' && (
              <Pages page={page} total={found.length} size={pageSize[view]} href={(to) => href({ page: String(to) })} />
            )}
          </section>
          <div className={view === 'table' ? 'cols wide-end' : 'stack'}>
            {chosen && <CellSlip cell={chosen} />}
            <section className="sheet" aria-label="By duty">
              <h2>By duty</h2>
              <div className={view === 'table' ? 'd-flex flex-wrap column-gap-4' : ''}>
                {standings.map((standing) => (
                  <div key={standing} className="d-flex align-items-center gap-2 py-1">
                    <Link href={href({ q: standing, page: '' })} className="text-reset">
                      <StandingMark of={standing} named />
                    </Link>
                    <b className="num ms-auto">{counts.get(standing) ?? 0}</b>
                  </div>
                ))}
              </div>
              {inBuilds > 0 && <p className="soft mb-0">{inBuilds} of them in builds.</p>}
            </section>
            {doubtful.length > 0 && (
              <section className="sheet" aria-label="Measure again">
                <h2>Measure again</h2>
                <p className="soft mb-1">These are kept from a better duty by doubt alone.</p>
                {doubtful.slice(0, 8).map((cell) => (
                  <div key={cell.code}>
                    <Link className="num" href={`/cells/${cell.code}`} prefetch={false}>
                      {cell.code}
                    </Link>{' '}
                    {cell.duty.measureAgain?.what}, may be{' '}
                    {cell.duty.measureAgain && dutyNames[cell.duty.measureAgain.duty]}
                  </div>
                ))}
              </section>
            )}
          </div>
        </div>
      )}
      {(view === 'table' || chosen) && found.length > 0 && <PlusMinus />}
      <ShelfBar view={view} model={given.model ?? ''} />
    </>
  );
}

/** Thousands of cells are gone through once. */
function countByStanding(cells: readonly JudgedCell[]): Map<Standing, number> {
  const counts = new Map<Standing, number>();
  for (const { standing } of cells) counts.set(standing, (counts.get(standing) ?? 0) + 1);
  return counts;
}

const again = (cells: JudgedCell[]) =>
  cells.filter((cell) => cell.duty.measureAgain !== null && cell.waits === 'shelf');

/** What has a place on the map; a least capacity has none. */
const graded = (cell: JudgedCell): boolean =>
  cell.capacity !== null && !cell.capacityIsAtLeast && cell.resistance !== null;

function modelsOf(cells: JudgedCell[]) {
  const models = new Map<string, { name: string; rated: number; nominalV: number; cells: JudgedCell[] }>();
  for (const cell of cells.filter(graded)) {
    const name = modelName(cell);
    const model = models.get(name) ?? {
      name,
      rated: cell.ratedCapacityAh,
      nominalV: chemistries[cell.chemistry].nominalV,
      cells: [],
    };
    model.cells.push(cell);
    models.set(name, model);
  }
  return [...models.values()].sort((a, b) => b.cells.length - a.cells.length);
}

const pointsOf = (cells: readonly JudgedCell[]): MapPoint[] =>
  thinned(
    cells.map((cell) => ({
      x: cell.capacity?.value ?? 0,
      y: (cell.resistance?.value ?? 0) * 1000,
      code: cell.code,
      duty: cell.duty.duty,
    })),
    ({ duty }) => duty ?? '',
  ).map(({ x, y, ...point }) => ({ ...point, ah: x, milliohm: y }));
