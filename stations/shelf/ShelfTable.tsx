import { dutyReasonText } from '@/words/duty';
import { intakeReasonText } from '@/words/intake';
import { standings } from '@/core/grading/standing';
import { display, formatQuantity } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { capacityText } from './capacityText';
import { StandingMark } from '@/ui/StandingMark';
import Link from 'next/link';

const sorters = {
  code: (a: JudgedCell, b: JudgedCell) => (a.code < b.code ? -1 : 1),
  duty: (a: JudgedCell, b: JudgedCell) => rank(a) - rank(b),
  capacity: (a: JudgedCell, b: JudgedCell) => (b.capacity?.value ?? -1) - (a.capacity?.value ?? -1),
  health: (a: JudgedCell, b: JudgedCell) => (b.duty.health?.value ?? -1) - (a.duty.health?.value ?? -1),
  resistance: (a: JudgedCell, b: JudgedCell) => (a.resistance?.value ?? Infinity) - (b.resistance?.value ?? Infinity),
  rate: (a: JudgedCell, b: JudgedCell) => (b.duty.rateC?.value ?? -1) - (a.duty.rateC?.value ?? -1),
} as const;

export type SortKey = keyof typeof sorters;

const rank = (cell: JudgedCell): number => standings.indexOf(cell.standing);

export const sortCells = (cells: readonly JudgedCell[], by: SortKey): JudgedCell[] => [...cells].sort(sorters[by]);

/** The order that an address asks for; by code where it names none. */
export const sortKeyOf = (text: string | undefined): SortKey =>
  (Object.keys(sorters) as SortKey[]).find((key) => key === text) ?? 'code';

/** Sorted with the largest first. */
const descending: SortKey[] = ['capacity', 'health', 'rate'];
const directionOf = (key: SortKey) => (descending.includes(key) ? 'descending' : 'ascending');

const columns: [SortKey, string, boolean][] = [
  ['code', 'Cell', false],
  ['duty', 'Duty, and why', false],
  ['capacity', 'Capacity', true],
  ['health', 'Health', true],
  ['resistance', '10-second resistance', true],
  ['rate', 'Rate at sag', true],
];

/** The shelf as rows; every heading sorts. */
export function ShelfTable({ cells, href, sort }: { cells: JudgedCell[]; href(sort: SortKey): string; sort: SortKey }) {
  return (
    <div className="table-scroll" tabIndex={0}>
      <table className="table">
        <thead>
          <tr>
            {columns.map(([key, title, figures]) => (
              <th key={key} className={figures ? 'num' : ''} aria-sort={key === sort ? directionOf(key) : undefined}>
                <Link href={href(key)} prefetch={false}>
                  {title}
                  {key === sort && (descending.includes(key) ? ' ▾' : ' ▴')}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {cells.map((cell) => (
            <tr key={cell.code}>
              <td>
                <Link className="num fw-bold" href={`/cells/${cell.code}`} prefetch={false}>
                  {cell.code}
                </Link>
              </td>
              <td style={{ minWidth: '16rem' }}>
                <StandingMark of={cell.standing} atLeast={cell.duty.isAtLeast} named />
                <br />
                <span className="soft">{whyOf(cell)}</span>
              </td>
              <td className="num">{capacityText(cell) ?? '–'}</td>
              <td className="num">
                {cell.duty.health
                  ? `${cell.capacityIsAtLeast ? 'at least ' : ''}${formatQuantity(cell.duty.health, display.share)}`
                  : '–'}
              </td>
              <td className="num">{cell.resistance ? formatQuantity(cell.resistance, display.resistance) : '–'}</td>
              <td className="num">{cell.duty.rateC ? formatQuantity(cell.duty.rateC, display.cRate) : '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The one reason that decides: of the intake for what is out or to be rescued, else of the duty. */
export const whyOf = (cell: JudgedCell): string =>
  cell.intake.class === 'usable'
    ? dutyReasonText(cell.duty.because)
    : cell.intake.reasons.slice(0, 1).map(intakeReasonText).join('');
