import 'server-only';
import { database } from '@/records/database';
import { version } from '@/package.json';

/** 200 while the database answers, 503 while it does not. */
export async function health(): Promise<Response> {
  const there = await database()
    .query('select 1')
    .then(() => true)
    .catch(() => false);
  return Response.json(
    { status: there ? 'ok' : 'degraded', database: there ? 'ok' : 'away', version },
    { status: there ? 200 : 503 },
  );
}
