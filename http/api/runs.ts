import 'server-only';
import { importLog } from './importLog';
import { database } from '@/records/database';
import { runFile } from '@/records/runFiles';
import { runById } from '@/records/runs';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { groupsTold, loadOf } from './compute';
import { Refusal } from './respond';
import { told } from './told';
import { runQuery, type runResponse } from './schemas';

const serial = z.coerce.number().int().positive().max(2_147_483_647);

/** The file that a run came from, byte for byte as it arrived. */
export async function arrivedFile(id: string): Promise<Response> {
  const runId = serial.safeParse(id);
  const db = database();
  const run = runId.success ? await runById(db, runId.data) : null;
  if (!run) throw new Refusal(404, 'no-such-run', `There is no run ${id}.`);
  const file = await runFile(db, run.id);
  if (!file)
    throw new Refusal(
      404,
      'no-file',
      `The file of run ${id} was not kept: it came before files were. Its samples are.`,
    );
  return new Response(Readable.toWeb(file) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': 'application/octet-stream',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(run.fileName)}`,
      'cache-control': 'no-store',
    },
  });
}

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
