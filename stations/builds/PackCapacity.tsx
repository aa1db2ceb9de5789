import { packFigures } from '@/core/matching/groupFigures';
import { display } from '@/core/quantity/format';
import { Figure } from '@/ui/Figure';
import type { Group } from './GroupTable';

/** The capacity of a pack by its weakest group, or which groups leave it unknown. */
export function PackCapacity({ groups }: { groups: readonly Group[] }) {
  const { capacity } = packFigures(groups);
  if (capacity) return <Figure quantity={capacity} as={display.capacity} mid />;
  const unknown = groups.flatMap((group, i) => (group.capacity ? [] : [i + 1]));
  return (
    <>
      <div className="big mid">not known</div>
      <p className="ask mb-1">
        {unknown.length === 1 ? `Group ${unknown[0]} holds` : `Groups ${unknown.join(', ')} hold`} a cell whose capacity
        is not known any more: discharge it, or swap it.
      </p>
    </>
  );
}
