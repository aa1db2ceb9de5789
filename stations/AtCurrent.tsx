import { numberIn } from '@/core/quantity/strict';

/** What a load draws, A: its mean, and its peak where it has one. */
export interface Drawn {
  amps: number;
  peakA: number | null;
}

/** The same as an address has it. */
export interface DrawnQuery {
  amps?: string;
  peak?: string;
}

/** Asks for the current of a load; the answer goes into the address. */
export const AtCurrent = ({ drawn: { amps, peakA } }: { drawn: Drawn }) => (
  <div className="d-flex flex-wrap align-items-end gap-3">
    <h2 className="mb-0">In use</h2>
    <form method="get" className="d-flex flex-wrap align-items-center gap-2">
      <Amperes name="amps" label="at a current of" value={String(amps)} />
      <Amperes name="peak" label="with a peak of" value={peakA === null ? '' : String(peakA)} />
      <button className="btn btn-plain" type="submit">
        Calculate
      </button>
    </form>
  </div>
);

const Amperes = ({ name, label, value }: { name: string; label: string; value: string }) => (
  <>
    <label className="form-label mb-0" htmlFor={`use-${name}`}>
      {label}
    </label>
    <input
      id={`use-${name}`}
      name={name}
      className="form-control num"
      style={{ width: 90 }}
      inputMode="decimal"
      defaultValue={value}
    />{' '}
    A
  </>
);

const mostA = 1000;
const figureOf = (text: string | undefined): number | null => {
  const currentA = numberIn(text ?? '');
  return currentA !== null && currentA > 0 && currentA < mostA ? currentA : null;
};

/** What an address asks for; else the current that a cell or pack of that capacity carries in an hour, A. */
export function drawnOf({ amps, peak }: DrawnQuery, ratedCapacityAh: number): Drawn {
  const current = figureOf(amps) ?? Math.max(0.1, Number(ratedCapacityAh.toPrecision(2)));
  const peakA = figureOf(peak);
  return { amps: current, peakA: peakA !== null && peakA > current ? peakA : null };
}
