import type { Queryable } from './database';

/** What stood in a batch or an instrument, as plain values by name. */
type Account = Record<string, unknown>;

export interface Correction {
  id: number;
  before: Account;
  after: Account;
  by: string;
  madeAt: Date;
}

type Corrected = { batchId: number } | { instrumentId: number };

/** Keeps what was changed and who did. Where nothing was, nothing is kept. */
export async function noteCorrection(
  db: Queryable,
  of: Corrected,
  before: Account,
  after: Account,
  by: string,
): Promise<void> {
  const names = Object.keys(after).filter(
    (name) => JSON.stringify(before[name] ?? null) !== JSON.stringify(after[name] ?? null),
  );
  if (names.length === 0) return;
  const only = (account: Account) =>
    JSON.stringify(Object.fromEntries(names.map((name) => [name, account[name] ?? null])));
  await db.query('insert into correction (batch_id, instrument_id, before, after, by) values ($1, $2, $3, $4, $5)', [
    'batchId' in of ? of.batchId : null,
    'instrumentId' in of ? of.instrumentId : null,
    only(before),
    only(after),
    by,
  ]);
}

/** The corrections of a batch or an instrument, newest first. */
export async function correctionsOf(db: Queryable, of: Corrected): Promise<Correction[]> {
  const [column, id] = 'batchId' in of ? ['batch_id', of.batchId] : ['instrument_id', of.instrumentId];
  const { rows } = await db.query<Correction>(
    `select id, before, after, by, made_at as "madeAt" from correction where ${column} = $1 order by id desc`,
    [id],
  );
  return rows;
}
