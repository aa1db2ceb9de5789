import { createReadStream, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import type { Pool } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { BenchServer } from './server';
import { type BenchRow, middle, seconds } from './table';

const samples = 1_000_000;
const repeats = 3;

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
export async function benchImporting(server: BenchServer, pool: Pool, code: string): Promise<BenchRow[]> {
  const { csv, rows } = writeLogs();
  await pool.query('create table bench_sample (like sample including indexes)');
  await pool.query('alter table bench_sample alter run_id set default 0');
  const [ours, reference]: [number[], number[]] = [[], []];
  const idle = server.memory();
  let peak = idle;
  const watch = setInterval(() => {
    peak = Math.max(peak, server.memory());
  }, 20);
  for (let n = 0; n < repeats; n++) {
    // Another first line each time, since the same file is stored once only.
    const body = Readable.from(withHeading(csv, `# ${n}\n`));
    let began = performance.now();
    const answer = await fetch(
      `${server.url}/api/v1/runs?subject=${code}&load=current:0.5&endedAt=2026-11-05T18:30:00Z`,
      {
        method: 'POST',
        headers: { 'content-type': 'text/csv' },
        body: Readable.toWeb(body) as BodyInit,
        duplex: 'half',
      } as RequestInit,
    );
    if (answer.status !== 201) throw new Error(`The import answered ${answer.status}: ${await answer.text()}`);
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
  const ratio = middle(ours) / middle(reference);
  return [
    {
      what: `import of ${samples.toLocaleString('en')} samples (${(statSync(csv).size / 2 ** 20).toFixed(0)} MB CSV)`,
      ours: seconds(middle(ours)),
      reference: `COPY alone ${seconds(middle(reference))}`,
      ratio: ratio.toFixed(2),
    },
    {
      what: 'memory of the server during it, above idle',
      ours: `${((peak - idle) / 2 ** 20).toFixed(0)} MB`,
      reference: 'limit 300 MB',
      ratio: ((peak - idle) / 2 ** 20 / 300).toFixed(2),
    },
  ];
}

async function* withHeading(file: string, heading: string): AsyncGenerator<Buffer> {
  yield Buffer.from(heading);
  for await (const part of createReadStream(file, { highWaterMark: 1 << 16 })) yield part as Buffer;
}
