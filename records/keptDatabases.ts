import type { Client } from 'pg';
import { BackupRefused } from './archive';

export const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;

/** What a restore makes for its own time. */
export const passingNames = (own: string) => ({ restoring: `${own}_restoring`, reference: `${own}_reference` });

/** Drops them where they are there; returns those that were. */
export async function dropPassing(server: Client, own: string): Promise<string[]> {
  const { rows } = await server.query<{ name: string }>(
    'select datname as name from pg_database where datname = any($1)',
    [Object.values(passingNames(own))],
  );
  for (const { name } of rows) await server.query(`drop database if exists ${quoted(name)} with (force)`);
  return rows.map(({ name }) => name);
}

/** Which database has that name now. */
export async function idOf(server: Client, name: string): Promise<number> {
  const { rows } = await server.query<{ oid: number }>('select oid::int8 as oid from pg_database where datname = $1', [
    name,
  ]);
  if (!rows[0]) throw new BackupRefused(`The database ${name} is gone.`);
  return rows[0].oid;
}

const keptMark = '_before_';
/** The number by which databases that were put aside follow each other; earlier versions had only a time there. */
const numberOf = (own: string, name: string): number =>
  Number(/^(\d{4,})_/.exec(name.slice(own.length + keptMark.length))?.[1] ?? 0);

/** Counted up, since a clock may be set back; the time is for people. */
export async function newKeptName(server: Client, own: string): Promise<string> {
  const last = (await keptDatabases(server, own)).at(-1);
  const number = (last === undefined ? 0 : numberOf(own, last)) + 1;
  const time = new Date().toISOString().replace(/[-:]|\..*/g, '');
  return `${own}${keptMark}${String(number).padStart(4, '0')}_${time}`;
}

/** In the order in which they were put aside. */
export async function keptDatabases(server: Client, own: string): Promise<string[]> {
  const { rows } = await server.query<{ name: string }>(
    'select datname as name from pg_database where starts_with(datname, $1) order by datname',
    [own + keptMark],
  );
  return rows.map((row) => row.name).sort((a, b) => numberOf(own, a) - numberOf(own, b));
}
