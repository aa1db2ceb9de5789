import { migrate } from '@/records/migrate';
import { database } from '@/records/database';
import { execSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import { benchCurves } from './curves';
import { benchDiagnosing } from './diagnosing';
import { benchImporting } from './importing';
import { benchMatching } from './matching';
import { benchMatchBeside, benchPages } from './pages';
import { benchPlanning } from './planning';
import { benchRounds } from './rounds';
import { serve } from '@/e2e/server';
import { benchShelf, fillShelf } from './shelf';
import { benchSimulating } from './simulating';
import { benchSteps } from './steps';
import { markdownTable } from './table';

const versionOf = (name: string): string =>
  (JSON.parse(readFileSync(`node_modules/${name}/package.json`, 'utf8')) as { version: string }).version;

/**
 * Runs every benchmark, prints the table and keeps it in docs/benchmarks.md.
 * With names (`npm run bench -- importing shelf`) it runs and prints only those.
 */
async function main(only: string[]): Promise<void> {
  const wanted = (name: string): boolean => only.length === 0 || only.includes(name);
  await migrate();
  const pool = database();
  const code = await fillShelf(pool);
  const url = process.env.DATABASE_URL ?? '';
  const server = await serve(url);
  const served = await (async () => [
    ...(wanted('importing') ? await benchImporting(server, pool, code) : []),
    ...(wanted('curves') ? await benchCurves(server, code.replace(/1$/, '2')) : []),
    ...(wanted('shelf') ? await benchShelf(server, pool) : []),
    ...(wanted('rounds') ? await benchRounds(server, pool) : []),
    ...(wanted('match') ? await benchMatchBeside(server.url) : []),
  ])().finally(() => server.stop());
  const pages = wanted('pages') ? await benchPages(url, pool) : [];
  const { rows } = await pool.query<{ version: string }>("select current_setting('server_version') as version");
  await pool.end();
  const steps = wanted('steps') ? benchSteps() : [];
  const matching = wanted('matching') ? await benchMatching() : [];
  const simulating = wanted('simulating') ? benchSimulating() : [];
  const planning = wanted('planning') ? await benchPlanning() : [];
  const diagnosing = wanted('diagnosing') ? benchDiagnosing() : { rows: [], report: '' };

  const machine =
    `${cpus().length} × ${cpus()[0]?.model.trim()}, ${(totalmem() / 2 ** 30).toFixed(0)} GiB; Node ` +
    `${process.version}, PostgreSQL ${rows[0]?.version.split(' ')[0]}, Next ${versionOf('next')}, highs ` +
    `${versionOf('highs')}; commit ${execSync('git rev-parse --short HEAD').toString().trim()}, ` +
    `${new Date().toISOString().slice(0, 10)}`;
  const rowsOfAll = [...matching, ...simulating, ...served, ...pages, ...steps, ...planning, ...diagnosing.rows];
  const report =
    `# Benchmarks\n\nMade by \`npm run bench\`: each line in one run against a named reference on the same ` +
    `machine.\n\n${machine}\n\n${markdownTable(rowsOfAll)}\n\n${diagnosing.report}\n`;
  if (only.length === 0) writeFileSync('docs/benchmarks.md', report);
  console.log(report);
}

main(process.argv.slice(2)).catch((error: unknown) => {
  console.error(error);
  process.exitCode = 1;
});
