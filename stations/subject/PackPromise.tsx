import type { HouseRules } from '@/core/chemistry/houseRules';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { packFigures } from '@/core/matching/groupFigures';
import { firstOfTheseCells, heldAgainstPromise } from '@/core/packs/promise';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { RuleLink } from '@/stations/RuleLink';
import { When } from '@/ui/When';
import type { BuildWithCells } from '@/records/builds';
import { Link } from '@/ui/Link';
import { groupsOfBuild } from '../builds/groupsOfBuild';

interface PackPromiseProps {
  pack: JudgedPack;
  build: BuildWithCells;
  cells: readonly JudgedCell[];
  rules: HouseRules;
}

/** What the match promised of a welded pack, group by group, and its first readings beside it. */
export function PackPromise({ pack, build, cells, rules }: PackPromiseProps) {
  const groups = groupsOfBuild(build, cells);
  const { capacity } = packFigures(groups);
  const first = firstOfTheseCells(pack.resistanceTimes, pack.series, pack.mends);
  const promised = groups.map(({ resistance }) => resistance?.value ?? null);
  const held = first ? heldAgainstPromise(promised, first, rules) : null;
  const outliers = held?.filter(({ isOdd }) => isOdd) ?? [];
  return (
    <section className={`sheet mb-3 ${outliers.length > 0 ? 'lead-ember' : ''}`} aria-label="What the match promised">
      <h2>
        What the match promised · <Link href={`/builds/${build.id}`}>build {build.id}</Link>
      </h2>
      {!first && pack.series > 1 && (
        <p>Measure the resistance of each group once. The difference from the prediction shows a bad joint.</p>
      )}
      {outliers.map(({ position, beyond }) => (
        <p key={position} className="hot" style={{ fontWeight: 700 }}>
          ◆ Group {position} has {beyond.toFixed(2)} times what its cells promised beside the others: look at its joints
          first. <RuleLink rule="groupResistanceWatch" />
        </p>
      ))}
      {held && outliers.length === 0 && <p style={{ fontWeight: 700 }}>Its groups are to each other as promised.</p>}
      <div className="table-scroll" tabIndex={0}>
        <table className="table">
          <thead>
            <tr>
              <th>Group</th>
              <th>Cells</th>
              <th className="num">Promised</th>
              <th className="num">Promised, 10 s</th>
              <th className="num">{first ? <When at={first.takenAt} as="d MMM yyyy" /> : 'Read first'}</th>
              <th className="num">Times expected</th>
            </tr>
          </thead>
          <tbody>
            {groups.map((group, i) => (
              <tr key={group.codes.join()} className={held?.[i]?.isOdd ? 'odd-one' : ''}>
                <td className="num">{i + 1}</td>
                <td>
                  {group.codes.map((code) => (
                    <Link key={code} className="num me-2" href={`/cells/${code}`}>
                      {code}
                    </Link>
                  ))}
                </td>
                <td className="num">{group.capacity ? formatQuantity(group.capacity, display.capacity) : '–'}</td>
                <td className="num">{group.resistance ? formatQuantity(group.resistance, display.resistance) : '–'}</td>
                <td className="num">
                  {first?.groups[i] ? formatQuantity(first.groups[i].resistance, display.resistance) : '–'}
                </td>
                <td className="num">{held?.[i] ? `${held[i].beyond.toFixed(2)} ×` : '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="soft mb-0">
        {capacity && `Capacity by its weakest group ${formatFigure(capacity.value, display.capacity, 2)}. `}
        The ratio of each group to its promise is compared with the others, so the method may differ from that of the
        cells.
      </p>
    </section>
  );
}
