import { createByteLog } from '@/core/capacity/logBytes';
import Papa from 'papaparse';
import { createReadStream, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { once } from 'node:events';
import { type IncomingMessage, request as httpRequest } from 'node:http';
import { text } from 'node:stream/consumers';
import type { Pool } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { Served } from '@/e2e/server';
import { type BenchRow, medianOf, seconds } from './table';

const samples = 1_000_000;
const repeats = 5;

/** A discharge of a million samples, as CSV and as the rows that PostgreSQL's COPY reads. */
function writeLogs(): { csv: string; rows: string } {
  const csv = join(tmpdir(), `bold-ember-bench-${process.pid}.csv`);
  const rows = `${csv}.rows`;
  const csvLines = ['Time (s),Voltage (V),Temperature (C)'];
  const rowLines: string[] = [];
  for (let i = 0; i < samples; i++) {
    const t = i / 100;
    const v = (4.15 - (1.2 * i) / samples + ((i * 7) % 5) / 2000).toFixed(4);
    csvLines.push(`${t},${v},21.5`);
    rowLines.push(`${i}\t${t}\t${v}\t\\N\t21.5`);
  }
  writeFileSync(csv, `${csvLines.join('\n')}\n`);
  writeFileSync(rows, `${rowLines.join('\n')}\n`);
  return { csv, rows };
}

/** A million-sample CSV through the API (parse, integrate, COPY) against COPY of the same rows into an equal table. */
export async function benchImporting(server: Served, pool: Pool, code: string): Promise<BenchRow[]> {
  const { csv, rows } = writeLogs();
  // What the database tidies up behind the reference is not to fall into our own time.
  await pool.query(`create table bench_sample (
    run_id integer not null default 0, seq integer not null, time_s double precision not null,
    voltage_v double precision not null, current_a double precision, temperature_c double precision,
    primary key (run_id, seq)) with (autovacuum_enabled = false)`);
  const [ours, reference]: [number[], number[]] = [[], []];
  const idle = server.memory();
  let peak = idle;
  const watch = setInterval(() => {
    peak = Math.max(peak, server.memory());
  }, 20);
  let runId = 0;
  for (let n = 0; n < repeats; n++) {
    // Another first line each time, since the same file is stored once only.
    let began = performance.now();
    runId = await sendLog(
      `${server.url}/api/v1/runs?subject=${code}&load=current:0.5&endedAt=2026-11-05T18:30:00Z`,
      csv,
      `# ${n}\n`,
    );
    ours.push(performance.now() - began);

    await pool.query('truncate bench_sample');
    const connection = await pool.connect();
    began = performance.now();
    await connection.query('begin');
    await pipeline(
      createReadStream(rows, { highWaterMark: 1 << 18 }),
      connection.query(copyFrom('copy bench_sample (seq, time_s, voltage_v, current_a, temperature_c) from stdin')),
    );
    await connection.query('commit');
    reference.push(performance.now() - began);
    connection.release();
  }
  clearInterval(watch);
  const ratio = medianOf(ours) / medianOf(reference);
  const memory = (peak - idle) / 2 ** 20;
  const space = await spaceOf(pool, runId);
  return [
    {
      what: `import of ${samples.toLocaleString('en')} samples (${(statSync(csv).size / 2 ** 20).toFixed(0)} MB CSV)`,
      ours: seconds(medianOf(ours)),
      reference: `COPY alone ${seconds(medianOf(reference))}`,
      ratio: ratio.toFixed(2),
    },
    {
      what: 'memory of the server during it, above idle',
      ours: `${memory.toFixed(0)} MB`,
      reference: `limit ${mostMemoryMb} MB`,
      ratio: (memory / mostMemoryMb).toFixed(2),
    },
    {
      what: 'space of that run, its file included',
      ours: `${space.ours.toFixed(1)} MB`,
      reference: `the same rows in a plain table ${space.plain.toFixed(1)} MB`,
      ratio: (space.ours / space.plain).toFixed(2),
    },
    ...(await benchReading(csv)),
    await benchRunPage(server, runId),
  ];
}

const mostMemoryMb = 200;

/** On disk, MB: the newest run's samples and file, and the reference's rows with their key. */
async function spaceOf(pool: Pool, runId: number): Promise<{ ours: number; plain: number }> {
  const { rows } = await pool.query<{ ours: string; plain: string }>(
    `select (pg_total_relation_size('sample_block') + pg_total_relation_size('run_file')) / 2 ^ 20
         * (select samples from run_layout where run_id = $1) / (select sum(samples) from run_layout) as ours,
       pg_total_relation_size('bench_sample') / 2 ^ 20 as plain`,
    [runId],
  );
  return { ours: Number(rows[0]?.ours), plain: Number(rows[0]?.plain) };
}

/** Our reader, which understands what it reads, against papaparse without any meaning. */
async function benchReading(csv: string): Promise<BenchRow[]> {
  const [ours, reference]: [number[], number[]] = [[], []];
  for (let n = 0; n < repeats; n++) {
    let began = performance.now();
    let count = 0;
    const log = createByteLog(() => (count += 1));
    for await (const part of createReadStream(csv, { highWaterMark: 1 << 18 })) log.push(part as Buffer);
    log.finish();
    if (count !== samples) throw new Error(`${count} samples were read of ${samples}`);
    ours.push(performance.now() - began);

    began = performance.now();
    await new Promise((complete, error) => {
      Papa.parse(createReadStream(csv, { highWaterMark: 1 << 18 }), { step: () => undefined, complete, error });
    });
    reference.push(performance.now() - began);
  }
  return [
    {
      what: 'reading alone of that CSV',
      ours: seconds(medianOf(ours)),
      reference: `papaparse ${seconds(medianOf(reference))}`,
      ratio: (medianOf(ours) / medianOf(reference)).toFixed(2),
    },
  ];
}

async function benchRunPage(server: Served, runId: number): Promise<BenchRow> {
  const time = async (path: string): Promise<number> => {
    const times: number[] = [];
    for (let n = 0; n < 2 * repeats + 1; n++) {
      const began = performance.now();
      await (await fetch(`${server.url}${path}`)).text();
      times.push(performance.now() - began);
    }
    return medianOf(times);
  };
  // Until all cells are judged, the server has other things to do.
  for (let n = 0; n < 10; n++) await time(`/capacity/${runId}`);
  const [page, health] = [await time(`/capacity/${runId}`), await time('/api/v1/health')];
  return {
    what: 'page of a run of a million samples, beside four others of its cell (limit 100 ms)',
    ours: seconds(page),
    reference: `health check ${seconds(health)}`,
    ratio: (page / health).toFixed(0),
  };
}

/** Sends a log as the reference is sent: from the file into the socket. Returns the run it became. */
async function sendLog(url: string, file: string, heading: string): Promise<number> {
  const request = httpRequest(url, { method: 'POST', headers: { 'content-type': 'text/csv' } });
  const answered = once(request, 'response') as Promise<[IncomingMessage]>;
  request.write(heading);
  await pipeline(createReadStream(file, { highWaterMark: 1 << 18 }), request);
  const [answer] = await answered;
  const said = await text(answer);
  if (answer.statusCode !== 201) throw new Error(`The import answered ${answer.statusCode}: ${said}`);
  return (JSON.parse(said) as { id: number }).id;
}
