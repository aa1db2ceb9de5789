import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { unzipSync, zipSync } from 'fflate';
import Papa from 'papaparse';
import type { Pool } from 'pg';
import { addBatch, modelNamed } from './batches';
import { type PackageDescription, writePackage } from './dataPackage';
import { checkPackage, readPackage } from './dataPackageIn';
import { fileEntry } from './ledger';
import { keepRunFile, packedFile } from './runFiles';
import { addRunOf } from './runs';
import { poolOn, type Scratch, scratchDatabase, scratchModel, scratchPack, scratchWorkshop } from './scratchDatabase';
import { gzipSync } from 'node:zlib';

let folder: string;
let filled: Scratch;
let empty: Scratch;
const oddText = 'a "quoted", note\nwith two lines; and <b>marks</b>';
const formulas = ['=1+1', '+49 30', '-3', '@home', '\tx', "'=1", "''", 'a=b', '="x"'];
const arrived = gzipSync(Buffer.from('Time (s),Voltage (V)\n0,4.1\n10,4.05\n'));

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'package-'));
  [filled, empty] = [await scratchWorkshop(), await scratchDatabase()];
  await fill(filled.pool);
});

afterAll(async () => {
  await rm(folder, { recursive: true });
  await filled.drop();
  await empty.drop();
});

async function fill(pool: Pool): Promise<void> {
  const model = await scratchModel(pool);
  await modelNamed(pool, { ...model, maker: 'Ø, "M"', name: '', chemistry: 'nimh' }).catch(() => undefined);
  await addBatch(pool, { code: 'T1', origin: oddText, modelId: model.id, count: 3, bondedPlaces: [[1, 2]] });
  const packId = await scratchPack(pool, 'PT1');
  const connection = await pool.connect();
  try {
    await connection.query('begin');
    await fileEntry(connection, {
      entry: '5a1c2f3e-0b1a-4c9d-8e7f-6a5b4c3d2e1f',
      subjectIds: [packId],
      state: 'rest',
      takenAt: new Date('2026-03-29T01:30:00.123Z'),
      bodies: [3.712, 1e-7, 3.7000000000000006].map((voltageV, i) => ({
        kind: 'voltage' as const,
        position: i + 1,
        voltageV,
        step: 0.001,
      })),
    });
    await fileEntry(connection, {
      entry: '6a1c2f3e-0b1a-4c9d-8e7f-6a5b4c3d2e1f',
      subjectIds: [packId],
      bodies: [
        { kind: 'inspection', findings: ['swollen', 'lead'] },
        { kind: 'note', text: oddText },
      ],
    });
    for (const text of formulas)
      await fileEntry(connection, { entry: randomUUID(), subjectIds: [packId], bodies: [{ kind: 'note', text }] });
    const samples = [0, 10, 20].map((timeS) => ({
      timeS,
      voltageV: 4.1 - timeS / 300,
      currentA: null,
      temperatureC: 21,
    }));
    const { id } = await addRunOf(
      connection,
      { subjectIds: [packId], fileName: 'a "log".csv', contentSha256: Buffer.alloc(32, 7), endedAt: new Date() },
      { load: { kind: 'current', currentA: 1 } },
      samples,
    );
    const file = join(folder, 'arrived.gz');
    await writeFile(file, arrived);
    await keepRunFile(connection, id, createReadStream(file));
    await connection.query('commit');
  } finally {
    connection.release();
  }
}

async function packed(pool: Pool, name: string): Promise<{ file: string; description: PackageDescription }> {
  const file = join(folder, name);
  return { file, description: await writePackage(pool, createWriteStream(file)) };
}

const isAbout = ({ path }: { path: string }) => path.startsWith('data/') || path.startsWith('files/');

test('a package reads back into an empty workshop without loss, files as they arrived included', async () => {
  const { file, description } = await packed(filled.pool, 'one.zip');
  const rows = await readPackage(empty.pool, file);
  expect(rows.get('voltage')).toBe(3);
  // None is a formula to a spreadsheet, and each is what it was.
  const { rows: notes } = await empty.pool.query<{ text: string }>('select text from note order by text');
  expect(notes.map(({ text }) => text).sort()).toEqual([oddText, ...formulas].sort());
  const again = await packed(empty.pool, 'two.zip');
  // Every table and every file, byte for byte.
  const hashes = (of: PackageDescription) => of.resources.filter(isAbout).map(({ path, hash }) => [path, hash]);
  expect(hashes(again.description)).toEqual(hashes(description));
  const { rows: runs } = await empty.pool.query<{ id: number }>('select id from run');
  const parts: Buffer[] = [];
  for await (const part of packedFile(empty.pool, runs[0]?.id ?? 0)) parts.push(part);
  expect(Buffer.concat(parts).equals(arrived)).toBe(true);
  // What is filed next is counted on behind what came.
  const model = await scratchModel(empty.pool);
  await addBatch(empty.pool, { code: 'T2', origin: 'after', modelId: model.id, count: 2 });
});

test('it is read by others: its tables are CSV as RFC 4180 has it, its description says what they hold', async () => {
  const { file, description } = await packed(filled.pool, 'three.zip');
  const archive = unzipSync(new Uint8Array(await readFile(file)));
  expect(JSON.parse(Buffer.from(archive['datapackage.json'] ?? []).toString())).toEqual(description);
  const noted = Papa.parse<Record<string, string>>(Buffer.from(archive['data/note.csv'] ?? []).toString(), {
    header: true,
    skipEmptyLines: true,
  });
  expect(noted.errors).toEqual([]);
  expect(noted.data.map(({ text }) => text)).toEqual([
    oddText,
    ...formulas.map((text) => (text === 'a=b' ? text : `'${text}`)),
  ]);
  const voltage = description.resources.find(({ path }) => path === 'data/voltage.csv');
  expect(voltage).toMatchObject({
    rows: 3,
    schema: { fields: expect.arrayContaining([expect.objectContaining({ name: 'voltage_v', type: 'number' })]) },
  });
  // Access is not part of the data.
  for (const secret of ['passphrase', 'api_key', 'session']) expect(archive).not.toHaveProperty(`data/${secret}.csv`);
});

test('a workshop that holds something, a package that was changed, cut or is none, are refused; nothing is stored', async () => {
  const { file } = await packed(filled.pool, 'four.zip');
  await expect(readPackage(filled.pool, file)).rejects.toThrow('not empty');
  const archive = unzipSync(new Uint8Array(await readFile(file)));
  const fresh = await scratchDatabase();
  try {
    const stored = async () => (await fresh.pool.query('select from subject')).rowCount;
    const broken: [string, Uint8Array, string][] = [
      ['changed.zip', zipSync({ ...archive, 'data/note.csv': Buffer.from('entry_id,text\n2,other\n') }), 'was changed'],
      ['none.zip', zipSync({ 'a.txt': Buffer.from('no') }), 'no package of a workshop'],
      ['cut.zip', (await readFile(file)).subarray(0, 4000), 'cut short'],
      [
        'older.zip',
        zipSync({ 'datapackage.json': Buffer.from('{"schemaVersion":"0001","resources":[]}') }),
        'up to date',
      ],
    ];
    for (const [name, bytes, said] of broken) {
      await writeFile(join(folder, name), bytes);
      await expect(readPackage(fresh.pool, join(folder, name))).rejects.toThrow(said);
      expect(await stored()).toBe(0);
    }
    // Once it is whole, the same workshop takes it.
    await readPackage(fresh.pool, file);
    expect(await stored()).toBe(4);
  } finally {
    await fresh.drop();
  }
});

describe('a package that does not fit is refused in words, and nothing is stored', () => {
  let fresh: Scratch;
  beforeAll(async () => {
    fresh = await scratchDatabase();
  });
  afterAll(() => fresh.drop());

  /** The package with a file changed and described as it is now. */
  async function changed(path: string, change: (bytes: Buffer) => Buffer): Promise<string> {
    const { file } = await packed(filled.pool, 'whole.zip');
    const archive = unzipSync(new Uint8Array(await readFile(file)));
    const bytes = change(Buffer.from(archive[path] ?? []));
    const description = JSON.parse(Buffer.from(archive['datapackage.json'] ?? []).toString()) as PackageDescription;
    const hash = `sha256:${createHash('sha256').update(bytes).digest('hex')}`;
    const resources = description.resources.map((one) =>
      one.path === path ? { ...one, bytes: bytes.length, hash } : one,
    );
    const odd = join(folder, 'odd.zip');
    const changedDescription = Buffer.from(JSON.stringify({ ...description, resources }));
    await writeFile(odd, zipSync({ ...archive, [path]: bytes, 'datapackage.json': changedDescription }));
    return odd;
  }
  const fileOf = async () =>
    (await packed(filled.pool, 'whole.zip')).description.resources.find(({ path }) => path.startsWith('files/'))
      ?.path ?? '';

  test.each<[string, string, (text: string) => string, RegExp]>([
    [
      'two columns swapped',
      'data/voltage.csv',
      (text) => text.replace('position,voltage_v', 'voltage_v,position'),
      /voltage\.csv does not fit: .*header/,
    ],
    ['a column named otherwise', 'data/note.csv', (text) => text.replace('text', 'words'), /note\.csv does not fit/],
    [
      'a reading of no entry',
      'data/note.csv',
      (text) => text.replace(/\n\d+,/, '\n999999,'),
      /note\.csv does not fit: .*not present/,
    ],
    ['a figure that is none', 'data/voltage.csv', (text) => text.replace('3.712', 'x'), /voltage\.csv does not fit/],
  ])('%s', async (_, path, change, said) => {
    const odd = await changed(path, (bytes) => Buffer.from(change(bytes.toString())));
    await expect(readPackage(fresh.pool, odd)).rejects.toThrow(said);
    expect((await fresh.pool.query('select from subject')).rowCount).toBe(0);
  });

  test('a kept file that is cut short, or is of no run', async () => {
    const odd = await changed(await fileOf(), (bytes) => bytes.subarray(0, -6));
    await expect(readPackage(fresh.pool, odd)).rejects.toThrow('no whole gzip file');
    const whole = await changed(await fileOf(), (bytes) => bytes);
    await expect(checkPackage(whole)).resolves.toBeUndefined();
  });
});

test.each<[string, string]>([
  ['house rules', "insert into house_rules (name, limits) values ('ours', '{}')"],
  [
    'attended',
    "insert into attended (id, from_at, to_at) values (gen_random_uuid(), now(), now() + interval '1 hour')",
  ],
  ['protocol', 'update protocol set archived_at = now() where id = 1'],
  ['protocol', "insert into protocol (name, method, hold_s) values ('mine', 'resistor', 10)"],
])('a workshop that holds %s alone is not empty', async (what, made) => {
  const { file } = await packed(filled.pool, 'five.zip');
  const own = await scratchWorkshop();
  try {
    await own.pool.query(made);
    await expect(readPackage(own.pool, file)).rejects.toThrow(`not empty: it holds ${what}`);
  } finally {
    await own.drop();
  }
});

test('what is filed while a package is read waits, and the package is refused where it came first', async () => {
  const { file } = await packed(filled.pool, 'six.zip');
  const own = await scratchWorkshop();
  const filing = await own.pool.connect();
  try {
    await filing.query('begin');
    await filing.query("insert into batch (code, origin) values ('Q1', 'meanwhile')");
    const reading = readPackage(own.pool, file);
    reading.catch(() => undefined);
    await filing.query('commit');
    await expect(reading).rejects.toThrow('not empty: it holds batch');
  } finally {
    filing.release();
    await own.drop();
  }
});

test('a reader that stops in the middle of a table takes no connection with it', async () => {
  const own = await scratchWorkshop();
  const pool = poolOn(own.url, 1);
  try {
    // More than what lies between a table and its reader.
    await own.pool.query(
      "insert into batch (code, origin) select 'X' || n, repeat(md5(n::text), 500) from generate_series(1, 2000) n",
    );
    let taken = 0;
    const reader = new Writable({
      highWaterMark: 1024,
      write(part: Buffer, _encoding, next) {
        taken += part.length;
        // It takes a little, then nothing, and is ended.
        if (taken < 5000) next();
        else setImmediate(() => reader.destroy(new Error('gone')));
      },
    });
    await expect(writePackage(pool, reader)).rejects.toThrow();
    expect((await pool.query('select 1 as one')).rows).toEqual([{ one: 1 }]);
  } finally {
    await pool.end();
    await own.drop();
  }
});
