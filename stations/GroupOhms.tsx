import type { ResistanceLevel } from '@/core/packs/groupResistances';
import { display, quantityParts } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { groupName } from '@/words/packs';

interface GroupOhmsProps {
  groups: { position: number; resistance: Quantity; level: ResistanceLevel }[];
  series: number;
  medianOhm: number | null;
}

const levelMark: Record<ResistanceLevel, string> = { even: '', watch: '△ warning', failing: '◆ failing' };

function Value({ quantity }: { quantity: Quantity }) {
  const { figure, uncertainty, unit } = quantityParts(quantity, display.resistance);
  return (
    <>
      <span className="num figure">{figure}</span>
      <span className="soft num">
        ± {uncertainty} {unit}
      </span>
    </>
  );
}

/** The resistances of a pack's groups as columns from 0, from the negative terminal, with a line at their median. */
export function GroupOhms({ groups, series, medianOhm }: GroupOhmsProps) {
  const most = Math.max(...groups.map(({ resistance }) => resistance.value), medianOhm ?? 0);
  const percent = (ohm: number) => `${(100 * ohm) / most}%`;
  return (
    <ol className="group-ohms" aria-label="Resistances from the negative terminal">
      {groups.map(({ position, resistance, level }) => (
        <li key={position} className={level === 'failing' ? 'hot' : ''}>
          <Value quantity={resistance} />
          <span className="column" aria-hidden>
            <i className={level} style={{ height: percent(resistance.value) }} />
            {medianOhm !== null && groups.length > 1 && <b style={{ bottom: percent(medianOhm) }} />}
          </span>
          <span className="num name">{groupName(position, series)}</span>
          <span className="level">{levelMark[level]}</span>
        </li>
      ))}
    </ol>
  );
}
