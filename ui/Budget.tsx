import { type Display, formatFigure } from '@/core/quantity/format';
import type { Contribution } from '@/core/quantity/quantity';

/** Where the uncertainty of a figure comes from, largest first. */
export function Budget({ budget, as, decimals }: { budget: readonly Contribution[]; as: Display; decimals: number }) {
  if (budget.length === 0) return null;
  return (
    <details className="soft">
      <summary>Where the ± comes from</summary>
      {budget.map((fraction) => (
        <div key={fraction.input} className="num">
          {fraction.input} {formatFigure(fraction.u, as, decimals)}
        </div>
      ))}
    </details>
  );
}
