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
  const own = (prefix: string) => columns.map((column) => `, ${prefix}${column}`).join('');
  await db.query(
    `with given as materialized (
       select gen_random_uuid() as uid, subject.id as subject_id, (${occasion})::integer as occasion_id
         ${columns.map((column) => `, ${values[column]} as ${column}`).join('')}
       ${from}),
     opened as (
       insert into entry (uid, occasion_id) select uid, occasion_id from given returning id as entry_id, uid),
     own as (
       insert into entry_subject (entry_id, subject_id) select entry_id, subject_id from opened join given using (uid))
     insert into ${into} (entry_id${own('')}) select entry_id${own('given.')} from opened join given using (uid)`,
  );
}
