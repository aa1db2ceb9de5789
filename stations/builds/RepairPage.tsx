import type { JudgedPack } from '@/core/judging/judgePack';
import { sparesFor } from '@/core/judging/candidates';
import { isPack } from '@/core/judging/subject';
import { type Fit, fitsOf, type Spare } from '@/core/matching/repair';
import { display, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { buildById } from '@/records/builds';
import { database } from '@/records/database';
import { RuleLink } from '@/stations/RuleLink';
import { Link } from '@/ui/Link';
import { PlusMinus } from '@/ui/PlusMinus';
import { addressOf } from '@/ui/tokens';
import { counted } from '@/words/counted';
import { volts } from '@/words/figures';
import { subjectNamed } from '@/workshop/judged';
import { median } from 'simple-statistics';
import { notFound } from 'next/navigation';
import { GoBar } from '../frame/GoBar';
import { type Mend, MendForm } from './MendForm';
import { cellsByGroup } from './groupsOfBuild';
import { knownGroups, type KnownGroup, neighbourOf } from './knownGroups';

interface RepairPageProps {
  code: string;
  /** From the negative terminal. */
  group: string | undefined;
  /** The one cell that leaves it; none: the whole group is replaced. */
  out: string | undefined;
}

/** Which spares fit a group of a pack, what the pack would be with them, and what is not known yet. */
export async function RepairPage({ code, group, out }: RepairPageProps) {
  const { subject: pack, workshop } = await subjectNamed(code.toUpperCase());
  if (!pack || !isPack(pack) || pack.apart !== null) notFound();
  const positions = positionsOf(group, pack.series);
  const [position = 1] = positions;
  const build = pack.buildId === null ? null : await buildById(database(), pack.buildId);
  const cellsOf = cellsByGroup(build, pack.series, workshop.cells);
  const groups = knownGroups(pack, cellsOf);
  const own = positions.length === 1 ? (cellsOf[position - 1] ?? []) : [];
  const leaving = own.find((cell) => cell.code === out?.toUpperCase()) ?? null;
  const kept = leaving === null ? [] : own.filter((cell) => cell !== leaving);
  const spares = sparesFor(pack, workshop.cells, cellsOf[position - 1]);
  const neighbourOhm = neighbourOf(pack, cellsOf, positions);
  const fits = fitsOf({
    others: groups.filter((_, g) => !positions.includes(g + 1)).map(({ capacity }) => capacity),
    kept: kept.flatMap(({ capacity, resistance }) => (capacity && resistance ? [{ capacity, resistance }] : [])),
    places: leaving === null ? pack.parallel : 1,
    groups: positions.length,
    neighbourOhm,
    spares,
    sharingTimes: workshop.rules.limits.sharingTimes,
  });
  const hrefOf = (some: readonly number[], cell?: string): string =>
    `/builds/repair/${pack.code}?group=${some.join(',')}${cell === undefined ? '' : `&out=${cell}`}`;
  const mends = (fit: Fit): Mend[] =>
    fit.groups.map((one, i) => ({
      position: positions[i] ?? position,
      takenOut: leaving
        ? [leaving.code]
        : (cellsOf[(positions[i] ?? position) - 1] ?? []).map(({ code: gone }) => gone),
      putIn: one.spares.map(({ id }) => id),
    }));
  return (
    <>
      <div className="head">
        <h1>
          <Link href={addressOf(pack.code)}>{pack.name}</Link> · spares for {groupsText(positions)}
        </h1>
        <span className="soft">
          {leaving
            ? `in the place of ${leaving.code}`
            : `made again, ${counted(pack.parallel * positions.length, 'cell')}`}
        </span>
      </div>
      <section className="sheet lead-ember mb-3" aria-label="Spares">
        <Answer fit={fits[0] ?? null} spares={spares.length} />
        {fits.length > 0 && <Fits fits={fits} positions={positions} />}
        <p className="soft mt-2 mb-0">
          {bringText(groups, positions, kept.length > 0)} <RuleLink rule="joinWithinV" />
        </p>
      </section>
      <div className="cols">
        <section className="sheet" aria-label="Readings of its groups">
          <h2>Readings of its groups</h2>
          <Groups groups={groups} positions={positions} hrefOf={hrefOf} />
          <PlusMinus />
        </section>
        <div className="stack">
          {own.length > 0 && pack.parallel > 1 && (
            <section className="sheet" aria-label="One cell of it">
              <h2>One cell of it</h2>
              <p className="mb-0">
                {own.map((cell) => (
                  <Link key={cell.code} className="num me-2" href={hrefOf(positions, cell.code)}>
                    {cell.code}
                  </Link>
                ))}
                <Link href={hrefOf(positions)}>or the whole group</Link>
              </p>
            </section>
          )}
          {fits[0] && (
            <section className="sheet" aria-label="It is mended">
              <h2>It is mended</h2>
              <MendForm pack={pack.code} choices={fits.map(mends)} />
            </section>
          )}
          <section className="sheet" aria-label="Worth measuring first">
            <h2>Worth measuring first</h2>
            <Worth pack={pack} groups={groups} hasCells={own.length > 0} neighbourOhm={neighbourOhm} />
          </section>
        </div>
      </div>
      <GoBar placeholder="PF1 opens a pack" />
    </>
  );
}

/** Groups of an address such as `3` or `3,5`, from the negative terminal; never all of them. */
function positionsOf(text: string | undefined, series: number): number[] {
  const positionsIn = (text ?? '').split(',').map((one) => Math.round(Number(one)));
  const there = [...new Set(positionsIn)].filter((one) => one >= 1 && one <= series).sort((a, b) => a - b);
  return there.length === 0 ? [1] : there.slice(0, Math.max(1, series - 1));
}

const groupsText = (positions: readonly number[]): string =>
  `group${positions.length === 1 ? '' : 's'} ${positions.join(' and ')}`;

function Answer({ fit, spares }: { fit: Fit | null; spares: number }) {
  if (fit === null)
    return (
      <p className="headline mb-0">
        {spares === 0
          ? 'No free cell of this chemistry and rated capacity is on the shelf.'
          : 'The spares there are do not fill it: welded ones stay together.'}
      </p>
    );
  const all = sparesIn(fit);
  const who = all.length <= 2 ? all.map(({ id }) => id).join(' and ') : `The ${all.length} of the first row`;
  if (fit.short !== null) return <p className="headline">None fits well. Nearest: {who}</p>;
  return (
    <p className="headline">
      {who} {all.length === 1 ? 'fits' : 'fit'}
      {fit.packAh && `: the pack would hold ${formatQuantity(fit.packAh, display.capacity)}`}
    </p>
  );
}

const shortTexts = { capacity: '◆ holds too little', resistance: '◆ resists unlike its neighbours' };

const sparesIn = ({ groups }: Fit): Spare[] => groups.flatMap((group) => group.spares);

const Fits = ({ fits, positions }: { fits: readonly Fit[]; positions: readonly number[] }) => (
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
        {fits.map(({ groups, packAh, ohmTimes, short }) => (
          <tr key={groups[0]?.spares.map(({ id }) => id).join()} className={short === null ? '' : 'soft'}>
            <td>
              {groups.map(({ spares }, i) => (
                <div key={positions[i]}>
                  {groups.length > 1 && `Group ${positions[i]}: `}
                  {spares.map(({ id }) => (
                    <Link key={id} className="num fw-bold me-2 touch" href={`/cells/${id}`}>
                      {id}
                    </Link>
                  ))}
                </div>
              ))}
            </td>
            <td>{short === null ? 'fits' : shortTexts[short]}</td>
            <td className="num" data-label="The group">
              {groups.map(({ capacity }, i) => (
                <div key={positions[i]}>{capacity ? formatQuantity(capacity, display.capacity) : 'not known'}</div>
              ))}
            </td>
            <td className="num" data-label="The pack">
              {packAh ? formatQuantity(packAh, display.capacity) : 'not known'}
            </td>
            <td className="num" data-label="Resists">
              {ohmTimes === null ? 'not known' : `${ohmTimes.toFixed(2)} × its neighbours`}
            </td>
            <td className="num" data-label="Stands at">
              {spanText(groups.flatMap((group) => group.spares))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);

/** Their rested voltages, from the lowest to the highest. */
function spanText(spares: readonly Spare[]): string {
  const read = spares.flatMap(({ voltageV }) => voltageV ?? []);
  if (read.length < spares.length) return 'not all read';
  const [lowest, highest] = [Math.min(...read), Math.max(...read)];
  return lowest === highest ? volts(lowest) : `${lowest.toFixed(3)} to ${volts(highest)}`;
}

/** To which voltage they are brought first: that of the cells they join, else that of the other groups. */
function bringText(groups: readonly KnownGroup[], positions: readonly number[], joins: boolean): string {
  const own = groups[(positions[0] ?? 1) - 1]?.voltageV ?? null;
  const others = groups.flatMap(({ voltageV }, g) => (positions.includes(g + 1) ? [] : (voltageV ?? [])));
  const towardsV = joins ? own : null;
  const among = others.length > 0 ? median(others) : null;
  const to = towardsV ?? among;
  if (to === null) return 'Measure its groups at rest. Bring the spares to their voltage before you join them.';
  const like = joins ? 'the cells beside it' : 'the other groups';
  return `Bring each to ${volts(to)} before it is joined, as ${like} were at the last reading.`;
}

function Groups({
  groups,
  positions,
  hrefOf,
}: {
  groups: readonly KnownGroup[];
  positions: readonly number[];
  hrefOf(some: readonly number[]): string;
}) {
  const together = (g: number): number[] =>
    positions.includes(g) ? positions.filter((one) => one !== g) : [...positions, g].sort((a, b) => a - b);
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
            <tr key={g} className={positions.includes(g + 1) ? 'odd-one' : ''}>
              <td className="text-nowrap">
                <Link
                  className="touch me-2"
                  href={hrefOf([g + 1])}
                  aria-current={positions.includes(g + 1) ? 'true' : undefined}
                >
                  {g + 1}
                </Link>
                {together(g + 1).length > 0 && together(g + 1).length < groups.length && (
                  <Link className="touch rule-key" href={hrefOf(together(g + 1))}>
                    {positions.includes(g + 1) ? `${g + 1} stays` : `${g + 1} as well`}
                  </Link>
                )}
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
          A discharge logged by group gives the capacity of each:{' '}
          <Link href={`/capacity?subject=${pack.code}`}>import one</Link>.
        </li>
      )}
      {neighbourOhm === null && (
        <li>
          Its ten-second resistance gives the resistance of its cells:{' '}
          <Link href="/resistance">a round over packs</Link>.
        </li>
      )}
      {isUnread && <li>Its groups at rest, in the bar of its page.</li>}
      {!hasCells && pack.parallel > 1 && (
        <li>Its cells one by one, once the group is open: a single bad one is enough to replace.</li>
      )}
      {!isUnknown && !isUnread && neighbourOhm !== null && hasCells && (
        <li>Nothing more. Measure the voltages again when you join them.</li>
      )}
    </ul>
  );
}
