import 'server-only';
import type { Discharge } from '@/core/capacity/discharge';
import { momentOf } from '@/core/capacity/loggedMoment';
import { shapeOf } from '@/core/capacity/logMapping';
import { looksTurned } from '@/core/packs/groupOrder';
import type { Warning } from '@/core/warning';
import { type LoggedSubject, subjectByCode } from '@/records/cells';
import { database, refusedBy } from '@/records/database';
import { roundsOfPack } from '@/records/packs';
import { runWithContent } from '@/records/runs';
import { now } from '@/workshop/clock';
import { allInstruments } from '@/workshop/instruments';
import type { LogReading } from '@/workshop/readLog';
import { isInOurTime } from '@/workshop/strictFields';
import { join } from 'node:path';
import { spoolBody } from './logBody';
import { storeAs, storingAll, type LogDescription } from './logLayout';
import { Refusal } from './respond';

export interface LogImport extends Pick<LogDescription, 'load'>, Partial<Omit<LogDescription, 'load'>> {
  code: string;
  fileName: string;
  /** Code of the instrument that logged it; null where not given. */
  logger?: string | null;
  /** When the log ended; null where its own dates must show it. */
  endedAt: Date | null;
  /** The name to keep its mapping under, for the next file of this shape. */
  keepAs?: string | null;
}

export interface ImportedLog {
  id: number;
  code: string;
  result: Discharge;
  notices: Warning[];
}

/**
 * Puts a log by as it arrives, in constant memory; understands and integrates it beside the server's own thread; stores
 * run, samples, result and the file itself in one transaction. Nothing is stored of a log that cannot be read, of one
 * that is stored already, or when the database goes away.
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
  return storingAll(async (folder, storing) => {
    const [file, packed] = [join(folder, 'log'), join(folder, 'packed')];
    const spooled = await spoolBody(body, file, packed);
    const decide = async (read: LogReading) => {
      const ended = endedAt ?? (read.endedAt && momentOf(read.endedAt));
      if (!ended) throw endUnknown();
      if (ended.getTime() > now().getTime() + dayMs) throw endsInFuture(ended);
      if (!isInOurTime(ended)) throw endsOutOfTime();
      if (groups === null && mapping === null && read.firstGroupsV) await askIfTurned(subject, read.firstGroupsV);
      await spooled.packed;
      signal?.throwIfAborted();
      storing();
      const { sha256: contentSha256 } = spooled;
      const [subjectIds, loggerId] = [[subject.id, ...subject.weldedIds], loggedBy?.id ?? null];
      return {
        run: { contentSha256, subjectIds, fileName, loggerId, endedAt: ended, packed },
        keep: keepAs !== null && mapping ? { name: keepAs, shape: shapeOf(read.head), mapping } : null,
      };
    };
    try {
      const known = await runWithContent(db, spooled.sha256);
      if (known) throw alreadyHere(known);
      const description = { load, loadTolerance, mapping, groups };
      const { id, read } = await storeAs(
        description,
        { file, subject, ranges: loggedBy?.ranges ?? null },
        decide,
        signal,
      );
      return { id, code, result: read.result, notices: [...read.notices, ...read.result.warnings] };
    } finally {
      // Whatever became of it, the packing ends before its folder goes.
      await spooled.packed.catch(() => undefined);
    }
  }).catch((error: unknown) => {
    // Another import of the same file came first.
    throw refusedBy(error)?.constraint === 'run_content_once' ? alreadyHere(null) : error;
  });
}

/** @throws Refusal with 409 where the groups fit the pack's newest reading the other way round */
async function askIfTurned({ id, code }: LoggedSubject, groupsV: readonly number[]): Promise<void> {
  const last = (await roundsOfPack(database(), id)).find((round) => round.voidReason === null);
  if (!last || !looksTurned(groupsV, last.groupVoltagesV)) return;
  const said =
    `Is group 1 of this log at the positive terminal? Its groups look like the last reading of ${code} ` +
    'in reverse order. Answer with groups=from-red if so, or groups=from-black if not.';
  throw new Refusal(409, 'asked', said, [{ path: 'groups', message: said }]);
}

/** Clocks and zones differ by less. */
const dayMs = 86_400_000;

const endUnknown = (): Refusal =>
  new Refusal(400, 'end-unknown', 'This log has no dates. Give the time it ended: endedAt=2026-11-05T18:30:00Z.', [
    { path: 'endedAt', message: 'The log has no dates.' },
  ]);

const endsInFuture = (ended: Date): Refusal =>
  new Refusal(400, 'end-in-future', `This log would have ended on ${ended.toISOString()}, which is still to come.`, [
    { path: 'endedAt', message: 'This is still to come.' },
  ]);

const endsOutOfTime = (): Refusal =>
  new Refusal(400, 'end-out-of-time', 'The dates of this log are before 1970. Enter when the log ended.', [
    { path: 'endedAt', message: 'The dates of this log are before 1970.' },
  ]);

const alreadyHere = (known: { id: number; code: string } | null): Refusal =>
  new Refusal(
    409,
    'already-imported',
    known
      ? `This very file is run ${known.id} of ${known.code} already; nothing was changed.`
      : 'This very file is stored already; nothing was changed.',
  );
