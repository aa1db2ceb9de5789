import 'server-only';
import { type ImportedLog, importLog, noFile, readAnew } from './importLog';
import { database } from '@/records/database';
import { runFile } from '@/records/runFiles';
import { namedMappings } from '@/records/logMappings';
import { runById } from '@/records/runs';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { groupsTold, loadOf } from './compute';
import { mostReadingBytes, readJson } from './jsonBody';
import { Refusal } from './respond';
import { told } from './told';
import { layoutRequest, type namedMappingsResponse, runQuery, type runResponse } from './schemas';

const serial = z.coerce.number().int().positive().max(2_147_483_647);

/** The file that a run came from, byte for byte as it arrived. */
export async function arrivedFile(id: string): Promise<Response> {
  const runId = serial.safeParse(id);
  const db = database();
  const run = runId.success ? await runById(db, runId.data) : null;
  if (!run) throw new Refusal(404, 'no-such-run', `There is no run ${id}.`);
  const file = await runFile(db, run.id);
  if (!file) throw noFile(run.id);
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
  const stored = await importLog(
    {
      code: query.subject,
      fileName: query.fileName,
      load: loadOf(query.load),
      loadTolerance: query.loadTolerance ?? null,
      logger: query.logger ?? null,
      endedAt,
      mapping: query.mapping ?? null,
      keepAs: query.keepMappingAs ?? null,
      groups: query.groups ?? null,
    },
    request.body,
    request.signal,
  );
  return runTold(stored);
}

/** Reads the file of a run otherwise than before. */
export async function layOutRun(id: string, request: Request): Promise<z.infer<typeof runResponse>> {
  const runId = serial.safeParse(id);
  if (!runId.success) throw new Refusal(404, 'no-such-run', `There is no run ${id}.`);
  const { load, ...told } = layoutRequest.parse(await readJson(request, mostReadingBytes));
  return runTold(await readAnew(runId.data, { load: loadOf(load), ...told }, request.signal));
}

const runTold = ({ id, code, result, notices }: ImportedLog): z.infer<typeof runResponse> => ({
  id,
  subject: code,
  samples: result.samples,
  capacityAh: result.capacityAh.value,
  standardUncertaintyAh: result.capacityAh.u,
  reachedCutoff: result.reachedCutoff,
  groups: groupsTold(result.groups),
  warnings: told(notices),
});

/** The mappings that are kept under a name. */
export async function listMappings(): Promise<z.infer<typeof namedMappingsResponse>> {
  return { mappings: await namedMappings(database()) };
}
