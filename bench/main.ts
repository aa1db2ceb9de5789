import { migrate } from '@/records/migrate';
import { database } from '@/records/database';
import { execSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import { benchImporting } from './importing';
import { benchMatching } from './matching';
import { serve } from './server';
import { benchShelf, fillShelf } from './shelf';
import { markdownTable } from './table';

const versionOf = (name: string): string => (JSON.parse(readFileSync(`node_modules/${name}/package.json`, 'utf8')) as { version: string }).version;

/** Runs every benchmark, prints the table and keeps it in docs/benchmarks.md. */
async function main(): Promise<void> {
  await migrate();
  const pool = database();
  const code = await fillShelf(pool);
  const server = await serve(process.env.DATABASE_URL ?? '');
  const served = await (async () => [...(await benchImporting(server, pool, code)), ...(await benchShelf(server, pool))])().finally(() => server.stop());
  const { rows } = await pool.query<{ version: string }>("select current_setting('server_version') as version");
  await pool.end();
  const matching = await benchMatching();

  const machine = `${cpus().length} × ${cpus()[0]?.model.trim()}, ${(totalmem() / 2 ** 30).toFixed(0)} GiB; Node ${process.version}, PostgreSQL ${rows[0]?.version.split(' ')[0]}, Next ${versionOf('next')}, highs ${versionOf('highs')}; commit ${execSync('git rev-parse --short HEAD').toString().trim()}, ${new Date().toISOString().slice(0, 10)}`;
  const report = `# Benchmarks\n\nMade by \`npm run bench\`: each line in one run against a named reference on the same machine.\n\n${machine}\n\n${markdownTable([...matching, ...served])}\n`;
  writeFileSync('docs/benchmarks.md', report);
  console.log(report);
}

main().catch((error: unknown) => {
  console.error(error);
  process.exitCode = 1;
});
