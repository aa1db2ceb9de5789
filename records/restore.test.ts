import { execFileSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { dump } from './archive';
import { backUp, backUpInto, lastBackupAt } from './backup';
import { addApiKey, beginSession, isApiKey, listApiKeys, listSessions, withdrawApiKey } from './access';
import { addBatch } from './batches';
import { database, filingDatabase, prepared } from './database';
import { clearKilledRestore, exclusively, forgetRestores, restore, undoRestore } from './restore';
import { type Scratch, scratchModel, scratchWorkshop } from './scratchDatabase';

let scratch: Scratch;
let folder: string;
let file: string;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  folder = await mkdtemp(join(tmpdir(), 'bold-ember-test-'));
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 6 });
  file = join(folder, 'good.backup');
  await backUp(scratch.url, file);
});

afterAll(async () => {
  await forgetRestores(scratch.url);
  await database().end();
  await filingDatabase().end();
  await scratch.drop();
  await rm(folder, { recursive: true });
});

const cells = async () =>
  (await database().query<{ count: number }>('select count(*) as count from subject')).rows[0]?.count;
const addCell = () =>
  database().query(
    `insert into subject (code, batch_id, model_id, place)
      select 'T1-' || lpad(n::text, 3, '0'), 1, 1, n
      from (select max(place) + 1 as n from subject) next`,
  );
const refusal = (work: Promise<unknown>) =>
  work.then(
    () => 'done',
    (error: Error) => error.message,
  );

describe('a file that is no whole backup changes nothing', () => {
  const pgDump = (...more: string[]) => {
    const { hostname, port, username, password, pathname } = new URL(scratch.url);
    return execFileSync('pg_dump', ['-h', hostname, '-p', port, '-U', username, ...more, pathname.slice(1)], {
      env: { ...process.env, PGPASSWORD: password },
    });
  };
  const whole = () => readFile(file);
  test.each<[string, () => Promise<Buffer | string>, RegExp]>([
    ['text', async () => 'Dear neighbour,\nthe cells are in the shed.\n', /no backup of a workshop/],
    ['nothing', async () => '', /no backup of a workshop/],
    [
      'anything',
      async () => Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 256)),
      /no backup of a workshop/,
    ],
    ['a dump as SQL', async () => pgDump(), /no backup of a workshop/],
    [
      'a dump cut in the middle',
      async () => (await whole()).subarray(0, (await whole()).length / 2),
      /cut short or damaged/,
    ],
    ['a dump short of its last byte', async () => (await whole()).subarray(0, -1), /cut short or damaged/],
    ['a dump of the schema alone', async () => pgDump('--format=custom', '--schema-only'), /no workshop/],
    ['a dump of something else', async () => pgDump('--format=custom', '--table=protocol'), /no workshop/],
  ])('%s', async (name, content, expected) => {
    const odd = join(folder, `${name}.odd`);
    await writeFile(odd, await content());
    expect(await refusal(restore(scratch.url, odd))).toMatch(expected);
    expect(await cells()).toBe(6);
  });

  test('one without a trigger that guards facts, or from a newer version', async () => {
    const other = await scratchWorkshop();
    try {
      await other.pool.query('drop trigger keep on entry');
      await dump(other.url, join(folder, 'unguarded'));
      expect(await refusal(restore(scratch.url, join(folder, 'unguarded')))).toMatch(
        /lacks what guards the facts: trigger keep on entry/,
      );
      await other.pool.query("insert into migration (name) values ('9999-later.sql')");
      await dump(other.url, join(folder, 'newer'));
      expect(await refusal(restore(scratch.url, join(folder, 'newer')))).toMatch(
        /newer version of the workshop \(9999-later.sql\)/,
      );
    } finally {
      await other.drop();
    }
    expect(await cells()).toBe(6);
  });
});

test('a restore exchanges everything at once under a running application, and can be undone', async () => {
  let asking = true;
  const seen = new Set<number | undefined>();
  const questions = (async () => {
    while (asking) {
      seen.add(await cells());
      await prepared(filingDatabase(), 'select count(*) from subject', []);
    }
  })();
  await addCell();
  const { archive, before, keptAs } = await restore(scratch.url, file);
  expect(Date.now() - ((await lastBackupAt(database()))?.getTime() ?? 0)).toBeLessThan(120_000);
  expect([archive.rows.get('subject'), before.get('subject'), await cells()]).toEqual([6, 7, 6]);
  await addCell();
  await addCell();
  const undone = await undoRestore(scratch.url);
  expect(undone.broughtBack).toBe(keptAs);
  expect(await cells()).toBe(7);
  asking = false;
  await questions;
  expect([...seen].every((count) => count === 6 || count === 7 || count === 8)).toBe(true);
  expect(await forgetRestores(scratch.url)).toEqual([undone.keptAs]);
  expect(await refusal(undoRestore(scratch.url))).toMatch(/nothing was put aside/);
});

describe('one restore at a time', () => {
  const names = async () =>
    (await database().query<{ name: string }>('select datname as name from pg_database')).rows.map(({ name }) => name);

  test('a second one at the same time is refused, and so is an undo; the workshop is as the first left it', async () => {
    const both = await Promise.all([refusal(restore(scratch.url, file)), refusal(restore(scratch.url, file))]);
    expect(both.filter((said) => said === 'done')).toHaveLength(1);
    expect(both.filter((said) => /is running/.test(said))).toHaveLength(1);
    await exclusively(scratch.url, async () => {
      expect(await refusal(undoRestore(scratch.url))).toMatch(/is running/);
    });
    expect(await cells()).toBe(6);
  });

  test('what a killed one left goes at the next start, and with what is let go of', async () => {
    const left = [`${scratch.name}_restoring`, `${scratch.name}_reference`];
    for (const name of left) await database().query(`create database ${name} template template0`);
    await exclusively(scratch.url, async () => {
      await clearKilledRestore(scratch.url);
      expect(await names()).toEqual(expect.arrayContaining(left));
    });
    await clearKilledRestore(scratch.url);
    expect((await names()).filter((name) => left.includes(name))).toEqual([]);
    await database().query(`create database ${left[0]} template template0`);
    expect(await forgetRestores(scratch.url)).toContain(left[0]);
  });

  test('what was put aside last is brought back first, whatever the clock said', async () => {
    await restore(scratch.url, file);
    const ahead = jest.spyOn(Date.prototype, 'toISOString').mockReturnValue('2039-01-01T00:00:00.000Z');
    await addCell();
    await restore(scratch.url, file);
    ahead.mockRestore();
    await addCell();
    await addCell();
    const { keptAs } = await restore(scratch.url, file);
    expect((await undoRestore(scratch.url)).broughtBack).toBe(keptAs);
    expect(await cells()).toBe(8);
    await forgetRestores(scratch.url);
  });

  test('keys that were withdrawn since the backup stay withdrawn, also when the restore is undone', async () => {
    const key = await addApiKey(database(), 'gadget');
    const calendar = await addApiKey(database(), 'phone', 'calendar');
    const withKeys = join(folder, 'with-keys.backup');
    await backUp(scratch.url, withKeys);
    const [newest, second] = await listApiKeys(database());
    await withdrawApiKey(database(), newest?.id ?? 0);
    await restore(scratch.url, withKeys);
    expect([await isApiKey(database(), key), await isApiKey(database(), calendar, 'calendar')]).toEqual([true, false]);
    await withdrawApiKey(database(), second?.id ?? 0);
    await beginSession(database(), 1000, 'test');
    await undoRestore(scratch.url);
    expect(await isApiKey(database(), key)).toBe(false);
    expect(await listSessions(database())).toEqual([]);
  });
});

describe('a backup', () => {
  test('is for its owner alone, and the workshop knows when it was made', async () => {
    expect((await stat(file)).mode & 0o777).toBe(0o600);
    expect(Date.now() - ((await lastBackupAt(database()))?.getTime() ?? 0)).toBeLessThan(120_000);
  });

  test('that fails leaves the one before as it was, and nothing beside it', async () => {
    const before = await readFile(file);
    const away = new URL(scratch.url);
    away.pathname = '/there_is_no_such_database';
    expect(await refusal(backUp(away.href, file))).toMatch(/does not exist/);
    expect((await readFile(file)).equals(before)).toBe(true);
    expect((await readdir(folder)).filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  test('by a timer keeps the newest, and leaves files of other names alone', async () => {
    const kept = join(folder, 'kept');
    await backUpInto(scratch.url, kept, 2);
    await writeFile(join(kept, 'notes.txt'), 'mine');
    for (const day of ['01', '02', '03']) await writeFile(join(kept, `workshop-202001${day}T000000Z.backup`), 'old');
    const { file: newest, gone } = await backUpInto(scratch.url, kept, 2);
    expect(gone).toContain('workshop-20200101T000000Z.backup');
    const left = await readdir(kept);
    expect(left).toContain('notes.txt');
    expect(left.filter((name) => name.endsWith('.backup'))).toHaveLength(2);
    expect(left).toContain(newest.split('/').pop());
    const ahead = jest.spyOn(Date.prototype, 'toISOString').mockReturnValue('2039-01-01T00:00:00.000Z');
    const later = await backUpInto(scratch.url, kept, 2);
    ahead.mockRestore();
    const last = await backUpInto(scratch.url, kept, 1);
    expect((await readdir(kept)).filter((name) => name.endsWith('.backup'))).toEqual([last.file.split('/').pop()]);
    expect(last.gone).toContain(later.file.split('/').pop());
  });
});
