import type { JudgedPack } from '@/core/judging/judgePack';
import { sparesFor } from '@/core/judging/candidates';
import { isPack } from '@/core/judging/subject';
import { type Fit, fitsOf, type Spare } from '@/core/matching/repair';
import { display, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { buildById } from '@/records/builds';
import { database } from '@/records/database';
import { RuleLink } from '@/stations/RuleLink';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { counted } from '@/words/counted';
import { volts } from '@/words/figures';
import { subjectNamed } from '@/workshop/judged';
import { median } from 'simple-statistics';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { cellsByGroup } from './groupsOfBuild';
import { knownGroups, type KnownGroup, neighbourOf } from './knownGroups';

interface RepairPageProps {
  code: string;
  /** From the black lead. */
  group: string | undefined;
  /** The one cell that leaves it; none: the whole group is made anew. */
  out: string | undefined;
}

/** Which spares fit a group of a pack, what the pack would be with them, and what is not known yet. */
export async function RepairPage({ code, group, out }: RepairPageProps) {
  const { subject: pack, workshop } = await subjectNamed(code.toUpperCase());
  if (!pack || !isPack(pack) || pack.apart !== null) notFound();
  const position = Math.min(pack.series, Math.max(1, Math.round(Number(group)) || 1));
  const build = pack.buildId === null ? null : await buildById(database(), pack.buildId);
  const cellsOf = cellsByGroup(build, pack.series, workshop.cells);
  const groups = knownGroups(pack, cellsOf);
  const own = cellsOf[position - 1] ?? [];
  const leaving = own.find((cell) => cell.code === out?.toUpperCase()) ?? null;
  const kept = leaving === null ? [] : own.filter((cell) => cell !== leaving);
  const spares = sparesFor(pack, workshop.cells);
  const fits = fitsOf({
    others: groups.filter((_, g) => g !== position - 1).map(({ capacity }) => capacity),
    kept: kept.flatMap(({ capacity, resistance }) => (capacity && resistance ? [{ capacity, resistance }] : [])),
    places: leaving === null ? pack.parallel : 1,
    neighbourOhm: neighbourOf(pack, cellsOf, position),
    spares,
    sharingTimes: workshop.rules.limits.sharingTimes,
  });
  const hrefOf = (g: number, cell?: string): string =>
    `/builds/repair/${pack.code}?group=${g}${cell === undefined ? '' : `&out=${cell}`}`;
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(pack.code)}>{pack.name}</Link> · spares for group {position}
        </h1>
        <span className="soft">
          {leaving ? `in the place of ${leaving.code}` : `the whole group, ${counted(pack.parallel, 'cell')}`}
        </span>
      </div>
      <section className="sheet lead-ember mb-3" aria-label="Spares">
        <Answer fit={fits[0] ?? null} spares={spares.length} />
        {fits.length > 0 && <Fits fits={fits} />}
        <p className="soft mt-2 mb-0">
          {bringText(groups, position, kept.length > 0)} <RuleLink rule="joinWithinV" />
        </p>
      </section>
      <div className="cols">
        <section className="sheet" aria-label="What is known of its groups">
          <h2>What is known of its groups</h2>
          <Groups groups={groups} position={position} hrefOf={hrefOf} />
          <PlusMinus />
        </section>
        <div className="stack">
          {own.length > 0 && pack.parallel > 1 && (
            <section className="sheet" aria-label="One cell of it">
              <h2>One cell of it</h2>
              <p className="mb-0">
                {own.map((cell) => (
                  <Link key={cell.code} className="num me-2" href={hrefOf(position, cell.code)} prefetch={false}>
                    {cell.code}
                  </Link>
                ))}
                <Link href={hrefOf(position)} prefetch={false}>
                  or the whole group
                </Link>
              </p>
            </section>
          )}
          <section className="sheet" aria-label="Worth measuring first">
            <h2>Worth measuring first</h2>
            <Worth
              pack={pack}
              groups={groups}
              hasCells={own.length > 0}
              neighbourOhm={neighbourOf(pack, cellsOf, position)}
            />
          </section>
        </div>
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

function Answer({ fit, spares }: { fit: Fit | null; spares: number }) {
  if (fit === null)
    return (
      <p className="headline mb-0">
        {spares === 0
          ? 'No free cell of its chemistry and rated capacity lies on the shelf.'
          : 'The spares there are do not fill it: welded ones stay together.'}
      </p>
    );
  const codes = fit.spares.map(({ id }) => id).join(' and ');
  const who = fit.spares.length <= 2 ? codes : `The ${fit.spares.length} of the first row`;
  if (fit.short !== null) return <p className="headline">None fits well. Nearest: {who}</p>;
  return (
    <p className="headline">
      {who} {fit.spares.length === 1 ? 'fits' : 'fit'}
      {fit.packAh && `: the pack would hold ${formatQuantity(fit.packAh, display.capacity)}`}
    </p>
  );
}

const shortTexts = { capacity: '◆ holds too little', resistance: '◆ resists unlike its neighbours' };

const Fits = ({ fits }: { fits: readonly Fit[] }) => (
  <div className="table-scroll" tabIndex={0}>
    <table className="table stacked">
      <thead>
        <tr>
          <th>Spares</th>
          <th>Says</th>
          <th className="num">The group</th>
          <th className="num">The pack</th>
          <th className="num">Resists</th>
          <th className="num">Stands at</th>
        </tr>
      </thead>
      <tbody>
        {fits.map(({ spares, group, packAh, ohmTimes, short }) => (
          <tr key={spares.map(({ id }) => id).join()} className={short === null ? '' : 'soft'}>
            <td>
              {spares.map(({ id }) => (
                <Link key={id} className="num fw-bold me-2 touch" href={`/cells/${id}`} prefetch={false}>
                  {id}
                </Link>
              ))}
            </td>
            <td>{short === null ? 'fits' : shortTexts[short]}</td>
            <td className="num" data-label="The group">
              {group.capacity ? formatQuantity(group.capacity, display.capacity) : 'not known'}
            </td>
            <td className="num" data-label="The pack">
              {packAh ? formatQuantity(packAh, display.capacity) : 'not known'}
            </td>
            <td className="num" data-label="Resists">
              {ohmTimes === null ? 'not known' : `${ohmTimes.toFixed(2)} × its neighbours`}
            </td>
            <td className="num" data-label="Stands at">
              {spanText(spares)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);

/** Where they stand at rest, from the lowest to the highest. */
function spanText(spares: readonly Spare[]): string {
  const read = spares.flatMap(({ voltageV }) => voltageV ?? []);
  if (read.length < spares.length) return 'not all read';
  const [lowest, highest] = [Math.min(...read), Math.max(...read)];
  return lowest === highest ? volts(lowest) : `${lowest.toFixed(3)} to ${volts(highest)}`;
}

/** To which voltage they are brought first: that of the cells they join, else that of the other groups. */
function bringText(groups: readonly KnownGroup[], position: number, joins: boolean): string {
  const own = groups[position - 1]?.voltageV ?? null;
  const others = groups.flatMap(({ voltageV }, g) => (g === position - 1 ? [] : (voltageV ?? [])));
  const towardsV = joins ? own : null;
  const among = others.length > 0 ? median(others) : null;
  const to = towardsV ?? among;
  if (to === null) return 'Read its groups at rest: spares are brought to their voltage before they are joined.';
  const like = joins ? 'the cells beside it' : 'the other groups';
  return `Bring each to ${volts(to)} before it is joined, as ${like} stood when they were read last.`;
}

function Groups({
  groups,
  position,
  hrefOf,
}: {
  groups: readonly KnownGroup[];
  position: number;
  hrefOf(g: number): string;
}) {
  const figure = (value: Quantity | null, as: typeof display.capacity): string =>
    value ? formatQuantity(value, as) : 'not known';
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table mb-0">
        <thead>
          <tr>
            <th>Group</th>
            <th className="num">Holds</th>
            <th className="num">Resistance, as read</th>
            <th className="num">At rest</th>
          </tr>
        </thead>
        <tbody>
          {groups.map(({ capacity, resistance, voltageV }, g) => (
            <tr key={g} className={g === position - 1 ? 'odd-one' : ''}>
              <td>
                <Link href={hrefOf(g + 1)} aria-current={g === position - 1 ? 'true' : undefined} prefetch={false}>
                  {g + 1}
                </Link>
              </td>
              <td className="num">{figure(capacity, display.capacity)}</td>
              <td className="num">{figure(resistance, display.resistance)}</td>
              <td className="num">{voltageV === null ? 'not read' : volts(voltageV)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Worth({
  pack,
  groups,
  hasCells,
  neighbourOhm,
}: {
  pack: JudgedPack;
  groups: readonly KnownGroup[];
  hasCells: boolean;
  neighbourOhm: number | null;
}) {
  const isUnknown = groups.some(({ capacity }) => capacity === null);
  const isUnread = groups.some(({ voltageV }) => voltageV === null);
  return (
    <ul className="mb-0 ps-3">
      {isUnknown && (
        <li>
          A discharge logged group by group tells what each holds:{' '}
          <Link href={`/runs?subject=${pack.code}`}>import one</Link>.
        </li>
      )}
      {neighbourOhm === null && (
        <li>
          Its resistance after ten seconds tells what its cells resist:{' '}
          <Link href="/resistance">a round over packs</Link>.
        </li>
      )}
      {isUnread && <li>Its groups at rest, in the bar of its page.</li>}
      {!hasCells && pack.parallel > 1 && (
        <li>Its cells one by one, once the group is open: a single bad one is enough to replace.</li>
      )}
      {!isUnknown && !isUnread && neighbourOhm !== null && hasCells && (
        <li>Nothing more: read voltages again as you join them.</li>
      )}
    </ul>
  );
}
