import type { ResistanceLevel } from '@/core/packs/groupResistances';
import { display, quantityParts } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { groupName } from '@/words/packs';

interface GroupOhmsProps {
  groups: { position: number; resistance: Quantity; level: ResistanceLevel }[];
  series: number;
  middleOhm: number | null;
}

const levelMark: Record<ResistanceLevel, string> = { even: '', watch: '△ warning', failing: '◆ failing' };

function Value({ quantity }: { quantity: Quantity }) {
  const { figure, doubt, unit } = quantityParts(quantity, display.resistance);
  return (
    <>
      <span className="num figure">{figure}</span>
      <span className="soft num">
        ± {doubt} {unit}
      </span>
    </>
  );
}

/** The resistances of a pack's groups as columns from 0, from the negative terminal, with a line at their middle. */
export function GroupOhms({ groups, series, middleOhm }: GroupOhmsProps) {
  const most = Math.max(...groups.map(({ resistance }) => resistance.value), middleOhm ?? 0);
  const percent = (ohm: number) => `${(100 * ohm) / most}%`;
  return (
    <ol className="group-ohms" aria-label="Resistances from the negative terminal">
      {groups.map(({ position, resistance, level }) => (
        <li key={position} className={level === 'failing' ? 'hot' : ''}>
          <Value quantity={resistance} />
          <span className="column" aria-hidden>
            <i className={level} style={{ height: percent(resistance.value) }} />
            {middleOhm !== null && groups.length > 1 && <b style={{ bottom: percent(middleOhm) }} />}
          </span>
          <span className="num name">{groupName(position, series)}</span>
          <span className="level">{levelMark[level]}</span>
        </li>
      ))}
    </ol>
  );
}
