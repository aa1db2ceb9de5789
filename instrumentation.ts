/**
 * Runs once as the server starts, before it answers: brings the database up to date, and then what is kept computed.
 */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { migrate, MigrationStopped } = await import('./records/migrate');
  const { isDatabaseAway } = await import('./records/database');
  try {
    await migrate();
    const { readyCrews } = await import('@/workshop/pool');
    await readyCrews();
    const { judgeRunsInForce } = await import('@/workshop/judgeRun');
    // Logs that an older arithmetic judged; the server answers meanwhile.
    void judgeRunsInForce().catch((error: unknown) => console.error(error));
  } catch (error) {
    if (error instanceof MigrationStopped) {
      console.error(error.message);
      process.exit(1);
    }
    // Without its database the server still tells so, at /api/v1/health and on every page.
    if (!isDatabaseAway(error)) throw error;
    console.error('The database cannot be reached; start it with bin/db start, then restart.');
  }
}
