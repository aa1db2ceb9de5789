import 'server-only';
import { type ImportedLog, importLog } from './importLog';
import { noFile, readAgain } from './readAgain';
import { database } from '@/records/database';
import { runFile } from '@/records/runFiles';
import { namedMappings } from '@/records/logMappings';
import type { z } from 'zod';
import { groupsAnswer, loadOf } from './compute';
import { mostReadingBytes, readJson } from './jsonBody';
import { asFile } from './download';
import { runOfAddress } from './samples';
import { warningsAnswer } from './warningsAnswer';
import { layoutRequest, type namedMappingsResponse, runQuery, type runResponse } from './schemas';

/** The file that a run came from, byte for byte as it arrived. */
export async function arrivedFile(id: string): Promise<Response> {
  const run = await runOfAddress(id);
  const file = await runFile(database(), run.id);
  if (!file) throw noFile(run.id);
  return asFile(file, 'application/octet-stream', run.fileName);
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
  return runAnswer(stored);
}

/** Reads the file of a run otherwise than before. */
export async function layOutRun(id: string, request: Request): Promise<z.infer<typeof runResponse>> {
  const run = await runOfAddress(id);
  const { load, ...told } = layoutRequest.parse(await readJson(request, mostReadingBytes));
  return runAnswer(await readAgain(run.id, { load: loadOf(load), ...told }, request.signal));
}

const runAnswer = ({ id, code, result, notices }: ImportedLog): z.infer<typeof runResponse> => ({
  id,
  subject: code,
  samples: result.samples,
  capacityAh: result.capacityAh.value,
  standardUncertaintyAh: result.capacityAh.u,
  reachedCutoff: result.reachedCutoff,
  groups: groupsAnswer(result.groups),
  warnings: warningsAnswer(notices),
});

/** The mappings that are kept under a name. */
export async function listMappings(): Promise<z.infer<typeof namedMappingsResponse>> {
  return { mappings: await namedMappings(database()) };
}
