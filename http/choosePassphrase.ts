import { writeFile } from 'node:fs/promises';
import { text } from 'node:stream/consumers';
import { hashPassphrase, leastLength } from './passphrase';

/** Reads a passphrase from its input and keeps its hash in a file that only its owner may read. */
async function main(file: string): Promise<void> {
  const passphrase = (await text(process.stdin)).replace(/\r?\n$/, '');
  if (passphrase.length < leastLength)
    throw new Error(`Too short: at least ${leastLength} characters. Four words that do not belong together are good.`);
  await writeFile(file, await hashPassphrase(passphrase), { mode: 0o600 });
}

main(process.argv[2] ?? '').catch((error: Error) => {
  console.error(error.message);
  process.exitCode = 1;
});
