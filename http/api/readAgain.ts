import 'server-only';
import { subjectByCode } from '@/records/cells';
import { database } from '@/records/database';
import { runFile } from '@/records/runFiles';
import { runById } from '@/records/runs';
import { allInstruments } from '@/workshop/instruments';
import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { ImportedLog } from './importLog';
import { storeAs, storingAll, type LogDescription } from './logLayout';
import { Refusal } from './respond';

/**
 * Reads the file of a run again, as described now: from then on its samples and figures are these.
 *
 * @throws Refusal for a run that is not there, void, or whose file was not kept; ImpossibleInput for what is no log so
 */
export async function readAgain(
  runId: number,
  description: LogDescription,
  signal?: AbortSignal,
): Promise<ImportedLog> {
  const db = database();
  const run = await runById(db, runId);
  const subject = run && (await subjectByCode(db, run.code));
  if (!run || !subject) throw new Refusal(404, 'no-such-run', `There is no run ${runId}.`);
  if (run.voidReason !== null)
    throw new Refusal(409, 'void', `Capacity test ${runId} is void; import its file once more to read it otherwise.`);
  const kept = await runFile(db, runId);
  if (!kept) throw noFile(runId);
  const logger = run.loggerId === null ? undefined : (await allInstruments(db)).find(({ id }) => id === run.loggerId);
  return storingAll(async (folder, storing) => {
    const file = join(folder, 'log');
    await pipeline(kept, createWriteStream(file, { mode: 0o600 })).catch((error: unknown) => {
      throw /^Z_/.test((error as { code?: string }).code ?? '') ? damagedFile(runId) : error;
    });
    const decide = async () => {
      signal?.throwIfAborted();
      storing();
      return { run: runId, keep: null };
    };
    const { read } = await storeAs(description, { file, subject, ranges: logger?.ranges ?? null }, decide, signal);
    return { id: runId, code: run.code, result: read.result, notices: [...read.notices, ...read.result.warnings] };
  });
}

const damagedFile = (runId: number): Refusal =>
  new Refusal(
    409,
    'file-damaged',
    `The kept file of run ${runId} is damaged. Its samples are not; import its log again.`,
  );

export const noFile = (runId: number): Refusal =>
  new Refusal(404, 'no-file', `The file of run ${runId} was not kept: it came before files were. Its samples are.`);
