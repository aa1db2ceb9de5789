import type { Correction } from '@/records/corrections';
import { When } from '@/ui/When';

/** Names of what may be corrected, as people read them; anything else has its own name. */
const names: Record<string, string> = {
  origin: 'origin',
  notes: 'notes',
  maker: 'maker',
  name: 'model',
  size: 'size',
  chemistry: 'chemistry',
  ratedCapacityAh: 'capacity, Ah',
  massKg: 'weight, kg',
  board: 'board',
  asNewOhm: 'resistance when new, Ω',
  chargeA: 'charge at most, A',
  dischargeA: 'discharge at most, A',
  kind: 'kind',
  channels: 'channels',
  certified: 'certified',
  wires: 'wires',
  leads: 'leads',
  voltage: 'voltage',
  current: 'current',
  resistance: 'resistance',
  charging: 'as a charger',
};

const said = (value: unknown): string => {
  if (value === null || value === '') return 'nothing';
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([name, one]) => `${name} ${String(one)}`)
      .join(', ');
  return String(value);
};

/** What was corrected, when and by whom, the newest first. */
export function Corrections({ corrections }: { corrections: Correction[] }) {
  if (corrections.length === 0) return null;
  return (
    <ul className="reasons" aria-label="Corrections">
      {corrections.map(({ id, before, after, by, madeAt }) => (
        <li key={id}>
          <span className="num">
            <When at={madeAt} as="d MMM yyyy HH:mm" />
          </span>
          , {by}:{' '}
          {Object.keys(after)
            .map((name) => `${names[name] ?? name} ${said(before[name])} → ${said(after[name])}`)
            .join('; ')}
        </li>
      ))}
    </ul>
  );
}
