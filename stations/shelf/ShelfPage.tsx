import { groupedBy } from '@/core/grouped';
import { comparableOhmAh } from '@/core/resistance/uses';
import { chemistries, type Chemistry } from '@/core/chemistry/chemistries';
import { type Status, statuses } from '@/core/grading/status';
import { database } from '@/records/database';
import { notedWith } from '@/records/notes';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { isPack, type JudgedSubject } from '@/core/judging/subject';
import { addressOf } from '@/ui/tokens';
import { pageOf } from '@/stations/address';
import { thinned } from '@/ui/thinned';
import { cellOfCode } from '@/core/judging/shelf';
import { Link } from '@/ui/Link';
import { counted } from '@/words/counted';
import { dutyNames } from '@/words/duty';
import { StatusMark } from '@/ui/StatusMark';
import { Pages } from '@/ui/Pages';
import { PlusMinus } from '@/ui/PlusMinus';
import { matches, readQuery } from './query';
import { ShelfBar } from './ShelfBar';
import { type MapPoint, ShelfMap } from './ShelfMap';
import { ShelfTable, sortKeyOf, sortSubjects } from './ShelfTable';
import { ShelfTray } from './ShelfTray';
import { SubjectSlip } from './SubjectSlip';

export interface ShelfParameters {
  view?: string;
  q?: string;
  chemistry?: string;
  cell?: string;
  sort?: string;
  page?: string;
}

const views = ['map', 'tray', 'table'] as const;
const pageSize = { map: Infinity, tray: 180, table: 60 };

/** Every cell and pack with what it can still do: as a map, a tray or a table. */
export async function ShelfPage(given: ShelfParameters) {
  const workshop = await judgedWorkshop();
  const { rules } = workshop;
  const packs = await judgedPacks(workshop);
  const view = views.find((one) => one === given.view) ?? 'map';
  const read = readQuery(given.q ?? '');
  const shelved: JudgedSubject[] = [
    ...packs.filter(({ intake, apart }) => intake.class !== null && apart === null),
    ...workshop.cells.filter(({ intake, putAway }) => intake.class !== null && !putAway),
  ];
  const noted =
    read.ok && read.query.note !== undefined ? new Set(await notedWith(database(), read.query.note)) : undefined;
  const found = read.ok ? shelved.filter((one) => matches(one, read.query, noted)) : shelved;
  const page = pageOf(given.page);
  const sort = sortKeyOf(given.sort);
  const maps = view === 'map' ? mapsOf(found) : [];
  const counts = countByStatus(found);
  const inBuilds = found.filter(({ waits }) => waits === 'build').length;
  const suspects = again(found);
  const map = maps.find(({ chemistry }) => chemistry === given.chemistry) ?? maps[0];
  const code = String(given.cell ?? '').toUpperCase();
  const chosen = packs.find((pack) => pack.code === code) ?? cellOfCode(workshop, code);
  const href = (change: ShelfParameters) =>
    `/shelf?${new URLSearchParams(Object.entries({ ...given, ...change }).filter(([, value]) => value))}`;
  const sorted = view === 'table' && sort !== 'code' ? sortSubjects(found, sort) : found;
  const shown = Number.isFinite(pageSize[view])
    ? sorted.slice((page - 1) * pageSize[view], page * pageSize[view])
    : sorted;

  return (
    <>
      <div className="head">
        <h1>Shelf</h1>
        <span className="soft">
          {found.length} of {counted(shelved.length, 'cell or pack', 'cells and packs')} · house rules{' '}
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
            {shelved.length === 0
              ? 'The shelf is empty. It fills as cells and packs are taken in, measured and discharged.'
              : 'Nothing on the shelf is like that.'}
          </p>
          <Link href={shelved.length === 0 ? '/intake' : '/shelf'}>
            {shelved.length === 0 ? 'To the intake' : 'Show all'}
          </Link>
        </div>
      ) : (
        <div className={view === 'table' ? 'stack reversed' : 'cols'}>
          <section aria-label={view}>
            {view === 'map' && map && (
              <div className="sheet">
                <nav className="tabs d-flex gap-3 flex-wrap mb-1" aria-label="Chemistry">
                  {maps.map(({ chemistry, placed }) => (
                    <Link
                      key={chemistry}
                      href={href({ chemistry })}
                      aria-current={chemistry === map.chemistry ? 'true' : undefined}
                    >
                      {chemistries[chemistry].name} · <span className="num">{placed.length}</span>
                    </Link>
                  ))}
                </nav>
                <ShelfMap
                  points={pointsOf(map.placed)}
                  nominalV={chemistries[map.chemistry].nominalV}
                  limits={rules.limits}
                  chosen={chosen?.code ?? null}
                />
              </div>
            )}
            {view === 'map' && !map && (
              <p className="sheet empty">None of these has a place on the map yet: it takes capacity and resistance.</p>
            )}
            {view === 'tray' && <ShelfTray subjects={shown} />}
            {view === 'table' && (
              <ShelfTable subjects={shown} href={(by) => href({ sort: by, page: '' })} sort={sort} />
            )}
            {view !== 'map' && (
              <Pages page={page} total={found.length} size={pageSize[view]} href={(to) => href({ page: String(to) })} />
            )}
          </section>
          <div className={view === 'table' ? 'cols wide-end' : 'stack'}>
            {chosen && <SubjectSlip subject={chosen} />}
            <section className="sheet" aria-label="By duty">
              <h2>By duty</h2>
              <div className={view === 'table' ? 'd-flex flex-wrap column-gap-4' : ''}>
                {statuses.map((standing) => (
                  <div key={standing} className="d-flex align-items-center gap-2 py-1">
                    <Link href={href({ q: standing, page: '' })} className="text-reset">
                      <StatusMark of={standing} named />
                    </Link>
                    <b className="num ms-auto">{counts.get(standing) ?? 0}</b>
                  </div>
                ))}
              </div>
              {inBuilds > 0 && <p className="soft mb-0">{inBuilds} of them in builds.</p>}
            </section>
            {suspects.length > 0 && (
              <section className="sheet" aria-label="Measure again">
                <h2>Measure again</h2>
                <p className="soft mb-1">Only their uncertainty keeps these from a better duty.</p>
                {suspects.slice(0, 8).map(({ code, duty: { measureAgain } }) => (
                  <div key={code}>
                    <Link className="num" href={addressOf(code)}>
                      {code}
                    </Link>{' '}
                    {measureAgain?.what}, may be {measureAgain && dutyNames[measureAgain.duty]}
                  </div>
                ))}
              </section>
            )}
          </div>
        </div>
      )}
      {(view === 'table' || chosen) && found.length > 0 && <PlusMinus />}
      <ShelfBar view={view} chemistry={given.chemistry ?? ''} packs={packs.map((pack) => pack.code)} />
    </>
  );
}

/** Thousands of cells are gone through once. */
function countByStatus(subjects: readonly JudgedSubject[]): Map<Status, number> {
  const counts = new Map<Status, number>();
  for (const { standing } of subjects) counts.set(standing, (counts.get(standing) ?? 0) + 1);
  return counts;
}

const again = (subjects: readonly JudgedSubject[]) =>
  subjects.filter(({ duty, waits }) => duty.measureAgain !== null && waits === 'shelf');

/** What has a place on the map; a least capacity has none. */
interface MapSubject {
  subject: JudgedSubject;
  health: number;
  ohmAh: number;
}

const placeOf = (subject: JudgedSubject): MapSubject[] =>
  subject.capacity && subject.duty.health && !subject.capacityIsAtLeast && subject.resistance
    ? [
        {
          subject,
          health: subject.duty.health.value,
          ohmAh: comparableOhmAh(subject.resistance, subject.capacity.value).value,
        },
      ]
    : [];

/** A map for each chemistry, since the borders follow its nominal voltage; that with the most on it first. */
function mapsOf(subjects: readonly JudgedSubject[]): { chemistry: Chemistry; placed: MapSubject[] }[] {
  return [...groupedBy(subjects.flatMap(placeOf), ({ subject }) => subject.chemistry)]
    .map(([chemistry, placed]) => ({ chemistry, placed }))
    .sort((one, other) => other.placed.length - one.placed.length);
}

/** Packs are few and have each a point of their own. */
const pointsOf = (placed: readonly MapSubject[]): MapPoint[] =>
  thinned(
    placed.map(({ subject, health, ohmAh }) => ({
      x: health,
      y: ohmAh,
      code: subject.code,
      isPack: isPack(subject),
      duty: subject.duty.duty,
    })),
    ({ duty, code, isPack: alone }) => (alone ? code : (duty ?? '')),
  ).map(({ x, y, ...point }) => ({ ...point, health: x, milliohmAh: y * 1000 }));
