import 'server-only';
import { importLog } from './importLog';
import { database } from '@/records/database';
import { curveOf } from '@/records/runs';
import { after } from 'next/server';
import type { z } from 'zod';
import { groupsTold, loadOf } from './compute';
import { told } from './told';
import { runQuery, type runResponse } from './schemas';

/** Keeps the CSV log in a request's body with its cell or pack. */
export async function keepRun(request: Request): Promise<z.infer<typeof runResponse>> {
  const query = runQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
  const endedAt = query.endedAt === undefined ? null : new Date(query.endedAt);
  const { id, code, result, notices } = await importLog(
    {
      code: query.subject,
      fileName: query.fileName,
      load: loadOf(query.load),
      loadTolerance: query.loadTolerance ?? null,
      logger: query.logger ?? null,
      endedAt,
      groups: query.groups ?? null,
    },
    request.body,
    request.signal,
  );
  // Whoever looks at the curve first need not wait for a million samples to be gone through.
  after(() => curveOf(database(), id));
  return {
    id,
    subject: code,
    samples: result.samples,
    capacityAh: result.capacityAh.value,
    standardUncertaintyAh: result.capacityAh.u,
    reachedCutoff: result.reachedCutoff,
    groups: groupsTold(result.groups),
    warnings: told(notices),
  };
}
