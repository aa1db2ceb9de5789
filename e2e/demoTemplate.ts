import { scratchDatabase } from '../records/scratchDatabase';
import { execFileSync } from 'node:child_process';

/** Fills the demo workshop once; each worker that wants one takes a copy. */
export default async function demoTemplate(): Promise<() => Promise<void>> {
  const { url, drop } = await scratchDatabase();
  execFileSync('npx', ['tsx', 'demo/fill.ts'], { env: { ...process.env, DATABASE_URL: url }, stdio: 'pipe' });
  process.env.DEMO_TEMPLATE = new URL(url).pathname.slice(1);
  return drop;
}
