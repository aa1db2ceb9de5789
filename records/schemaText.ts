import { inTurn, type Queryable } from './database';

interface Column {
  table: string;
  meaning: string | null;
  name: string;
  type: string;
  required: boolean;
  fallback: string | null;
}

/** A constraint, an index or a trigger as SQL. */
interface Rule {
  table: string;
  text: string;
}

const columnsText = `select
    class.relname as "table", obj_description(class.oid, 'pg_class') as meaning, attname as name,
    format_type(atttypid, atttypmod) as type, attnotnull as required,
    case attidentity when '' then pg_get_expr(adbin, adrelid) else 'counted up' end as fallback
  from pg_class class
  join pg_attribute on attrelid = class.oid and attnum > 0 and not attisdropped
  left join pg_attrdef on adrelid = class.oid and adnum = attnum
  where class.relnamespace = 'public'::regnamespace and class.relkind = 'r'
  order by class.relname, attnum`;

const constraintsText = `select conrelid::regclass::text as "table", pg_get_constraintdef(oid) as text
  from pg_constraint
  where connamespace = 'public'::regnamespace and conrelid <> 0 and contype in ('p', 'u', 'f', 'c')
  order by conrelid::regclass::text, strpos('pufc', contype::text), pg_get_constraintdef(oid)`;

const indexesText = `select tablename as "table", regexp_replace(indexdef, '^.* ON public\\.\\S+ ', '') as text
  from pg_indexes
  where schemaname = 'public' and not exists (select from pg_constraint where conname = indexname)
  order by tablename, indexname`;

const triggersText = `select tgrelid::regclass::text as "table", tgfoid::regproc::text || '()' as text
  from pg_trigger
  where not tgisinternal
  group by 1, 2
  order by 1, 2`;

/** The tables of a database as a page to read, in Markdown: columns, and what guards them. */
export async function schemaText(db: Queryable): Promise<string> {
  const ask = inTurn(db);
  const [columns, constraints, indexes, triggers] = await Promise.all([
    ask(() => db.query<Column & Record<string, unknown>>(columnsText)),
    ...[constraintsText, indexesText, triggersText].map((text) =>
      ask(() => db.query<Rule & Record<string, unknown>>(text)),
    ),
  ]);
  const tables = [...new Set(columns.rows.map((column) => column.table))];
  const of = (table: string, rules: { rows: Rule[] } | undefined): string[] =>
    (rules?.rows ?? []).filter((rule) => rule.table === table).map((rule) => rule.text);
  const parts = tables.map((table) => {
    const own = columns.rows.filter((column) => column.table === table);
    return [
      `## ${table}`,
      own[0]?.meaning ?? '',
      ['| column | type | |', '|---|---|---|', ...own.map(columnRow)].join('\n'),
      listed('Holds', of(table, constraints)),
      listed('Indexed by', of(table, indexes)),
      listed('On every change', of(table, triggers)),
    ]
      .filter((part) => part !== '')
      .join('\n\n');
  });
  const head = `# The tables\n\nMade by \`bin/db schema\` from records/migrations; a test holds it current.`;
  return `${[head, ...parts].join('\n\n')}\n`;
}

function columnRow({ name, type, required, fallback }: Column): string {
  const said = [required ? '' : 'may be empty', fallback === null ? '' : `else ${fallback}`].filter(Boolean);
  return `| ${name} | ${type} | ${said.join('; ').replaceAll('|', '\\|')} |`;
}

const listed = (title: string, texts: readonly string[]): string =>
  texts.length === 0 ? '' : `${title}:\n\n${texts.map((text) => `- \`${text}\``).join('\n')}`;
