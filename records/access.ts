import { createHash, randomBytes } from 'node:crypto';
import type { Queryable } from './database';

/** What is handed out once and kept only as a hash. */
const newToken = (): string => randomBytes(32).toString('base64url');
const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();

/** The newest passphrase that was set, hashed; null where none ever was. */
export async function passphraseHash(db: Queryable): Promise<string | null> {
  const { rows } = await db.query<{ hash: string }>('select hash from passphrase order by id desc limit 1');
  return rows[0]?.hash ?? null;
}

/** Another passphrase: everyone signed in by the one before has to sign in again. Run it in a transaction. */
export async function setPassphrase(db: Queryable, hash: string): Promise<void> {
  await db.query('insert into passphrase (hash) values ($1)', [hash]);
  await db.query('delete from session');
}

/** Begins a session and returns its token; those that have ended are cleared away. */
export async function beginSession(db: Queryable, lifeS: number, agent: string): Promise<string> {
  const token = newToken();
  await db.query('delete from session where ends_at < now()');
  await db.query("insert into session (token_hash, ends_at, agent) values ($1, now() + $2 * interval '1 second', $3)", [
    hashOf(token),
    lifeS,
    agent,
  ]);
  return token;
}

export async function isInSession(db: Queryable, token: string): Promise<boolean> {
  const { rows } = await db.query('select 1 from session where token_hash = $1 and ends_at > now()', [hashOf(token)]);
  return rows.length === 1;
}

export async function endSession(db: Queryable, token: string): Promise<void> {
  await db.query('delete from session where token_hash = $1', [hashOf(token)]);
}

/** Everyone has to sign in again. */
export async function endSessions(db: Queryable): Promise<void> {
  await db.query('delete from session');
}

export interface Session {
  beganAt: Date;
  endsAt: Date;
  /** What the browser called itself. */
  agent: string;
}

export async function listSessions(db: Queryable): Promise<Session[]> {
  const { rows } = await db.query<Session>(
    `select began_at as "beganAt", ends_at as "endsAt", agent
      from session
      where ends_at > now()
      order by began_at desc
      limit 50`,
  );
  return rows;
}

export interface ApiKey {
  id: number;
  name: string;
  madeAt: Date;
  withdrawnAt: Date | null;
  /** The interface for programs, or the calendar alone. */
  opens: 'api' | 'calendar';
}

/** Makes a key for a gadget or a script, or for a calendar; the key itself is returned this once only. */
export async function addApiKey(db: Queryable, name: string, opens: ApiKey['opens'] = 'api'): Promise<string> {
  const token = newToken();
  await db.query('insert into api_key (name, token_hash, opens) values ($1, $2, $3)', [name, hashOf(token), opens]);
  return token;
}

export async function isApiKey(db: Queryable, token: string, opens: ApiKey['opens'] = 'api'): Promise<boolean> {
  const { rows } = await db.query(
    'select 1 from api_key where token_hash = $1 and opens = $2 and withdrawn_at is null',
    [hashOf(token), opens],
  );
  return rows.length === 1;
}

export async function listApiKeys(db: Queryable): Promise<ApiKey[]> {
  const { rows } = await db.query<ApiKey>(
    'select id, name, made_at as "madeAt", withdrawn_at as "withdrawnAt", opens from api_key order by id desc',
  );
  return rows;
}

export async function withdrawApiKey(db: Queryable, id: number): Promise<boolean> {
  const { rowCount } = await db.query(
    'update api_key set withdrawn_at = now() where id = $1 and withdrawn_at is null',
    [id],
  );
  return rowCount === 1;
}
