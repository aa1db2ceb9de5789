import type { ReactNode } from 'react';

interface AsTableProps {
  /** Titles; all but the first are of figures. */
  columns: readonly string[];
  rows: readonly { key: string; odd: boolean; cells: readonly ReactNode[] }[];
}

/** What a plot shows, for those who prefer to read it. */
export const AsTable = ({ columns, rows }: AsTableProps) => (
  <details>
    <summary>As a table</summary>
    <div className="table-scroll" tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            {columns.map((title, i) => (
              <th key={title} className={i > 0 ? 'num' : undefined}>
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ key, odd, cells }) => (
            <tr key={key} className={odd ? 'odd-one' : ''}>
              {cells.map((cell, i) => (
                <td key={columns[i]} className="num">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </details>
);
