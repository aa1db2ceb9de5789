import type { JudgedCell } from '@/core/judging/judgeCell';
import { display, formatQuantity } from '@/core/quantity/format';
import { methods } from '@/core/resistance/methods';
import { When } from '@/ui/When';
import { Fragment } from 'react';
import { GroupsOverTime } from './GroupsOverTime';
import type { Read } from './resistancesRead';

const listed = 6;

/** A cell's resistance against its own past, within each protocol and its windows. */
export function CellResistance({ cell, byProtocol }: { cell: JudgedCell; byProtocol: ReadonlyMap<string, Read[]> }) {
  const { asNewOhm } = cell;
  if (byProtocol.size === 0) return null;
  return (
    <section className="sheet mb-3" aria-label="Its resistance over time">
      <h2>Its resistance over time</h2>
      {[...byProtocol].map(([name, past]) => {
        const [newest, oldest] = [past[0], past.at(-1)];
        const change = newest && oldest && newest !== oldest ? newest.quantity.value / oldest.quantity.value - 1 : null;
        return (
          <Fragment key={name}>
            <p className="mb-1">
              <b>{name}</b> <span className="soft">({past[0]?.method})</span>:{' '}
              <span className="num">
                {past
                  .slice(0, listed)
                  .reverse()
                  .map(({ takenAt, quantity }, i) => (
                    <Fragment key={takenAt.getTime()}>
                      {i > 0 && ' · '}
                      {formatQuantity(quantity, display.resistance)} on <When at={takenAt} as="d MMM" />
                    </Fragment>
                  ))}
              </span>
              {change !== null &&
                `, ${change >= 0 ? 'up' : 'down'} ${Math.abs(change * 100).toFixed(0)} % since its first`}
              {asNewOhm !== null &&
                newest &&
                newest.method !== methods['ac-meter'].name &&
                newest.method !== methods.told.name &&
                `, ${(newest.quantity.value / asNewOhm).toFixed(2)} times its as-new value`}
            </p>
            {past.length > 1 && (
              <GroupsOverTime
                series={1}
                times={past.toReversed().map(({ takenAt, quantity }) => ({
                  at: takenAt.getTime(),
                  values: [{ position: 1, value: quantity.value * 1000 }],
                }))}
                unit="mΩ"
                decimals={1}
                caption={`Resistance over time, by ${name}`}
                failing={[]}
              />
            )}
          </Fragment>
        );
      })}
      <p className="soft mb-0">
        Rising against its own past is the surest sign of age. Different protocols are not compared here.
      </p>
    </section>
  );
}
