import 'server-only';
import { database } from '@/records/database';
import { isUpToDate } from '@/records/migrate';
import type { healthResponse } from './schemas';
import { version } from '@/package.json';
import type { z } from 'zod';

/** 200 while the database answers and has the tables of this version, else 503. */
export async function health(): Promise<Response> {
  const db = database();
  const isThere = await db.query('select 1').then(
    () => true,
    () => false,
  );
  const hasTables = isThere && (await isUpToDate(db).catch(() => false));
  const answer: z.infer<typeof healthResponse> = {
    status: hasTables ? 'ok' : 'degraded',
    database: isThere ? 'ok' : 'away',
    schema: hasTables ? 'ok' : 'behind',
    version,
  };
  return Response.json(answer, { status: hasTables ? 200 : 503 });
}
