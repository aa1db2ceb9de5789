/** Asks at which current it is to be reckoned; the answer goes into the address. */
export const AtCurrent = ({ amps }: { amps: number }) => (
  <div className="d-flex flex-wrap align-items-end gap-3">
    <h2 className="mb-0">In use</h2>
    <form method="get" className="d-flex align-items-center gap-2">
      <label className="form-label mb-0" htmlFor="use-amps">
        at a current of
      </label>
      <input
        id="use-amps"
        name="amps"
        className="form-control num"
        style={{ width: 90 }}
        inputMode="decimal"
        defaultValue={amps}
      />{' '}
      A
      <button className="btn btn-plain" type="submit">
        Reckon
      </button>
    </form>
  </div>
);

/** The current in an address; else one that a cell or pack of that capacity carries in an hour, A. */
export function currentOf(amps: string | undefined, ratedCapacityAh: number): number {
  const asked = Number(amps?.replace(',', '.'));
  return asked > 0 && asked < 1000 ? asked : Math.max(0.1, Number(ratedCapacityAh.toPrecision(2)));
}
