import 'server-only';
import { allInstruments } from '@/workshop/instruments';
import { judgeRunsInForce } from '@/workshop/judgeRun';
import { rulesInForce } from '@/workshop/rules';
import { type Discharge, dischargeArithmetic, type DischargeLoad } from '@/core/capacity/discharge';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import type { Warning } from '@/core/warning';
import { type LogMapping, shapeOf } from '@/core/capacity/logMapping';
import { momentOf } from '@/core/capacity/loggedMoment';
import { logToolsOf } from '@/core/capacity/logTools';
import { type LoggedSubject, subjectByCode } from '@/records/cells';
import { roundsOfPack } from '@/records/packs';
import { looksTurned } from '@/core/packs/groupOrder';
import { database, inTransaction, noteNothingStored, refusedBy } from '@/records/database';
import { keepMapping } from '@/records/logMappings';
import { keepRunFile, runFile } from '@/records/runFiles';
import { addLayout, addRun, keepResult, reserveLayoutId, runById, runWithContent } from '@/records/runs';
import { copySamples } from '@/records/sampleBlocks';
import { spoolBody } from './logBody';
import { Refusal } from './respond';
import { now } from '@/workshop/clock';
import { inBackground } from '@/workshop/pool';
import type { LogReading } from '@/workshop/tasks';
import type { PoolClient } from 'pg';
import { createReadStream, createWriteStream } from 'node:fs';
import { temporaryFolder } from '@/records/temporary';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';

export interface LogImport {
  code: string;
  fileName: string;
  load: DischargeLoad;
  /** Limit of the resistor or the set current, a share; null where nobody said. */
  loadTolerance?: number | null;
  /** Code of the instrument that logged it; null where nobody said. */
  logger?: string | null;
  /** When the log ended; null where its own dates shall tell. */
  endedAt: Date | null;
  /** What its columns are; null where they tell by themselves. */
  mapping?: LogMapping | null;
  /** The name to keep that mapping under, for the next file of this shape. */
  keepAs?: string | null;
  /** At which lead the columns of groups begin; null where nobody said. */
  groups?: GroupOrder | null;
}

export type GroupOrder = 'from-black' | 'from-red';

export interface ImportedLog {
  id: number;
  code: string;
  result: Discharge;
  notices: Warning[];
}

/**
 * Puts a log by as it arrives, in constant memory; understands and integrates it beside the server's own thread; then
 * stores run, samples, result and the file itself in one transaction. Nothing is stored of a log that cannot be read,
 * of one that is stored already, or when the database goes away.
 *
 * @param signal ends it when the sender has left; nothing is stored then
 * @throws Refusal for an unknown cell or pack, a known file, too large a file, and with 409 where groups look turned;
 *   ImpossibleInput for what is no log
 */
export async function importLog(
  {
    code,
    fileName,
    load,
    loadTolerance = null,
    logger = null,
    endedAt,
    mapping = null,
    keepAs = null,
    groups = null,
  }: LogImport,
  body: ReadableStream<Uint8Array> | null,
  signal?: AbortSignal,
): Promise<ImportedLog> {
  const db = database();
  const subject = await subjectByCode(db, code);
  if (!subject)
    throw new Refusal(404, 'no-such-subject', `There is no cell or pack ${code}.`, [
      { path: 'subject', message: `There is no cell or pack ${code}.` },
    ]);
  const loggedBy =
    logger === null
      ? undefined
      : (await allInstruments(db)).find((one) => one.code === logger && one.archivedAt === null);
  if (logger !== null && !loggedBy)
    throw new Refusal(404, 'no-such-instrument', `There is no instrument ${logger} in use.`, [
      { path: 'logger', message: `There is no instrument ${logger} in use.` },
    ]);
  const layoutId = await reserveLayoutId(db);
  return storingAll(async (folder, storing) => {
    const [file, packed] = [join(folder, 'log'), join(folder, 'packed')];
    const contentSha256 = await spoolBody(body, file);
    const packing = pipeline(createReadStream(file), createGzip({ level: 1 }), createWriteStream(packed));
    // Whatever becomes of the reading, the packing ends before its folder goes.
    packing.catch(() => undefined);
    const told = { load, loadTolerance, mapping, groups };
    const layout = await readAs(
      told,
      layoutId,
      { file, folder, subject, ranges: loggedBy?.ranges ?? null },
      signal,
    ).finally(() => packing.catch(() => undefined));
    await packing;
    const { read } = layout;
    const ended = endedAt ?? (read.endedAt && momentOf(read.endedAt));
    if (!ended) throw endUnknown();
    if (ended.getTime() > now().getTime() + dayMs) throw endsInFuture(ended);
    const known = await runWithContent(db, contentSha256);
    if (known) throw alreadyHere(known);
    if (groups === null && mapping === null && read.firstGroupsV) await askIfTurned(subject, read.firstGroupsV);
    storing();
    const id = await inTransaction(async (connection) => {
      const runId = await addRun(connection, {
        contentSha256,
        subjectIds: [subject.id, ...subject.weldedIds],
        fileName,
        loggerId: loggedBy?.id ?? null,
        endedAt: ended,
      });
      await store(connection, runId, layout);
      await keepRunFile(connection, runId, packed);
      if (keepAs !== null && mapping)
        await keepMapping(connection, { name: keepAs, shape: shapeOf(read.head), mapping });
      signal?.throwIfAborted();
      return runId;
    });
    await judgeUnderNewRules(subject, layout.cutoffV);
    return { id, code, result: read.result, notices: [...read.notices, ...read.result.warnings] };
  });
}

/** How a log is read, as whoever sends it tells. */
export type Told = Pick<LogImport, 'load'> & Required<Pick<LogImport, 'loadTolerance' | 'mapping' | 'groups'>>;

/**
 * Reads the file of a run anew, as told now: from then on its samples and figures are these.
 *
 * @throws Refusal for a run that is not there, void, or whose file was not kept; ImpossibleInput for what is no log so
 */
export async function readAnew(runId: number, told: Told, signal?: AbortSignal): Promise<ImportedLog> {
  const db = database();
  const run = await runById(db, runId);
  const subject = run && (await subjectByCode(db, run.code));
  if (!run || !subject) throw new Refusal(404, 'no-such-run', `There is no run ${runId}.`);
  if (run.voidReason !== null)
    throw new Refusal(409, 'void', `Run ${runId} is void; import its file once more to read it otherwise.`);
  const kept = await runFile(db, runId);
  if (!kept) throw noFile(runId);
  const logger = run.loggerId === null ? undefined : (await allInstruments(db)).find(({ id }) => id === run.loggerId);
  return storingAll(async (folder, storing) => {
    const file = join(folder, 'log');
    await pipeline(kept, createWriteStream(file, { mode: 0o600 }));
    const layoutId = await reserveLayoutId(db);
    const layout = await readAs(told, layoutId, { file, folder, subject, ranges: logger?.ranges ?? null }, signal);
    storing();
    await inTransaction(async (connection) => {
      await store(connection, runId, layout);
      signal?.throwIfAborted();
    });
    await judgeUnderNewRules(subject, layout.cutoffV);
    const { result, notices } = layout.read;
    return { id: runId, code: run.code, result, notices: [...notices, ...result.warnings] };
  });
}

/** Works in a folder of its own, and knows of a failure whether it came before anything was stored. */
async function storingAll<Result>(work: (folder: string, storing: () => void) => Promise<Result>): Promise<Result> {
  const folder = await temporaryFolder();
  let isStoring = false;
  try {
    return await work(folder, () => {
      isStoring = true;
    });
  } catch (error) {
    if (!isStoring) noteNothingStored(error);
    // Another import of the same file came first.
    if (refusedBy(error)?.constraint === 'run_content_once') throw alreadyHere(null);
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** A log that was read and not stored yet. */
interface ReadLayout {
  told: Told;
  layoutId: number;
  cutoffV: number;
  /** The file of its samples. */
  blocks: string;
  read: LogReading;
}

interface LogOnDisk {
  file: string;
  folder: string;
  subject: LoggedSubject;
  /** What the maker of its logger promises. */
  ranges: Parameters<typeof logToolsOf>[1];
}

async function readAs(
  told: Told,
  layoutId: number,
  { file, folder, subject, ranges }: LogOnDisk,
  signal: AbortSignal | undefined,
): Promise<ReadLayout> {
  const { load, loadTolerance, mapping, groups } = told;
  const cutoffV = lowestVoltageV(subject.chemistry, (await rulesInForce(database())).limits);
  const blocks = join(folder, 'blocks');
  const read = await inBackground(
    'readLog',
    {
      file,
      load,
      tools: logToolsOf(loadTolerance ?? null, ranges),
      cutoffPerGroupV: cutoffV,
      logged: { series: subject.series, fromRed: groups === 'from-red', mapping: mapping ?? undefined },
      blocks: { file: blocks, layoutId },
    },
    signal === undefined ? {} : { signal },
  );
  if (load.kind === 'column' && !read.columns.some((column) => column.field === 'current')) throw noCurrent();
  return { told, layoutId, cutoffV, blocks, read };
}

async function store(
  connection: PoolClient,
  runId: number,
  { told: { load, loadTolerance, mapping }, layoutId, cutoffV, blocks, read }: ReadLayout,
): Promise<void> {
  await addLayout(connection, layoutId, runId, {
    ...read,
    mapping: mapping ?? null,
    load,
    loadTolerance: loadTolerance ?? null,
    samples: read.result.samples,
  });
  await copySamples(connection, createReadStream(blocks, { highWaterMark: 1 << 18 }));
  await keepResult(connection, layoutId, cutoffV, dischargeArithmetic, read.result);
}

/** Rules that were adopted meanwhile ask for another cut-off, and those who adopted them did not see this run yet. */
async function judgeUnderNewRules({ chemistry }: LoggedSubject, cutoffV: number): Promise<void> {
  if (lowestVoltageV(chemistry, (await rulesInForce(database())).limits) !== cutoffV) await judgeRunsInForce();
}

/** @throws Refusal with 409 where the groups fit the pack's newest reading the other way round */
async function askIfTurned({ id, code }: LoggedSubject, groupsV: readonly number[]): Promise<void> {
  const last = (await roundsOfPack(database(), id)).find((round) => round.voidReason === null);
  if (!last || !looksTurned(groupsV, last.groupVoltagesV)) return;
  const said =
    `Does group 1 of this log lie at the red lead? Its groups stand as those of ${code} were read last, ` +
    'the other way round. Say so (groups=from-red), or that they begin at the black one (groups=from-black).';
  throw new Refusal(409, 'asked', said, [{ path: 'groups', message: said }]);
}

export const noFile = (runId: number): Refusal =>
  new Refusal(404, 'no-file', `The file of run ${runId} was not kept: it came before files were. Its samples are.`);

/** Clocks and zones differ by less. */
const dayMs = 86_400_000;

const endUnknown = (): Refusal =>
  new Refusal(400, 'end-unknown', 'This log tells no dates; say when it ended: endedAt=2026-11-05T18:30:00Z.', [
    { path: 'endedAt', message: 'The log tells no dates.' },
  ]);

const endsInFuture = (ended: Date): Refusal =>
  new Refusal(400, 'end-in-future', `This log would have ended on ${ended.toISOString()}, which is still to come.`, [
    { path: 'endedAt', message: 'This is still to come.' },
  ]);

const noCurrent = (): Refusal =>
  new Refusal(
    400,
    'no-current',
    'This log has no column of current; say which resistor or which current was the load.',
    [{ path: 'load', message: 'No column of current was found.' }],
  );

const alreadyHere = (known: { id: number; code: string } | null): Refusal =>
  new Refusal(
    409,
    'already-imported',
    known
      ? `This very file is run ${known.id} of ${known.code} already; nothing was changed.`
      : 'This very file is stored already; nothing was changed.',
  );
