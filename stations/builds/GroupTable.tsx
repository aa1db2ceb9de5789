import { groupName } from '@/words/packs';
import { type GroupFigures, packFigures } from '@/core/matching/groupFigures';
import type { Quantity } from '@/core/quantity/quantity';
import { display, formatFigure, formatQuantity } from '@/core/quantity/format';
import { fractionsOfDrop } from '@/core/resistance/uses';

export interface Group extends GroupFigures {
  codes: string[];
  /** What its cells are, where the pack is of several models. */
  model?: string;
}

/** Groups from the negative end, with how far each is above the weakest and its part of the pack's drop. */
export function GroupTable({ groups }: { groups: Group[] }) {
  const weakest = packFigures(groups).capacity;
  const ohms = groups.flatMap(({ resistance }) => (resistance ? [resistance.value] : []));
  const fractions = ohms.length === groups.length ? fractionsOfDrop(ohms) : [];
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
                {group.codes.join(' ')}
              </td>
              <td className="num">
                {group.capacity ? formatQuantity(group.capacity, display.capacity) : 'not known'}
                <br />
                {weakest !== null && group.capacity === weakest ? (
                  <b className="hot">◆ weakest</b>
                ) : (
                  <span className="soft text-wrap">{aboveText(group.capacity, weakest)}</span>
                )}
              </td>
              <td className="num">
                {group.resistance ? formatQuantity(group.resistance, display.resistance) : 'not known'}
                <br />
                {fractions[i] !== undefined && (
                  <span className="soft text-wrap">{formatFigure(fractions[i], display.share)} of the drop</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How far a group is above the weakest one; nothing where one of the two is not known. */
function aboveText(capacity: Quantity | null, weakest: Quantity | null): string {
  if (!capacity || !weakest) return '';
  const moreAh = capacity.value - weakest.value;
  return moreAh < capacity.u + weakest.u
    ? 'as the weakest, within ±'
    : `${formatFigure(moreAh, display.milliCapacity)} above the weakest`;
}
