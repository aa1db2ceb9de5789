import type { NewProtocol, Protocol } from '@/core/judging/facts';
import type { Queryable } from './database';

interface ProtocolRow extends Omit<Protocol, 'charge' | 'temperature'> {
  chargeFrom: number | null;
  chargeTo: number | null;
  coldestC: number | null;
  warmestC: number | null;
}

export async function addProtocol(
  db: Queryable,
  { name, school, method, charge, temperature, restS, rateC, holdS }: NewProtocol,
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into protocol (name, school, method, charge_from, charge_to, coldest_c, warmest_c, rest_s,
        rate_c, hold_s)
      values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
      returning id`,
    [
      name,
      school,
      method,
      charge?.from ?? null,
      charge?.to ?? null,
      temperature?.coldestC ?? null,
      temperature?.warmestC ?? null,
      restS,
      rateC,
      holdS,
    ],
  );
  return rows[0]?.id as number;
}

export async function listProtocols(db: Queryable): Promise<Protocol[]> {
  const { rows } = await db.query<ProtocolRow>(`
    select id, name, school, method, charge_from as "chargeFrom", charge_to as "chargeTo",
      coldest_c as "coldestC", warmest_c as "warmestC",
      rest_s as "restS", rate_c as "rateC", hold_s as "holdS", archived_at as "archivedAt"
    from protocol order by archived_at is not null, id`);
  return rows.map(({ chargeFrom, chargeTo, coldestC, warmestC, ...row }) => ({
    ...row,
    charge: chargeFrom === null || chargeTo === null ? null : { from: chargeFrom, to: chargeTo },
    temperature: coldestC === null || warmestC === null ? null : { coldestC, warmestC },
  }));
}

/** Puts a protocol away or takes it out again; what was measured by it stays, and rounds begun go on. */
export async function archiveProtocol(db: Queryable, id: number, away: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    'update protocol set archived_at = case when $2 then now() end where id = $1 and (archived_at is null) = $2',
    [id, away],
  );
  return rowCount === 1;
}
