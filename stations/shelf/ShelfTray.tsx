import { display, formatFigure } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { StandingMark } from '@/ui/StandingMark';
import Link from 'next/link';

/** The cells in their places, batch by batch, as they lie on the bench. */
export function ShelfTray({ cells }: { cells: JudgedCell[] }) {
  const batches = [...new Set(cells.map((cell) => cell.batchCode))];
  return batches.map((batch) => (
    <section key={batch} className="mb-3" aria-label={`Batch ${batch}`}>
      <h2>{batch}</h2>
      <ol className="tray named">
        {cells
          .filter((cell) => cell.batchCode === batch)
          .map((cell) => (
            <li key={cell.code}>
              <Link href={`/cells/${cell.code}`} prefetch={false}>
                <span>
                  <b className="num">{cell.code}</b> <StandingMark of={cell.standing} />
                </span>
                <span className="num soft">
                  {cell.capacity
                    ? `${cell.capacityIsAtLeast ? '≥ ' : ''}${formatFigure(cell.capacity.value, display.capacity, 2)}`
                    : '– Ah'}
                </span>
                <span className="num soft">
                  {cell.resistance ? formatFigure(cell.resistance.value, display.resistance) : '– mΩ'}
                </span>
              </Link>
            </li>
          ))}
      </ol>
    </section>
  ));
}
