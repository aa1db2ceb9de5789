import type { Pool } from 'pg';
import { serve } from '@/e2e/server';
import { fillShelf } from './shelf';
import { type BenchRow, medianOf, seconds } from './table';
import { fileMany } from '@/records/manyEntries';

const sizes = [
  { cells: 10_000, limit: '100 ms' },
  { cells: 100_000, limit: '1 s' },
];
const repeats = 5;

const pages = [
  '/intake',
  '/intake/Z0003',
  '/instruments',
  '/resistance',
  '/resistance/3',
  '/resistance/compare',
  '/resistance/predict',
  '/capacity',
  '/self-discharge',
  '/shelf?view=map',
  '/shelf?view=tray',
  '/shelf?view=table&sort=capacity',
  '/cells/Z0003-004',
  '/builds',
  '/clinic',
  '/rescue/Z0003-004',
  '/upkeep',
  '/upkeep/Z0003-004?goal=charge&volts=3.7&label=1',
  '/upkeep/plan',
  '/upkeep/use',
  '/retire/Z0003-004',
  '/handbook',
  '/handbook/spreadOutV',
  '/rules',
  '/truth',
  '/access',
];

/** Two protocols on the cells of half the batches, so that there is something to compare. */
async function measureTwice(pool: Pool): Promise<void> {
  await pool.query(`
    with given as (
      select id, row_number() over (order by id) as n
      from batch
      where id % 2 = 0 and not exists (select from round where batch_id = batch.id and method = 'ac-meter')),
    opened as (insert into occasion (kind) select 'round' from given returning id),
    placed as (select id, row_number() over (order by id) as n from opened)
    insert into round (batch_id, protocol_id, method, occasion_id)
    select given.id, (select min(id) from protocol where method = 'ac-meter'), 'ac-meter', placed.id
    from given join placed using (n)`);
  await fileMany(pool, {
    from: `from subject join round on round.batch_id = subject.batch_id and round.method = 'ac-meter'
      where not exists (select from entry where entry.occasion_id = round.occasion_id)`,
    into: 'resistance',
    values: { resistance_ohm: '0.02 + (subject.id % 50) / 10000.0', step: 0.0001, open_v: 4.15 },
    occasion: 'round.occasion_id',
  });
  await pool.query('vacuum analyze');
}

async function timed(url: string): Promise<number> {
  const began = performance.now();
  const answer = await fetch(url);
  await answer.text();
  if (!answer.ok) throw new Error(`${url} answered ${answer.status}`);
  return performance.now() - began;
}

async function medianOfRuns(url: string): Promise<number> {
  const times: number[] = [];
  for (let n = 0; n < repeats; n++) times.push(await timed(url));
  return medianOf(times);
}

/** Every station with 10 000 and with 100 000 cells and runs, against the health check; and what a start looks like. */
export async function benchPages(databaseUrl: string, pool: Pool): Promise<BenchRow[]> {
  const rows: BenchRow[] = [];
  for (const { cells, limit } of sizes) {
    await fillShelf(pool, cells);
    await measureTwice(pool);
    const server = await serve(databaseUrl);
    try {
      const began = performance.now();
      // What a person sees while all cells are still being judged.
      const early = await timed(`${server.url}/shelf?view=table`);
      let slowest = 0;
      while ((await (await fetch(`${server.url}/rules`)).text()).includes('Judging all cells'))
        slowest = Math.max(slowest, await timed(`${server.url}/api/v1/health`));
      const whole = performance.now() - began;
      const health = await medianOfRuns(`${server.url}/api/v1/health`);
      const row = (what: string, ms: number): BenchRow => ({
        what,
        ours: seconds(ms),
        reference: `health check ${seconds(health)}`,
        ratio: (ms / health).toFixed(0),
      });
      const count = cells.toLocaleString('en');
      rows.push(
        row(`${count} cells: the first page after a start`, early),
        row(`${count} cells: all judged after`, whole),
        row(`${count} cells: slowest health check meanwhile`, slowest),
      );
      for (const page of pages)
        rows.push(row(`${count} cells and runs: ${page} (limit ${limit})`, await medianOfRuns(server.url + page)));
      rows.push({
        what: `${count} cells: memory of the server`,
        ours: `${(server.memory() / 2 ** 20).toFixed(0)} MB`,
        reference: '–',
        ratio: '–',
      });
    } finally {
      await server.stop();
    }
  }
  return rows;
}

const matchSize = { series: 14, parallel: 20, count: 400, bonds: 5 };

/** How often the match is asked for, one after the other. */
const matches = 6;

/** A heavy match asked of the server, and what a health check takes meanwhile (limit 50 ms). */
export async function benchMatchBeside(url: string): Promise<BenchRow[]> {
  const { series, parallel, count, bonds } = matchSize;
  const cells = Array.from({ length: count }, (_, i) => ({
    id: `c${i}`,
    capacityAh: 1.4 + ((i * 7919) % 1201) / 1000,
    resistanceOhm: 0.05,
    ...(i < 2 * bonds ? { bond: `b${i >> 1}` } : {}),
  }));
  const body = JSON.stringify({ series, parallel, cells });
  /** Every health check that was answered while one match was under way. */
  const besideOne = async (): Promise<{ ms: number; checks: number[] }> => {
    const began = performance.now();
    let going = true;
    const match = fetch(`${url}/api/v1/compute/match`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    }).then(async (answer) => {
      const text = await answer.text();
      if (!answer.ok) throw new Error(`The match answered ${answer.status}: ${text}`);
      going = false;
      return performance.now() - began;
    });
    const checks: number[] = [];
    while (going) checks.push(await timed(`${url}/api/v1/health`));
    return { ms: await match, checks };
  };
  const health = await medianOfRuns(`${url}/api/v1/health`);
  const first = await besideOne();
  const ms: number[] = [];
  const checks: number[] = [];
  for (let n = 0; n < matches; n++) {
    const one = await besideOne();
    ms.push(one.ms);
    checks.push(...one.checks);
  }
  const row = (what: string, time: number): BenchRow => ({
    what,
    ours: seconds(time),
    reference: `health check at rest ${seconds(health)}`,
    ratio: (time / health).toFixed(1),
  });
  return [
    row(`match ${series} × ${parallel} of ${count} with ${bonds} bonded pairs, by the API (middle)`, medianOf(ms)),
    row(`health check meanwhile, middle of ${checks.length} (limit 50 ms)`, medianOf(checks)),
    row('health check meanwhile, slowest (limit 50 ms)', Math.max(...checks)),
    row('health check beside the very first match after a start, slowest', Math.max(...first.checks)),
  ];
}
