import 'server-only';
import { columnsOf, csvHeading, csvLines, loggedBy, namedColumns } from '@/core/capacity/sampleColumns';
import { lowestVoltageV } from '@/core/chemistry/houseRules';
import { subjectByCode } from '@/records/cells';
import { database } from '@/records/database';
import { type Run, runById } from '@/records/runs';
import { curveOf, samplePortions } from '@/records/samples';
import { temporaryFolder } from '@/records/temporary';
import { allInstruments } from '@/workshop/instruments';
import { judgeRun } from '@/workshop/judgeRun';
import { inBackground } from '@/workshop/pool';
import { rulesInForce } from '@/workshop/rules';
import { countText } from '@/workshop/strictFields';
import { createReadStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { groupsAnswer } from './compute';
import { asFile } from './download';
import { Refusal } from './respond';
import { type runInFull, samplesQuery, type samplesResponse } from './schemas';
import { warningsAnswer } from './warningsAnswer';

const serial = countText(z.number().positive().max(2_147_483_647));

/** @throws Refusal where there is no such run */
export async function runOfAddress(id: string): Promise<Run> {
  const runId = serial.safeParse(id);
  const run = runId.success ? await runById(database(), runId.data) : null;
  if (!run) throw new Refusal(404, 'no-such-run', `There is no run ${id}.`);
  return run;
}

/** A run with the conditions it was taken under and what it comes to. */
export async function tellRun(id: string): Promise<z.infer<typeof runInFull>> {
  const db = database();
  const run = await runOfAddress(id);
  const [subject, rules, instruments] = await Promise.all([
    subjectByCode(db, run.code),
    rulesInForce(db),
    allInstruments(db),
  ]);
  if (!subject) throw new Refusal(404, 'no-such-run', `There is no run ${id}.`);
  const cutoffPerGroupV = lowestVoltageV(subject.chemistry, rules.limits);
  const result = await judgeRun(run, cutoffPerGroupV);
  return {
    id: run.id,
    entry: run.entry,
    subject: run.code,
    subjects: [run.code, ...run.withCodes],
    series: run.series,
    fileName: run.fileName,
    endedAt: run.endedAt.toISOString(),
    voidReason: run.voidReason,
    load: run.load,
    loadTolerance: run.loadTolerance,
    logger: instruments.find((one) => one.id === run.loggerId)?.code ?? null,
    mapping: run.mapping,
    columns: run.columns.map(({ field, position, index, heading, unit }) => ({
      field,
      ...(position === undefined ? {} : { position }),
      index,
      heading,
      unit,
    })),
    samples: run.samples,
    cutoffPerGroupV,
    capacityAh: result.capacityAh.value,
    standardUncertaintyAh: result.capacityAh.u,
    energyWh: result.energyWh,
    meanCurrentA: result.meanCurrentA,
    meanVoltageV: result.meanVoltageV,
    durationS: result.durationS,
    reachedCutoff: result.reachedCutoff,
    groups: groupsAnswer(result.groups),
    segments: result.segments,
    warnings: warningsAnswer([...run.notices, ...result.warnings]),
  };
}

/** All samples of a run as CSV. */
async function* csvOf(run: Run): AsyncGenerator<Buffer> {
  const columns = namedColumns(loggedBy(run.columns));
  yield Buffer.from(csvHeading(columns));
  for await (const samples of samplePortions(database(), run.layoutId)) yield Buffer.from(csvLines(columns, samples));
}

async function parquetOf(run: Run, signal: AbortSignal): Promise<Readable> {
  const folder = await temporaryFolder();
  const file = join(folder, 'samples');
  const tidy = () => rm(folder, { recursive: true, force: true });
  try {
    await inBackground('writeParquet', { runId: run.id, file }, { crew: 'asked', signal });
  } catch (error) {
    await tidy();
    throw error;
  }
  return createReadStream(file).on('close', () => void tidy());
}

/** The samples of a run: all of them as CSV or Parquet, or a stretch as JSON, reduced to what can be shown. */
export async function tellSamples(id: string, request: Request): Promise<Response> {
  const { as, fromS, toS, points } = samplesQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
  const run = await runOfAddress(id);
  if (as === 'csv') return asFile(Readable.from(csvOf(run)), 'text/csv; charset=utf-8', `run-${run.id}.csv`);
  if (as === 'parquet')
    return asFile(await parquetOf(run, request.signal), 'application/vnd.apache.parquet', `run-${run.id}.parquet`);
  const samples = await curveOf(database(), run.layoutId, { fromS, toS: toS ?? Infinity }, points);
  return Response.json(columnsOf(samples) satisfies z.infer<typeof samplesResponse>);
}
