import { display, formatQuantity } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { StandingMark } from '@/ui/StandingMark';
import { NextStep } from '../NextStep';
import Link from 'next/link';
import { capacityText } from './capacityText';
import { whyOf } from './ShelfTable';

/** One cell beside the map: its duty, why, and its two figures. */
export function CellSlip({ cell }: { cell: JudgedCell }) {
  return (
    <section className="sheet lead-ember" aria-label={`Cell ${cell.code}`}>
      <div className="num" style={{ fontSize: '1.8rem', fontWeight: 700 }}>
        <Link href={`/cells/${cell.code}`} className="text-reset">
          {cell.code}
        </Link>
      </div>
      <p className="mb-1">
        <b>
          <StandingMark of={cell.standing} atLeast={cell.duty.isAtLeast} named />
        </b>
      </p>
      <p className="soft mb-2">{whyOf(cell)}</p>
      <div className="num">{capacityText(cell) ?? 'no capacity yet'}</div>
      <div className="num">
        {cell.resistance ? formatQuantity(cell.resistance, display.resistance) : 'no resistance yet'}
      </div>
      <NextStep cell={cell} />
      {cell.duty.rateC && <div className="num">{formatQuantity(cell.duty.rateC, display.cRate)} at the sag limit</div>}
    </section>
  );
}
