import { display, formatFigure } from '@/core/quantity/format';
import Link from 'next/link';
import { sharesOfDrop } from '@/core/resistance/uses';

interface Group {
  codes: string[];
  capacityAh: number;
  resistanceOhm: number;
}

interface GroupTableProps {
  groups: Group[];
  /** Where the same match is without that cell. */
  without?: (code: string) => string;
}

/** Groups from the negative end, with how far each stands above the weakest and its share of the pack's drop. */
export function GroupTable({ groups, without }: GroupTableProps) {
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
              {group.codes.map((code) => (
                <span key={code} className="text-nowrap me-2">
                  {code}
                  {without && (
                    <Link href={without(code)} className="btn btn-quiet btn-sm px-1" aria-label={`Match without ${code}`} title={`Match without ${code}`} prefetch={false}>
                      ✕
                    </Link>
                  )}
                </span>
              ))}
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
