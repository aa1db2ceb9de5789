import type { Queryable } from './database';

interface Many {
  /** Where the subjects come from, in SQL: `from subject where …`. */
  from: string;
  /** What is filed for each: its table, and its columns in SQL over the row of `from`. */
  into: string;
  values?: Record<string, string | number>;
  /** The round it is filed in, in SQL. */
  occasion?: string;
}

/** Files one entry for each of many subjects in one statement: for benchmarks and tests that need thousands. */
export async function fileMany(db: Queryable, { from, into, values = {}, occasion = 'null' }: Many): Promise<void> {
  const columns = Object.keys(values);
  await db.query(
    `with given as materialized (
       select nextval(pg_get_serial_sequence('entry', 'id'))::integer as entry_id, subject.id as subject_id,
         (${occasion})::integer as occasion_id
         ${columns.map((column) => `, ${values[column]} as ${column}`).join('')}
       ${from}),
     opened as (
       insert into entry (id, uid, occasion_id) overriding system value
       select entry_id, gen_random_uuid(), occasion_id from given
       returning id),
     own as (insert into entry_subject (entry_id, subject_id) select entry_id, subject_id from given)
     insert into ${into} (${['entry_id', ...columns].join(', ')})
     select ${['entry_id', ...columns].join(', ')}
     from given
     -- Their entries are there before their bodies.
     where (select count(*) from opened) > 0`,
  );
}
