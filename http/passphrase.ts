import { passphraseHash, setPassphrase } from '@/records/access';
import { database, inTransaction } from '@/records/database';
import { hash, verify } from 'argon2';

/** Shorter ones are guessed. */
export const leastLength = 10;

/** Argon2id with the parameters that its package recommends. Source: RFC 9106. */
export const hashed = (passphrase: string): Promise<string> => hash(passphrase);

/**
 * What the workshop is locked by, as the environment tells: the passphrase or its hash; null where it is not locked.
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
      'BOLD_EMBER_PASSPHRASE_HASH is no Argon2 hash; choose the passphrase anew with bin/start --lan --new.',
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
    const same = before !== null && ('hash' in lock ? before === lock.hash : await verify(before, lock.passphrase));
    if (same) return before;
    const anew = 'hash' in lock ? lock.hash : await hashed(lock.passphrase);
    await setPassphrase(db, anew);
    return anew;
  }, database());

export const isRight = (hashInForce: string, passphrase: string): Promise<boolean> => verify(hashInForce, passphrase);
