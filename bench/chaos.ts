import { seededChance } from '@/core/statistics/random';
import { allCellIds } from '@/records/cells';
import { migrate } from '@/records/migrate';
import { fileEntry } from '@/records/ledger';
import { beginPeriod } from '@/records/periods';
import { scratchPack, scratchPackRound } from '@/records/scratchDatabase';
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { actKinds, type Acts, prepareActs } from './acts';
import { openPair, type Pair } from './pair';
import { keepSection, option, table } from './reliability';
import { serve } from '@/e2e/server';
import { fillShelf } from './shelf';

const rounds = option('rounds', 100);
const chance = seededChance(option('seed', 20_261_125));
const url = process.env.DATABASE_URL ?? '';
const folder = mkdtempSync(join(tmpdir(), 'bold-ember-chaos-'));

/** What may be killed without a word, each in its turn. */
const targets = [
  'one server',
  'database',
  'both servers',
  'everything',
  'restore',
  'servers during a restore',
  'database during a restore',
] as const;
type Target = (typeof targets)[number];

/** Where the cluster of this run lies: the command that started it says so. */
const cluster = process.env.CHAOS_CLUSTER ?? '';

const acknowledged = { readings: new Map<string, Line>(), runs: new Map<number, number>() };
const counts = { kills: 0, sentAgain: 0, imports: 0, matches: 0, restores: 0, restoresKilled: 0 };
const faults: string[] = [];

async function asked<T>(work: (db: Client) => Promise<T>): Promise<T> {
  const client = new Client({ connectionString: url });
  await client.connect();
  return work(client).finally(() => client.end());
}

function killDatabase(): void {
  const file = join(cluster, 'postmaster.pid');
  if (existsSync(file)) process.kill(Number(readFileSync(file, 'utf8').split('\n')[0]), 'SIGKILL');
}

/** Starts it again; what the kill left of it may take a moment to go. */
async function startDatabase(): Promise<void> {
  for (let tries = 0; tries < 20; tries++) {
    try {
      execFileSync('bin/db', ['start'], { stdio: 'ignore', env: { ...process.env, DATABASE_URL: '' } });
      return;
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
  }
  throw new Error('The database did not come back.');
}

/** How many values each kind of line leaves. */
const rowsOf = { cell: 1, pair: 2, pack: 3, rescue: 3, use: 3 };
const kinds = ['pair', 'cell', 'pack', 'rescue', 'use'] as const;

interface Line {
  entry: string;
  /** Of a welded pair both or neither are to have it, of a pack, a rescue or a use all groups or none. */
  of: keyof typeof rowsOf;
  text: string;
  ohm: number;
}

/** The rounds that lines are filed in. */
interface Rounds {
  cells: number;
  packs: number;
}

let nextOhm = 200_000;
/** Every reading has a figure of its own, so that each can be found again. */
function newLine(): Line {
  nextOhm += 1;
  const of = kinds[nextOhm % kinds.length] ?? 'cell';
  const isVolts = of === 'rescue' || of === 'use';
  return {
    entry: crypto.randomUUID(),
    of,
    text: isVolts ? (nextOhm / 100_000).toFixed(5) : `${(nextOhm / 10_000).toFixed(4)} mΩ`,
    ohm: nextOhm,
  };
}

/** True once the server said that it is stored; false where it is not known. */
async function file(server: string, rounds: Rounds, line: Line): Promise<boolean> {
  const { entry, text, of } = line;
  const groups = `${text} ${text} ${text}`;
  const ofPack = {
    pack: { text: `PZ1 ${groups}`, confirmed: true, round: rounds.packs },
    rescue: { text: `PZ2 ${groups}`, rescue: true },
    use: { text: `PZ3 back ${groups} 9min`, confirmed: true },
  };
  const [path, body] =
    of === 'pack' || of === 'rescue' || of === 'use'
      ? ['/api/v1/entries', { entry, ...ofPack[of] }]
      : [
          `/resistance/${rounds.cells}/readings`,
          {
            entry,
            text: `${of === 'pair' ? 'Z0001-003+004' : 'Z0001-001'} ${text}`,
            confirmed: true,
            current: null,
            circumstances: {},
            replaces: null,
            seen: null,
          },
        ];
  const answer = await fetch(server + path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
    .then(async (given) => ({ isCreated: given.status === 201, ...((await given.json()) as { ok?: boolean }) }))
    // An answer that was cut off says nothing.
    .catch(() => null);
  const isFiled = answer?.ok === true || answer?.isCreated === true;
  if (isFiled) acknowledged.readings.set(entry, line);
  return isFiled;
}

let nextLog = 0;
const samples = 40_000;
async function importLog(server: string): Promise<void> {
  nextLog += 1;
  const ofPack = nextLog % 2 === 0;
  const volts = (i: number) => (4.1 - (1.2 * i) / samples).toFixed(4);
  const rows = Array.from(
    { length: samples },
    (_, i) => `${i},${ofPack ? [volts(i), volts(0.9 * i), volts(0.8 * i)].join() : volts(i)}\n`,
  );
  const csv = `# ${nextLog}\ntime,${ofPack ? 'cell1,cell2,cell3' : 'voltage'}\n${rows.join('')}`;
  const answer = await fetch(
    `${server}/api/v1/runs?subject=${ofPack ? 'PZ1' : 'Z0001-002'}&load=current:0.5&loadTolerance=0.02` +
      '&endedAt=2026-11-05T18:30:00Z',
    {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body: csv,
    },
  )
    .then((given) => given.json() as Promise<{ id?: number; samples?: number }>)
    .catch(() => null);
  if (answer?.id === undefined) return;
  counts.imports += 1;
  acknowledged.runs.set(answer.id, answer.samples ?? 0);
  // Half of them are read otherwise at once: every reading is there whole, or not at all.
  if (nextLog % 4 < 2)
    await fetch(`${server}/api/v1/runs/${answer.id}/layouts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ load: 'resistor:8', loadTolerance: 0.01 }),
    }).catch(() => undefined);
}

async function match(server: string): Promise<void> {
  const cells = Array.from({ length: 200 }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 1.4 + ((i * 7919) % 1201) / 1000,
    resistanceOhm: 0.05,
    ...(i < 10 ? { bond: `b${i >> 1}` } : {}),
  }));
  const answer = await fetch(`${server}/api/v1/compute/match`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ series: 10, parallel: 15, cells }),
  }).then(
    (given) => given.ok,
    () => false,
  );
  if (answer) counts.matches += 1;
}

/** Every acknowledged fact is there once, and no run is half stored. */
async function verify(round: string): Promise<void> {
  await asked(async (db) => {
    const { rows } = await db.query<{ entry: string; ohm: number; count: string }>(
      `select uid as entry, min(resistance_ohm) as ohm, count(*) as count
       from resistance join entry on entry.id = entry_id join entry_subject using (entry_id)
       group by uid
       union all
       -- A figure is as many hundredths of a millivolt as others are tenths of a micro-ohm.
       select uid, voltages_v[1] / 100, cardinality(voltages_v)
       from rescue_reading join entry on entry.id = entry_id join entry_subject using (entry_id)
       union all
       select uid, min(voltage_v) / 100, count(*)
       from voltage
       join brought_back using (entry_id)
       join run_time using (entry_id)
       join entry on entry.id = entry_id
       group by uid`,
    );
    const stored = new Map(rows.map((row) => [row.entry, row]));
    for (const [entry, { ohm, of }] of acknowledged.readings) {
      const row = stored.get(entry);
      if (!row) faults.push(`${round}: reading ${ohm} was acknowledged and is lost`);
      else if (Number(row.count) !== rowsOf[of] || Math.round(row.ohm * 1e7) !== ohm)
        faults.push(`${round}: reading ${ohm} is stored ${row.count} times as ${row.ohm}`);
    }
    const runs = await db.query<{ id: number; samples: number; stored: string }>(
      `select run.id, layout.samples,
          (select sum(cardinality(voltage_v)) from sample_block where layout_id = layout.id) as stored
        from run left join run_layout layout on run_id = run.id
        where file_name <> 'bench.csv'`,
    );
    const byId = new Map(runs.rows.map((row) => [row.id, row]));
    for (const id of acknowledged.runs.keys())
      if (!byId.has(id)) faults.push(`${round}: run ${id} was acknowledged and is lost`);
    for (const row of runs.rows)
      if (row.samples !== Number(row.stored))
        faults.push(`${round}: run ${row.id} has ${row.stored} of ${row.samples} samples`);
    const bodies = await db.query<{ all: string }>(
      `select string_agg(format('select entry_id from %I', table_name), ' union ') as all
       from information_schema.columns
       where table_schema = 'public' and column_name = 'entry_id'
         and table_name not in ('entry_subject', 'notebook_entry')`,
    );
    const bodiless = await db.query<{ id: number }>(
      `select id from entry where id not in (${bodies.rows[0]?.all ?? ''}) limit 1`,
    );
    for (const { id } of bodiless.rows) faults.push(`${round}: entry ${id} is there without what it filed`);
    const guarded = await db.query("select 1 from pg_trigger where tgname = 'keep' and tgrelid = 'entry'::regclass");
    if (!guarded.rowCount) faults.push(`${round}: the trigger that guards readings is gone`);
  });
}

const tool = (...given: string[]): ChildProcess =>
  spawn(process.execPath, ['--import', 'tsx', 'records/command.ts', process.cwd(), ...given], {
    env: { ...process.env, DATABASE_URL: url },
    stdio: 'ignore',
  });

async function oneRound(n: number, target: Target, pair: Pair, into: Rounds, acts: Acts): Promise<void> {
  const server = pair;
  const kind = actKinds[n % actKinds.length] ?? 'undo';
  const pause = 300 + 2500 * chance.uniform();
  const waiting: Line[] = [];
  let restoring: ChildProcess | null = null;
  let going = true;
  const work: Promise<unknown>[] = [match(server.url)];
  if (target.includes('restore')) {
    // Everything acknowledged is in the file, so that it must be there whether the exchange came to pass or not.
    const saved = join(folder, `round${n}.backup`);
    const saving = tool('backup', saved);
    await once(saving, 'exit');
    counts.restores += 1;
    restoring = tool('restore', saved);
  } else {
    // A server that was just started takes a second for its first screen: the kill lands in later ones.
    await acts.act(kind, server.url);
    work.push(importLog(server.url));
    work.push(
      (async () => {
        while (going && (await acts.act(kind, server.url)));
      })(),
    );
    for (let client = 0; client < 3; client++) {
      work.push(
        (async () => {
          while (going) {
            const line = newLine();
            if (!(await file(server.url, into, line))) {
              waiting.push(line);
              return;
            }
          }
        })(),
      );
    }
  }
  await new Promise((resolve) => setTimeout(resolve, pause));
  counts.kills += 1;
  if (target === 'restore') {
    if (restoring?.exitCode === null) counts.restoresKilled += 1;
    restoring?.kill('SIGKILL');
  }
  if (target.startsWith('database') || target === 'everything') killDatabase();
  const killed = killedOf(target, n);
  for (const which of killed) pair.servers[which]?.kill();
  await Promise.all(work.slice(0, 2));
  going = false;
  await Promise.all(work);
  if (restoring && restoring.exitCode === null && restoring.signalCode === null) await once(restoring, 'exit');
  await startDatabase();
  for (const which of killed) pair.servers[which] = await serve(url);
  await settled(pair.url);
  for (const line of waiting) {
    counts.sentAgain += 1;
    for (let tries = 0; tries < 20 && !(await file(pair.url, into, line)); tries++)
      await new Promise((resolve) => setTimeout(resolve, 200));
    if (!acknowledged.readings.has(line.entry)) faults.push(`round ${n}: ${line.text} could not be filed afterwards`);
  }
  await verify(`round ${n} (${target})`);
  await asked(async (db) => {
    for (const fault of await acts.faults(db)) faults.push(`round ${n} (${target}, ${kind}): ${fault}`);
  });
}

/** Which of the two servers are killed. */
function killedOf(target: Target, n: number): number[] {
  if (target === 'one server') return [n % 2];
  return /servers|everything/.test(target) ? [0, 1] : [];
}

/** Waits until the server answers and its database with it. */
async function settled(server: string): Promise<void> {
  for (let tries = 0; tries < 300; tries++) {
    if (
      await fetch(`${server}/api/v1/health`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  faults.push('The server did not answer again.');
}

async function main(): Promise<void> {
  const { database } = await import('@/records/database');
  await migrate();
  await fillShelf(database(), 500);
  await fileEntry(database(), {
    entry: crypto.randomUUID(),
    subjectIds: (await allCellIds(database())).slice(2, 4),
    bodies: [{ kind: 'weld' }],
  });
  const free = Array.from({ length: 380 }, (_, i) => `Z0001-${i + 101}`);
  let undone = 0;
  const acts = await prepareActs(database(), free, () => {
    const entry = [...acknowledged.readings.keys()][undone];
    if (entry !== undefined) undone += 1;
    return entry;
  });
  await database().end();
  const into = await asked(async (db): Promise<Rounds> => {
    await scratchPack(db, 'PZ1', rowsOf.pack);
    await scratchPack(db, 'PZ3', rowsOf.use);
    await beginPeriod(db, {
      kind: 'rescue',
      subjectIds: [await scratchPack(db, 'PZ2', rowsOf.rescue)],
      beganAt: new Date(),
      plannedS: 7200,
      bodies: [{ kind: 'rescue', currentA: 0.2, belowSince: null }],
    });
    const { rows } = await db.query<{ id: number }>(
      `with opened as (insert into occasion (kind) values ('round') returning id)
       insert into round (batch_id, protocol_id, method, occasion_id)
       select (select min(id) from batch), (select min(id) from protocol where method = 'ac-meter'), 'ac-meter', id
       from opened
       returning id`,
    );
    return { cells: rows[0]?.id as number, packs: (await scratchPackRound(db, 'ac-meter')).id };
  });
  const pair = await openPair(url);
  const began = performance.now();
  for (let n = 1; n <= rounds; n++) await oneRound(n, targets[(n - 1) % targets.length] as Target, pair, into, acts);
  const seconds = (performance.now() - began) / 1000;
  await pair.stop();
  const text = table([
    ['rounds, each with a kill (−9)', rounds],
    ...targets.map((target): [string, number] => [
      `of the ${target}`,
      Math.ceil((rounds - targets.indexOf(target)) / targets.length),
    ]),
    ['readings acknowledged', acknowledged.readings.size],
    ['lines without an answer, sent again', counts.sentAgain],
    [`logs of ${samples.toLocaleString('en')} samples acknowledged`, counts.imports],
    ...actKinds.map((kind): [string, number] => [`acts acknowledged: ${kind}`, acts.counts[kind]]),
    ['matches answered', counts.matches],
    ['restores begun', counts.restores],
    ['restores killed before their end', counts.restoresKilled],
    ['facts lost, doubled or half stored; servers that did not come back', faults.length],
    ['seconds', seconds.toFixed(0)],
  ]);
  console.log(text);
  for (const fault of faults.slice(0, 20)) console.error(fault);
  if (process.argv.includes('--keep'))
    keepSection(
      'Chaos',
      'Two servers on one database behind a proxy. Three clients file readings, one imports logs, and one undoes, ' +
        'exports, mends a pack, retires packs (twice at once), brings notebooks or adopts house rules, while ' +
        'processes are killed; backups are restored while processes are killed. After each round every acknowledged ' +
        `fact is looked for in the database. Seeded.\n\n${text}`,
    );
  if (faults.length > 0) process.exitCode = 1;
}

void main().finally(() => rmSync(folder, { recursive: true, force: true }));
