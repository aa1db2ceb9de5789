/** How often a server that started without its database looks for it, ms. */
const lookAgainMs = 1000;

/**
 * Runs once as the server starts, before it answers: brings the database up to date, and then what is kept computed. A
 * database that is away is brought up to date as soon as it is there; health and every page say so meanwhile.
 */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  if (await isReady()) return;
  console.error('The database does not answer; bin/db start starts it. The server looks for it every second.');
  const looking = setInterval(() => {
    void isReady().then((ready) => {
      if (ready) clearInterval(looking);
    });
  }, lookAgainMs);
}

let underWay: Promise<boolean> | null = null;
const isReady = (): Promise<boolean> =>
  (underWay ??= makeReady().finally(() => {
    underWay = null;
  }));

/** False while the database is away. Ends the server where its tables cannot be brought up to date. */
async function makeReady(): Promise<boolean> {
  const { migrate, MigrationStopped } = await import('./records/migrate');
  const { isDatabaseAway } = await import('./records/database');
  try {
    await migrate();
  } catch (error) {
    if (isDatabaseAway(error)) return false;
    console.error(error instanceof MigrationStopped ? error.message : error);
    process.exit(1);
  }
  const { clearKilledRestore } = await import('./records/restore');
  await clearKilledRestore(process.env.DATABASE_URL ?? '').catch((error: Error) => {
    // Without the right to it there is nothing that this server could have left.
    console.error(`What a killed restore may have left was not looked for: ${error.message}`);
  });
  const { readyCrews } = await import('@/workshop/pool');
  await readyCrews();
  const { judgeRunsInForce } = await import('@/workshop/judgeRun');
  // Logs that an older arithmetic judged; the server answers meanwhile.
  void judgeRunsInForce().catch((error: unknown) => console.error(error));
  return true;
}
