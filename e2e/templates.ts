import { makeWorkshopTemplate, scratchDatabase } from '../records/scratchDatabase';
import { execFileSync } from 'node:child_process';

/** Makes a workshop opened for the first time and the demo workshop, once; each file's workshop is a copy of one. */
export default async function templates(): Promise<() => Promise<void>> {
  const opened = await makeWorkshopTemplate();
  const demo = await scratchDatabase(opened.name);
  execFileSync('npx', ['tsx', 'demo/fill.ts'], { env: { ...process.env, DATABASE_URL: demo.url }, stdio: 'pipe' });
  process.env.DEMO_TEMPLATE = demo.name;
  return async () => {
    await demo.drop();
    await opened.drop();
  };
}
