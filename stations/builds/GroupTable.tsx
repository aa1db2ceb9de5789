import { groupName } from '@/words/packs';
import type { GroupFigures } from '@/core/matching/groupFigures';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { sharesOfDrop } from '@/core/resistance/uses';
import Link from 'next/link';

export interface Group extends GroupFigures {
  codes: string[];
}

interface GroupTableProps {
  groups: Group[];
  /** Where the same match is without that cell. */
  without?: (code: string) => string;
}

/** Groups from the negative end, with how far each stands above the weakest and its share of the pack's drop. */
export function GroupTable({ groups, without }: GroupTableProps) {
  const weakest = groups.reduce(
    (least, group) => (group.capacity.value < least.capacity.value ? group : least),
    groups[0] as Group,
  );
  const shares = sharesOfDrop(groups.map((group) => group.resistance.value));
  const above = ({ capacity }: Group): string => {
    const moreAh = capacity.value - weakest.capacity.value;
    return moreAh < capacity.u + weakest.capacity.u
      ? 'as the weakest, within ±'
      : `${formatFigure(moreAh, display.milliCapacity)} above the weakest`;
  };
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            <th>Group</th>
            <th>Cells</th>
            <th className="num">Capacity</th>
            <th className="num">Resistance</th>
          </tr>
        </thead>
        <tbody>
          {groups.map((group, i) => (
            <tr key={group.codes.join()}>
              <td className="num fw-bold">{groupName(i + 1, groups.length)}</td>
              <td className="num" style={{ textAlign: 'left', whiteSpace: 'normal' }}>
                {group.codes.map((code) => (
                  <span key={code} className="text-nowrap me-2">
                    {code}
                    {without && (
                      <Link
                        href={without(code)}
                        className="btn btn-quiet btn-sm px-1"
                        aria-label={`Match without ${code}`}
                        title={`Match without ${code}`}
                        prefetch={false}
                      >
                        ✕
                      </Link>
                    )}
                  </span>
                ))}
              </td>
              <td className="num">
                {formatQuantity(group.capacity, display.capacity)}
                <br />
                {group === weakest ? (
                  <b className="hot">◆ weakest</b>
                ) : (
                  <span className="soft text-wrap">{above(group)}</span>
                )}
              </td>
              <td className="num">
                {formatQuantity(group.resistance, display.resistance)}
                <br />
                <span className="soft text-wrap">{formatFigure(shares[i] ?? NaN, display.share)} of the drop</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
