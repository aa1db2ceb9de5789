import type { LogMapping } from '@/core/capacity/logMapping';
import type { Queryable } from './database';

/** How files of one kind are read, under a name. */
export interface NamedMapping {
  name: string;
  shape: string;
  mapping: LogMapping;
}

/** Keeps a mapping under a name; one that was kept under it before gives way, and stays in the records. */
export async function keepMapping(db: Queryable, { name, shape, mapping }: NamedMapping): Promise<void> {
  await forgetMapping(db, name);
  await db.query('insert into log_mapping (name, shape, mapping) values ($1, $2, $3)', [
    name,
    shape,
    JSON.stringify(mapping),
  ]);
}

/** Offers it no more. Returns false where there is none of that name. */
export async function forgetMapping(db: Queryable, name: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update log_mapping set archived_at = now() where name = $1 and archived_at is null',
    [name],
  );
  return (rowCount ?? 0) > 0;
}

/** Those that are offered, by name. */
export async function namedMappings(db: Queryable): Promise<NamedMapping[]> {
  const { rows } = await db.query<NamedMapping>(
    'select name, shape, mapping from log_mapping where archived_at is null order by name',
  );
  return rows;
}
