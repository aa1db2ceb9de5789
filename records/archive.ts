import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { open } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';

/** Why a backup cannot be made or used, in a sentence for the person who asked. */
export class BackupRefused extends Error {}

/** What lies in a backup. */
export interface Archive {
  madeAt: string;
  /** Rows by table, counted in the file. */
  rows: Map<string, number>;
  /** It makes the schema `public` itself. */
  makesSchema: boolean;
}

const signature = 'PGDMP';
/** The table that only a workshop has. */
const ownTable = 'migration';

/** Environment and arguments by which PostgreSQL's tools reach a database; the password is on no command line. */
function reaching(url: string): { args: string[]; env: NodeJS.ProcessEnv } {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    args: [
      '--host',
      hostname,
      '--port',
      port || '5432',
      '--username',
      decodeURIComponent(username),
      '--dbname',
      decodeURIComponent(pathname.slice(1)),
    ],
    env: { ...process.env, PGPASSWORD: decodeURIComponent(password) },
  };
}

/**
 * Runs one of PostgreSQL's tools; `look` reads what it prints.
 *
 * @throws BackupRefused with its own words when it fails
 */
async function runTool(
  name: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv,
  look?: (printed: Readable) => Promise<void>,
): Promise<void> {
  const tool = spawn(name, args, { env, stdio: ['ignore', look ? 'pipe' : 'ignore', 'pipe'] });
  let complaint = '';
  tool.stderr?.on('data', (text: Buffer) => {
    complaint = (complaint + text.toString()).slice(0, 2000);
  });
  const ended = once(tool, 'close') as Promise<[number | null]>;
  if (look && tool.stdout) await look(tool.stdout);
  const [code] = await ended;
  if (code !== 0) throw new BackupRefused(complaint.trim() || `${name} ended with ${code}.`);
}

/** Writes the database into a file as a checked, compressed archive. */
export async function dump(url: string, file: string): Promise<void> {
  const { args, env } = reaching(url);
  await runTool('pg_dump', ['--format=custom', '--no-owner', '--no-privileges', `--file=${file}`, ...args], env);
}

/** Fills an empty database from an archive: all of it, or nothing. */
export async function fillFrom(file: string, url: string): Promise<void> {
  const { args, env } = reaching(url);
  await runTool(
    'pg_restore',
    ['--exit-on-error', '--single-transaction', '--no-owner', '--no-privileges', ...args, file],
    env,
  );
}

/**
 * Reads an archive through to its end.
 *
 * @throws BackupRefused when it is no archive, cut short, damaged, or of something else than a workshop
 */
export async function readArchive(file: string): Promise<Archive> {
  if ((await firstBytes(file)) !== signature)
    throw new BackupRefused(`${file} is no backup of a workshop: it was not made by bin/db backup.`);
  const archive: Archive = { madeAt: 'an unknown time', rows: new Map(), makesSchema: false };
  try {
    await runTool('pg_restore', ['--list', file], process.env, async (printed) => {
      for await (const line of createInterface({ input: printed })) {
        archive.madeAt = /Archive created at (.+)$/.exec(line)?.[1] ?? archive.madeAt;
        if (/ SCHEMA - public /.test(line)) archive.makesSchema = true;
      }
    });
    await runTool('pg_restore', ['--data-only', '--file=-', file], process.env, async (printed) =>
      countRows(printed, archive.rows),
    );
  } catch (error) {
    if (!(error instanceof BackupRefused)) throw error;
    throw new BackupRefused(`${file} is cut short or damaged: ${error.message.split('\n')[0]}`);
  }
  if (!archive.rows.has(ownTable))
    throw new BackupRefused(`${file} is a backup of something else: it holds no workshop.`);
  return archive;
}

async function firstBytes(file: string): Promise<string> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(signature.length), 0, signature.length, 0);
    return buffer.toString('latin1', 0, bytesRead);
  } finally {
    await handle.close();
  }
}

/**
 * Rows are a line each between `COPY … FROM stdin;` and `\.`. Source: PostgreSQL 15 documentation, COPY, "Text
 * Format".
 */
async function countRows(printed: Readable, rows: Map<string, number>): Promise<void> {
  let table: string | null = null;
  for await (const line of createInterface({ input: printed })) {
    const begins = table === null ? /^COPY (?:\w+\.)?"?(\w+)"? .*FROM stdin;$/.exec(line) : null;
    if (begins) {
      table = begins[1] as string;
      rows.set(table, 0);
    } else if (line === '\\.') table = null;
    else if (table !== null) rows.set(table, (rows.get(table) ?? 0) + 1);
  }
}

/** Standing counts in words, for a person who decides whether this is the right file. */
export function inWords(rows: ReadonlyMap<string, number>): string {
  const sum = (tables: readonly string[]): number => tables.reduce((all, table) => all + (rows.get(table) ?? 0), 0);
  const count = (all: number, one: string, many: string) => `${all.toLocaleString('en')} ${all === 1 ? one : many}`;
  // A backup of the first versions has tables of its own for each.
  return [
    count(rows.get('subject') ?? sum(['cell', 'pack']), 'cell or pack', 'cells and packs'),
    count(
      rows.get('entry') ?? sum(['reading', 'pack_round', 'cross_check_reading', 'note', 'rest']),
      'entry',
      'entries',
    ),
    count(sum(['run']), 'run', 'runs'),
  ].join(', ');
}
