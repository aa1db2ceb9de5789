import { type Display, formatFigure } from '@/core/quantity/format';
import type { Contribution } from '@/core/quantity/quantity';
import Link from 'next/link';

/** Where the uncertainty of a figure comes from, largest first, and where it says how often such figures hold the truth. */
export function Budget({ budget, as, decimals }: { budget: readonly Contribution[]; as: Display; decimals: number }) {
  if (budget.length === 0) return null;
  return (
    <details className="soft">
      <summary>Where the ± comes from</summary>
      {budget.map((share) => (
        <div key={share.input} className="num">
          {share.input} {formatFigure(share.u, as, decimals)}
        </div>
      ))}
      <div>
        One standard uncertainty each. Twice the ± holds the truth about nineteen times of twenty: <Link href="/truth">how that was tried</Link>.
      </div>
    </details>
  );
}
