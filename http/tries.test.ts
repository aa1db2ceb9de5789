import { leastLength, readLock } from './passphrase';
import { createTries } from './tries';

test('a few slips are free; then each wait is twice the one before, up to five minutes', () => {
  let now = 0;
  const tries = createTries(() => now);
  const waits: number[] = [];
  for (let n = 0; n < 14; n++) {
    waits.push(tries.waitMs('a') / 1000);
    now += tries.waitMs('a');
    tries.failed('a');
  }
  expect(waits).toEqual([0, 0, 0, 1, 2, 4, 8, 16, 32, 64, 128, 256, 300, 300]);
  expect(tries.waitMs('b')).toBe(0);
  now += 3_600_001;
  expect(tries.waitMs('a')).toBe(0);
});

test('the right one ends the waiting', () => {
  const tries = createTries(() => 0);
  for (let n = 0; n < 9; n++) tries.failed('a');
  tries.succeeded('a');
  expect(tries.waitMs('a')).toBe(0);
});

test('guesses from many addresses are no quicker; those who came in before, and this machine, do not wait for them', () => {
  let now = 0;
  const tries = createTries(() => now);
  tries.know('owner');
  let guesses = 0;
  for (; now < 600_000; now += 100) {
    const caller = `address ${now % 120_000}`;
    if (tries.waitMs(caller) > 0) continue;
    tries.failed(caller);
    guesses += 1;
    expect([tries.waitMs('owner'), tries.waitMs('127.0.0.1')]).toEqual([0, 0]);
  }
  // Ten a minute, whatever the addresses; it was as many as there were addresses.
  expect(guesses).toBeLessThanOrEqual(100);
  expect(guesses).toBeGreaterThan(50);
});

test('callers beyond count are forgotten, the oldest first', () => {
  let now = 0;
  const tries = createTries(() => now);
  for (let caller = 0; caller < 3000; caller++) for (let n = 0; n < 4; n++) tries.failed(String(caller));
  // Behind a minute only their own count.
  now = 61_000;
  expect([tries.waitMs('0'), tries.waitMs('2999')]).toEqual([0, 0]);
  for (let n = 0; n < 6; n++) tries.failed('2999');
  expect(tries.waitMs('2999')).toBe(128_000);
});

test('what the workshop is locked by comes from the environment, and a weak one is refused', () => {
  const env = (change: Record<string, string>) => readLock({ NODE_ENV: 'test', ...change });
  expect(env({})).toBeNull();
  expect(env({ BOLD_EMBER_PASSPHRASE: 'harbour lantern' })).toEqual({ passphrase: 'harbour lantern' });
  expect(() => env({ BOLD_EMBER_PASSPHRASE: 'x'.repeat(leastLength - 1) })).toThrow('too short');
  expect(() => env({ BOLD_EMBER_PASSPHRASE_HASH: 'plain' })).toThrow('not an Argon2id hash');
});
