import { chemistries } from '@/core/chemistry/chemistries';
import { judgeSheet } from '@/core/judging/judgeSheet';
import { fillFrom } from '@/records/archive';
import { crossCheckReadings, listCrossChecks } from '@/records/crossChecks';
import { database } from '@/records/database';
import { migrate } from '@/records/migrate';
import { runById } from '@/records/runs';
import { eachSample } from '@/records/samples';
import { scratchDatabase } from '@/records/scratchDatabase';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { judgedPacks, judgedWorkshop, type Workshop } from './judged';
import { judgeRunsInForce } from './judgeRun';
import { closeCrews } from './pool';
import { openRoundById } from './rounds';

/**
 * A workshop as an earlier version kept it, with every kind of fact, and every figure which that version made of it.
 * Both were made once by that version, from its demo thinned out and used on; they are never made again.
 */
const [backup, figures] = ['records/fixtures/workshop-0007.backup', 'records/fixtures/figures-0007.json.gz'];
const before = JSON.parse(gunzipSync(readFileSync(figures)).toString()) as Record<string, unknown>;

let scratch: Awaited<ReturnType<typeof scratchDatabase>>;
let workshop: Workshop;

beforeAll(async () => {
  scratch = await scratchDatabase();
  await fillFrom(backup, scratch.url);
  process.env.DATABASE_URL = scratch.url;
  await migrate();
  await judgeRunsInForce();
  workshop = await judgedWorkshop();
});
afterAll(async () => {
  await closeCrews();
  await database().end();
  await scratch.drop();
});

const rows = async <Row extends object>(text: string): Promise<Row[]> =>
  (await database().query<Row & Record<string, unknown>>(text)).rows;

/** As JSON keeps it: the old figures went through that. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value)) as unknown;

/** The last digits of a charge read off a curve depend on how it was computed. */
const rounded = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value), (_, one: unknown) =>
    typeof one === 'number' ? Number(one.toPrecision(11)) : one,
  ) as unknown;

/** A nickel cell below its floor needs no rescue: since then it is charged at a low current. */
const nickelNow = (cells: Record<string, object>): Record<string, object> =>
  Object.fromEntries(
    Object.entries(cells).map(([code, before]) => {
      // The station Capacity was called Runs.
      const was = 'waits' in before && before.waits === 'runs' ? { ...before, waits: 'capacity' } : before;
      const cell = workshop.cells.find((one) => one.code === code);
      const isNickel = cell !== undefined && chemistries[cell.chemistry].family === 'nickel';
      const isChanged = isNickel && (was as { intake?: string }).intake === 'rescue-only';
      return [code, isChanged ? { ...was, intake: 'usable', standing: 'ungraded', waits: 'resistance' } : was];
    }),
  );

/** Since then repeats of a round count together: of a cell with some, what rests on its resistance is another. */
async function withoutRepeats(cells: Record<string, object>): Promise<Record<string, object>> {
  const repeated = await rows<{ code: string }>(
    `select distinct code from entry_subject join subject on subject.id = subject_id join entry on entry.id = entry_id
     where voided_at is null and occasion_id is not null and exists (select from entry_subject other
       join entry also on also.id = other.entry_id
       where other.subject_id = subject.id and also.occasion_id = entry.occasion_id and also.id <> entry.id
         and also.voided_at is null)`,
  );
  const codes = new Set(repeated.map(({ code }) => code));
  return Object.fromEntries(
    Object.entries(cells).map(([code, cell]) => [
      code,
      codes.has(code) ? { ...cell, resistance: null, figures: null, rateC: null } : cell,
    ]),
  );
}

/**
 * Since then the uncertainty of a charge includes other makes, hysteresis and the ends of the curve. What all groups
 * share is no uncertainty of their imbalance.
 */
const withoutOtherU = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value), (key, one: { value: number } | null) => {
    const isOther = one !== null && (key === 'spreadV' || key === 'soc');
    return isOther ? { value: one.value } : one;
  }) as unknown;

test('every cell keeps what it was read to be, its figures and its verdicts', async () => {
  const cells = workshop.cells.map(({ intake, duty, ...cell }) => [
    cell.code,
    {
      voltageV: cell.voltageV,
      massKg: cell.massKg,
      findings: cell.findings,
      weldedTo: cell.weldedTo,
      buildId: cell.buildId,
      resistance: cell.resistance,
      figures: cell.figures.map(([id, ohm]) => [workshop.protocols.get(id)?.name, ohm]),
      capacity: cell.capacity,
      capacityIsAtLeast: cell.capacityIsAtLeast,
      intake: intake.class,
      missing: intake.missing,
      duty: duty.duty,
      health: duty.health,
      rateC: duty.rateC,
      met: duty.checks.map((check) => check.met),
      waits: cell.waits,
      standing: cell.standing,
    },
  ]);
  expect(cells).toHaveLength(244);
  const now = Object.fromEntries(cells) as Record<string, object>;
  expect(plain(await withoutRepeats(now))).toEqual(
    await withoutRepeats(nickelNow(before.cells as Record<string, object>)),
  );
  expect(workshop.rules.name).toBe(before.rules);
});

test('every pack keeps its rounds of voltages and what they say', async () => {
  const rounds = await rows<{ code: string; rounds: number }>(
    `select code, count(entry.id) filter (where state is not null and voided_at is null)::int as rounds
     from subject
     left join entry_subject on subject_id = subject.id
     left join entry on entry.id = entry_id
     where kind = 'pack'
     group by code`,
  );
  const packs = (await judgedPacks(workshop)).map(({ code, judgement }) => [
    code,
    {
      rounds: rounds.find((row) => row.code === code)?.rounds,
      latest: judgement && {
        groups: judgement.groups.map(({ voltageV, deviationV, soc, odd }) => ({ voltageV, deviationV, soc, odd })),
        spreadV: judgement.spreadV,
        level: judgement.level,
        sum: judgement.sum,
        terminal: judgement.terminal,
      },
    },
  ]);
  expect(rounded(withoutOtherU(Object.fromEntries(packs)))).toEqual(rounded(withoutOtherU(before.packs)));
});

test('every cross-check keeps its readings, what was agreed and who stands apart', async () => {
  const [crossChecks, readings] = await Promise.all([listCrossChecks(database()), crossCheckReadings(database())]);
  const sheets = crossChecks.map((crossCheck) => {
    const { consensus, channels } = judgeSheet(
      crossCheck,
      readings.filter((one) => one.crossCheckId === crossCheck.id),
      workshop.instruments,
      new Date(),
    );
    return {
      name: crossCheck.name,
      batteries: crossCheck.batteries,
      consensus: consensus.map((one) => one && ('reference' in one ? one.reference : null)),
      channels: channels.map((channel) => ({
        name: channel.name,
        apartOn: channel.apartOn,
        corrected: channel.corrected,
        readings: channel.readings.map(({ position, reading, difference, apart }) => ({
          position,
          reading,
          difference,
          apart,
        })),
      })),
    };
  });
  expect(plain(sheets)).toEqual(before.sheets);
});

test('every round keeps its readings, its limits and what is compared', async () => {
  const ids = await rows<{ id: number }>('select id from round order by id');
  const rounds = await Promise.all(
    ids.map(async ({ id }) => {
      const open = await openRoundById(id);
      return (
        open && {
          batch: open.round.batchCode,
          protocol: open.protocol.name,
          crowd: open.population && {
            median: open.population.median,
            low: open.population.low,
            high: open.population.high,
          },
          readings: open.readings.map(({ row, result, leftOut }) => ({
            code: row.code,
            resistance: result?.resistance ?? null,
            compared: leftOut === null,
          })),
        }
      );
    }),
  );
  expect(plain(rounds)).toEqual(before.rounds);
});

test('every run keeps its samples to the last digit, and its figures', async () => {
  const ids = await rows<{ id: number }>('select id from run order by id');
  const runs = [];
  for (const { id } of ids) {
    const run = await runById(database(), id);
    const result = (
      await rows<{ result: Record<string, unknown> }>(
        `select result from run_result join run_layout on run_layout.id = layout_id where run_id = ${id}`,
      )
    )[0]?.result as (Record<string, unknown> & { edges?: { atS: number; resistanceOhm: object }[] }) | undefined;
    const hash = createHash('sha256');
    let samples = 0;
    await eachSample(database(), run?.layoutId ?? 0, ({ timeS, voltageV, currentA, temperatureC }) => {
      samples += 1;
      hash.update(JSON.stringify([timeS, voltageV, currentA, temperatureC]));
    });
    runs.push({
      code: run?.code,
      samples,
      sha256: hash.digest('hex'),
      capacityAh: result?.capacityAh,
      energyWh: result?.energyWh,
      meanVoltageV: result?.meanVoltageV,
      durationS: result?.durationS,
      reachedCutoff: result?.reachedCutoff,
      edges: result?.edges?.map((edge) => [edge.atS, edge.resistanceOhm]),
    });
  }
  expect(plain(runs)).toEqual(before.runs);
});

test('nothing that was filed is lost, void or not', async () => {
  expect(
    await rows(`
      with read as (
        select voided_at
        from entry join entry_subject on entry_id = entry.id
        cross join lateral (
          select from voltage where voltage.entry_id = entry.id and entry.state is null
          union all select from mass where mass.entry_id = entry.id
          union all select from inspection where inspection.entry_id = entry.id
          union all select from load_step where load_step.entry_id = entry.id
          union all select from two_current where two_current.entry_id = entry.id
          union all select from resistance where resistance.entry_id = entry.id
          union all select from pulse where pulse.entry_id = entry.id) body)
      select
      (select count(*)::int from read) as readings,
      (select count(*)::int from read where voided_at is not null) as voided,
      (select count(*)::int from note) as notes,
      (select count(*)::int from period) as rests,
      (select count(*)::int from weld) as welds,
      (select count(*)::int from entry where state is not null) as pack_rounds,
      (select count(*)::int from cross_check_voltage) as sheet_readings,
      (select count(*)::int from correction) as corrections,
      (select count(*)::int from calibration) as calibrations,
      (select count(*)::int from build) as builds`),
  ).toEqual([before.counts]);
});
