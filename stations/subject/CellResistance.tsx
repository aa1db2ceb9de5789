import type { StoredResistance } from '@/core/judging/facts';
import type { JudgedCell } from '@/core/judging/judgeCell';
import { type Equipment, judgeResistance } from '@/core/judging/judgeResistance';
import { display, formatQuantity } from '@/core/quantity/format';
import type { Quantity } from '@/core/quantity/quantity';
import { methods } from '@/core/resistance/methods';
import { database } from '@/records/database';
import { resistancesBySubject } from '@/records/readings';
import { When } from '@/ui/When';
import { Fragment } from 'react';
import { GroupsOverTime } from './GroupsOverTime';

interface Read {
  takenAt: Date;
  quantity: Quantity;
  method: string;
}

/** What counts of each protocol, the newest first. Of a round the newest press: an earlier may be a bad contact. */
function readByProtocol(
  cell: JudgedCell,
  resistances: readonly StoredResistance[],
  equipment: Equipment,
): Map<string, Read[]> {
  const byProtocol = new Map<string, Read[]>();
  const rounds = new Set<number>();
  for (const resistance of resistances) {
    if (rounds.has(resistance.roundId)) continue;
    const { result, leftOut } = judgeResistance(resistance, cell, equipment);
    if (leftOut !== null) continue;
    rounds.add(resistance.roundId);
    const name = equipment.protocols.get(resistance.protocolId)?.name ?? '';
    if (!result) continue;
    const read = {
      takenAt: resistance.takenAt,
      quantity: result.resistance,
      method: methods[resistance.method].name,
    };
    byProtocol.set(name, [...(byProtocol.get(name) ?? []), read]);
  }
  return byProtocol;
}

const listed = 6;

/** A cell's resistance against its own past, within each protocol and its windows. */
export async function CellResistance({ cell, equipment }: { cell: JudgedCell; equipment: Equipment }) {
  const { asNewOhm } = cell;
  const resistances = (await resistancesBySubject(database(), [cell.id])).get(cell.id) ?? [];
  const byProtocol = readByProtocol(cell, resistances, equipment);
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
                caption={`Resistance over time, as read under ${name}`}
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
