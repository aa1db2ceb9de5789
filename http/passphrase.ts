import { passphraseHash, setPassphrase } from '@/records/access';
import { database, inTransaction } from '@/records/database';
import { join } from 'node:path';
import { Piscina } from 'piscina';

/** Shorter ones are guessed. */
export const leastLength = 10;

let hashThread: Piscina | undefined;

/** A hash takes half a second, so a thread of its own computes hashes, one at a time. */
const onHashThread = (name: 'hash' | 'verify', given: unknown): Promise<unknown> => {
  hashThread ??= new Piscina({
    filename: join(process.cwd(), 'http', 'hashThread.cjs'),
    // The thread needs nothing of what loaded the server.
    execArgv: [],
    minThreads: 0,
    maxThreads: 1,
  });
  return hashThread.run(given, { name });
};

/** The Argon2id hash of a passphrase, in the PHC string format. Source: RFC 9106. */
export const hashPassphrase = async (passphrase: string): Promise<string> =>
  String(await onHashThread('hash', passphrase));

/** Whether the passphrase has this hash. */
export const isRight = async (hash: string, passphrase: string): Promise<boolean> =>
  (await onHashThread('verify', { hash, passphrase })) === true;

/**
 * What the workshop is locked by, from the environment: the passphrase or its hash; null where it is not locked.
 */
export type Lock = { passphrase: string } | { hash: string } | null;

/** @throws Error in words for a person when the passphrase is too short or the hash is none */
export function readLock(env: NodeJS.ProcessEnv): Lock {
  const { BOLD_EMBER_PASSPHRASE: passphrase, BOLD_EMBER_PASSPHRASE_HASH: given } = env;
  if (passphrase) {
    if (passphrase.length < leastLength)
      throw new Error(`BOLD_EMBER_PASSPHRASE is too short: at least ${leastLength} characters.`);
    return { passphrase };
  }
  if (!given) return null;
  if (!given.startsWith('$argon2id$'))
    throw new Error(
      'BOLD_EMBER_PASSPHRASE_HASH is not an Argon2id hash. Choose a new passphrase with bin/start --lan --new.',
    );
  return { hash: given };
}

/** Any number, the same in every process of this application. */
const passphraseLock = 7_140_232;

/** Makes the lock the one in force and returns its hash. Sessions begun under another passphrase end. */
export const adopt = (lock: NonNullable<Lock>): Promise<string> =>
  inTransaction(async (db) => {
    await db.query('select pg_advisory_xact_lock($1)', [passphraseLock]);
    const before = await passphraseHash(db);
    const same = before !== null && ('hash' in lock ? before === lock.hash : await isRight(before, lock.passphrase));
    if (same) return before;
    const next = 'hash' in lock ? lock.hash : await hashPassphrase(lock.passphrase);
    await setPassphrase(db, next);
    return next;
  }, database());
