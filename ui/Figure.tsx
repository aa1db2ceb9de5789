import { type Display, quantityParts } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';

/** The one large answer of a screen: the figure big, its uncertainty and unit beside it. */
export function Figure({ quantity, as, mid = false }: { quantity: Quantity; as: Display; mid?: boolean }) {
  const { figure, uncertainty, unit } = quantityParts(quantity, as);
  return (
    <div className={`big${mid ? ' mid' : ''}`}>
      <span className="text-nowrap">
        {figure}
        <small className="ms-2">{unit}</small>
      </span>
      {uncertainty && <small className="soft num">± {uncertainty}</small>}
    </div>
  );
}
