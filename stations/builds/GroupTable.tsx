import { display, formatFigure } from '@/core/quantity/format';
import { sharesOfDrop } from '@/core/resistance/uses';

interface Group {
  codes: string[];
  capacityAh: number;
  resistanceOhm: number;
}

/** Groups from the negative end, with how far each stands above the weakest and its share of the pack's drop. */
export function GroupTable({ groups }: { groups: Group[] }) {
  const weakest = Math.min(...groups.map((group) => group.capacityAh));
  const shares = sharesOfDrop(groups.map((group) => group.resistanceOhm));
  return (
    <div className="table-scroll" tabIndex={0}><table className="table">
      <thead>
        <tr>
          <th>Group</th>
          <th>Cells</th>
          <th className="num">Capacity</th>
          <th className="num">Above the weakest</th>
          <th className="num">Resistance</th>
          <th className="num">Share of the drop</th>
        </tr>
      </thead>
      <tbody>
        {groups.map((group, i) => (
          <tr key={group.codes.join()}>
            <td className="num fw-bold">
              {i + 1}
              {i === 0 ? ' −' : i === groups.length - 1 ? ' +' : ''}
            </td>
            <td className="num" style={{ textAlign: 'left' }}>
              {group.codes.join('  ')}
            </td>
            <td className="num">{formatFigure(group.capacityAh, display.capacity)}</td>
            <td className="num">{group.capacityAh === weakest ? <b className="hot">weakest</b> : formatFigure(group.capacityAh - weakest, display.milliCapacity, 1)}</td>
            <td className="num">{formatFigure(group.resistanceOhm, display.resistance)}</td>
            <td className="num">{formatFigure(shares[i] ?? NaN, display.share)}</td>
          </tr>
        ))}
      </tbody>
    </table></div>
  );
}
