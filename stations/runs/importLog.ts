import 'server-only';
import { createCsvLog } from '@/core/capacity/csvLog';
import { createDischargeMeter, type Discharge, dischargeArithmetic, type DischargeLoad } from '@/core/capacity/discharge';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import type { Warning } from '@/core/warning';
import { cellByCode } from '@/records/cells';
import { database, inTransaction, refusedBy } from '@/records/database';
import { rulesInForce } from '@/records/houseRules';
import { addRun, copySamples, keepResult, reserveRunId, runWithContent } from '@/records/runs';
import { createSampleRows } from '@/records/sampleRows';
import { csvTextOf } from '@/stations/api/csvBody';
import { Refusal } from '@/stations/api/respond';
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { temporaryFolder } from '@/records/temporary';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';

export interface LogImport {
  code: string;
  fileName: string;
  load: DischargeLoad;
  endedAt: Date;
}

export interface ImportedLog {
  id: number;
  code: string;
  result: Discharge;
  notices: Warning[];
}

/**
 * Reads a log as it arrives, in constant memory: understands it, integrates it and writes its samples to a file of its
 * own; then stores run, samples and result in one transaction. Nothing is stored of a log that cannot be read, of one
 * that is stored already, or when the database goes away.
 *
 * @throws Refusal for an unknown cell, a known file, too large a file; ImpossibleInput for what is no log
 */
export async function importLog({ code, fileName, load, endedAt }: LogImport, body: ReadableStream<Uint8Array> | null): Promise<ImportedLog> {
  const db = database();
  const cell = await cellByCode(db, code);
  if (!cell) throw new Refusal(404, 'no-such-cell', `There is no cell ${code}.`, [{ path: 'cell', message: `There is no cell ${code}.` }]);
  const cutoffV = lowestVoltageV(cell.chemistry, (await rulesInForce(db)).limits);
  const runId = await reserveRunId(db);
  const folder = await temporaryFolder();
  const spool = join(folder, 'samples');
  try {
    const read = await readLog(runId, load, cutoffV, body, spool);
    const known = await runWithContent(db, read.contentSha256);
    if (known) throw alreadyHere(known);
    await inTransaction(async (connection) => {
      await addRun(connection, runId, { ...read, cellId: cell.id, fileName, load, endedAt, samples: read.result.samples });
      await copySamples(connection, createReadStream(spool, { highWaterMark: 1 << 18 }));
      await keepResult(connection, runId, cutoffV, dischargeArithmetic, read.result);
    });
    return { id: runId, code, result: read.result, notices: [...read.notices, ...read.result.warnings] };
  } catch (error) {
    // Another import of the same file came first.
    if (refusedBy(error)?.constraint === 'run_content_once') throw alreadyHere(null);
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

const alreadyHere = (known: { id: number; code: string } | null): Refusal =>
  new Refusal(409, 'already-imported', known ? `This very file is run ${known.id} of ${known.code} already; nothing was changed.` : 'This very file is stored already; nothing was changed.');

async function readLog(runId: number, load: DischargeLoad, cutoffV: number, body: ReadableStream<Uint8Array> | null, spool: string) {
  const hash = createHash('sha256');
  const meter = createDischargeMeter({ load, cutoffV });
  const file = createWriteStream(spool);
  const rows = createSampleRows(runId, (portion) => file.write(portion));
  const log = createCsvLog((sample) => {
    meter.push(sample);
    rows.push(sample);
  });
  try {
    for await (const text of csvTextOf(body, (bytes) => hash.update(bytes))) {
      log.push(text);
      if (file.writableNeedDrain) await once(file, 'drain');
    }
    const end = log.finish();
    if (load.kind === 'column' && !end.columns.some((column) => column.field === 'current')) {
      throw new Refusal(400, 'no-current', 'This log has no column of current; say which resistor or which current was the load.', [{ path: 'load', message: 'No column of current was found.' }]);
    }
    rows.finish();
    return { contentSha256: hash.digest(), columns: end.columns, notices: end.warnings, voltageStepV: end.voltageStepV, result: meter.finish(end.voltageStepV) };
  } finally {
    file.end();
    await finished(file);
  }
}
