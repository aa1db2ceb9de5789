import type { Queryable } from './database';

/** A column of a table, in the database and in a package. */
export interface PackageColumn {
  name: string;
  /** In PostgreSQL's words. */
  type: string;
  nullable: boolean;
}

export interface PackageTable {
  name: string;
  columns: PackageColumn[];
  primaryKey: string[];
}

/**
 * What a package leaves out: who may come in, what is computed from the rest, what this database alone counts, and
 * files, which are in it as they arrived.
 */
const leftOut = [
  'api_key',
  'passphrase',
  'session',
  'backup',
  'migration',
  'change',
  'run_result',
  'run_file',
  'bench_plan',
  'planned',
];

/** Every table of a workshop's facts, each behind those that it points at. */
export async function packageTables(db: Queryable): Promise<PackageTable[]> {
  const { rows } = await db.query<PackageTable & { needs: string[] }>(
    `select relname as name,
       (select jsonb_agg(jsonb_build_object('name', attname, 'type', format_type(atttypid, atttypmod),
            'nullable', not attnotnull) order by attnum)
          from pg_attribute where attrelid = pg_class.oid and attnum > 0 and not attisdropped) as columns,
       (select array_agg(attname::text order by place)
          from pg_constraint cross join unnest(conkey) with ordinality key (attnum, place)
          join pg_attribute on attrelid = conrelid and pg_attribute.attnum = key.attnum
          where conrelid = pg_class.oid and contype = 'p') as "primaryKey",
       array(select distinct confrelid::regclass::text from pg_constraint
          where conrelid = pg_class.oid and contype = 'f' and confrelid <> conrelid) as needs
     from pg_class
     where relnamespace = 'public'::regnamespace and relkind = 'r' and relname <> all ($1)
     order by relname`,
    [leftOut],
  );
  const ordered: PackageTable[] = [];
  let left = rows;
  while (left.length > 0) {
    const ready = left.filter(({ needs }) => needs.every((need) => !left.some(({ name }) => name === need)));
    if (ready.length === 0) throw new Error(`Tables point at each other: ${left.map(({ name }) => name).join(', ')}.`);
    ordered.push(...ready.map(({ name, columns, primaryKey }) => ({ name, columns, primaryKey })));
    left = left.filter((table) => !ready.includes(table));
  }
  return ordered;
}

const isArray = ({ type }: PackageColumn): boolean => type.endsWith('[]');

/** How a text begins that a spreadsheet takes for a formula, and the mark that such a text is written with. */
const formulaBegins = `^[=+@\\t\\r''-]`;

/**
 * A column as it is written: in ISO 8601, JSON or hexadecimal where no other program reads PostgreSQL's own form. A
 * text that a spreadsheet would compute gets a mark in front; so does one that begins with the mark. Both read back
 * equal.
 */
export function written(column: PackageColumn): string {
  const { name, type } = column;
  if (isArray(column)) return `to_json(${name})`;
  if (type === 'bytea') return `encode(${name}, 'hex')`;
  if (type === 'boolean') return `${name}::text`;
  if (type === 'timestamp with time zone')
    return `to_char(${name} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"')`;
  if (type === 'text') return `case when ${name} ~ E'${formulaBegins}' then '''' || ${name} else ${name} end`;
  return name;
}

/** The same column read back from that text. */
export function readBack(column: PackageColumn): string {
  const { name, type } = column;
  // There are no brackets in a text of a list that the workshop keeps.
  if (isArray(column)) return `translate(${name}, '[]', '{}')::${type}`;
  if (type === 'text') return `regexp_replace(${name}, '^''', '')`;
  return type === 'bytea' ? `decode(${name}, 'hex')` : `${name}::${type}`;
}

/** What the type is called in a table schema. Source: Data Package (v1), Table Schema. */
export function schemaType(column: PackageColumn): { type: string; format?: string } {
  const { type } = column;
  if (isArray(column)) return { type: 'array' };
  if (type === 'integer' || type === 'bigint') return { type: 'integer' };
  if (type === 'double precision') return { type: 'number' };
  if (type === 'boolean') return { type: 'boolean' };
  if (type === 'timestamp with time zone') return { type: 'datetime', format: 'any' };
  if (type === 'jsonb') return { type: 'any' };
  return type === 'uuid' ? { type: 'string', format: 'uuid' } : { type: 'string' };
}
