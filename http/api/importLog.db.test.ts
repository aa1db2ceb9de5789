import { dischargeArithmetic } from '@/core/capacity/discharge';
import { cutoffsOf } from '@/core/judging/judgeCell';
import { ImpossibleInput } from '@/core/impossibleInput';
import { impossibleText } from '@/words/impossible';
import { presetRules } from '@/core/chemistry/houseRules';
import { addBatch } from '@/records/batches';
import { database } from '@/records/database';
import { addInstrument } from '@/records/instruments';
import { adoptRules } from '@/records/houseRules';
import { fileEntry, voidEntry } from '@/records/ledger';
import { runFile } from '@/records/runFiles';
import { packRoundEntry } from '@/records/packs';
import { countRuns, resultOf, runById } from '@/records/runs';
import type { Sample } from '@/core/capacity/logReader';
import type { LogMapping } from '@/core/capacity/logMapping';
import { createByteLog } from '@/core/capacity/logBytes';
import { namedMappings } from '@/records/logMappings';
import { curveOf, eachSample } from '@/records/samples';
import { type Scratch, scratchModel, scratchPack, scratchWorkshop } from '@/records/scratchDatabase';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { gzipSync } from 'node:zlib';
import { importLog } from './importLog';
import { readAgain } from './readAgain';
import { arrivedFile } from './runs';
import { tellRun, tellSamples } from './samples';
import { judgeRun, judgeRunsInForce } from '@/workshop/judgeRun';

let scratch: Scratch;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const model = await scratchModel(database());
  await addBatch(database(), { code: 'T1', origin: 'a test', modelId: model.id, count: 10 });
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

/** 1 A from 4.0 V, one volt an hour. */
function logOf(hours: number, stepS = 10): string {
  const times = Array.from({ length: Math.round((hours * 3600) / stepS) + 1 }, (_, i) => i * stepS);
  return `time (s),voltage (V)\n${times.map((t) => `${t},${(4 - t / 3600).toFixed(4)}\n`).join('')}`;
}

const send = (
  code: string,
  csv: string,
  load: Parameters<typeof importLog>[0]['load'] = { kind: 'current', currentA: 1 },
) => importLog({ code, fileName: 'log.csv', load, endedAt: new Date('2026-11-01T12:00:00Z') }, new Response(csv).body);

const spools = () =>
  readdirSync(tmpdir()).filter(
    (name) => name.startsWith('bold-ember-') && !name.includes('bench') && !name.includes('build'),
  );

const layoutOf = async (runId: number): Promise<number> => (await runById(database(), runId))?.layoutId ?? 0;

test('a log is stored whole, with its result at the cut-off in force', async () => {
  const { id, result } = await send('T1-001', logOf(1.5));
  expect(result.capacityAh.value).toBeCloseTo(1.2, 3);
  expect(result.reachedCutoff).toBe(true);
  const run = await runById(database(), id);
  expect(run).toMatchObject({
    code: 'T1-001',
    samples: 541,
    voltageStepV: expect.closeTo(0.0001, 9),
    load: { kind: 'current', currentA: 1 },
    endedAt: new Date('2026-11-01T12:00:00Z'),
  });
  let count = 0;
  await eachSample(database(), await layoutOf(id), () => (count += 1));
  expect(count).toBe(541);
  const cell = (await judgedWorkshop()).cells.find((one) => one.code === 'T1-001');
  expect(cell?.capacity?.value).toBeCloseTo(1.2, 3);
});

test('the same file sent five times at once is stored once, and the others are told so', async () => {
  const before = await countRuns(database());
  const answers = await Promise.allSettled(Array.from({ length: 5 }, () => send('T1-002', logOf(1.4))));
  expect(answers.filter((answer) => answer.status === 'fulfilled')).toHaveLength(1);
  for (const answer of answers)
    if (answer.status === 'rejected') expect(answer.reason).toMatchObject({ code: 'already-imported', status: 409 });
  expect(await countRuns(database())).toBe(before + 1);
});

test.each([
  ['T9-999', logOf(1.3), 'There is no cell or pack T9-999'],
  ['T1-003', 'nothing to see here', 'No columns of time and voltage'],
  ['T1-003', '', 'empty'],
])('%s: what cannot be stored leaves neither rows nor files', async (code, csv, message) => {
  const [runs, files] = [await countRuns(database()), spools().length];
  const said = await send(code, csv).catch((error: Error) =>
    error instanceof ImpossibleInput ? impossibleText(error) : error.message,
  );
  expect(said).toContain(message);
  expect(await countRuns(database())).toBe(runs);
  expect(spools().length).toBeLessThanOrEqual(files);
});

test('a log without a current cannot be its own load', async () => {
  await expect(send('T1-003', logOf(1.2), { kind: 'column' })).rejects.toMatchObject({ code: 'no-current' });
});

test('a body that breaks off in the middle stores nothing', async () => {
  const runs = await countRuns(database());
  const bytes = new TextEncoder().encode(logOf(1.45));
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      controller.enqueue(bytes.slice(0, 3000));
      controller.error(new Error('the sender went away'));
    },
  });
  await expect(
    importLog({ code: 'T1-004', fileName: 'x', load: { kind: 'current', currentA: 1 }, endedAt: new Date() }, body),
  ).rejects.toThrow('went away');
  expect(await countRuns(database())).toBe(runs);
});

test('adopting other rules judges every run by its new cut-off, from the samples', async () => {
  const { id } = await send('T1-005', logOf(1.6));
  const careful = presetRules('careful');
  await adoptRules(database(), 'Careful', careful);
  await judgeRunsInForce();
  const { cells, rules } = await judgedWorkshop();
  expect(rules.name).toBe('Careful');
  expect(cells.find((cell) => cell.code === 'T1-005')?.capacity?.value).toBeCloseTo(1.0, 3);
  const run = await runById(database(), id);
  if (!run) throw new Error('the run is gone');
  expect((await judgeRun(run, 3.5)).capacityAh.value).toBeCloseTo(0.5, 3);
  expect((await judgeRun(run, 3.5)).durationS).toBeCloseTo(1800, 0);
});

test('rules adopted while a log arrives judge that run, too', async () => {
  let arrive = (): void => undefined;
  let begin = (): void => undefined;
  const begun = new Promise<void>((resolve) => {
    begin = resolve;
  });
  const mayArrive = new Promise<void>((resolve) => {
    arrive = resolve;
  });
  // Asked for once the import knows its cell and its cut-off; it comes after the rules have changed.
  const body = new ReadableStream<Uint8Array>(
    {
      pull: async (arriving) => {
        begin();
        await mayArrive;
        arriving.enqueue(new TextEncoder().encode(logOf(1.8)));
        arriving.close();
      },
    },
    { highWaterMark: 0 },
  );
  const load = { kind: 'current', currentA: 1 } as const;
  const stored = importLog({ code: 'T1-009', fileName: 'late.csv', load, endedAt: new Date() }, body);
  await begun;
  await adoptRules(database(), 'Thrifty', presetRules('thrifty'));
  await judgeRunsInForce();
  arrive();
  const { id } = await stored;
  const cutoffV = cutoffsOf((await judgedWorkshop()).rules.limits)['li-ion'] as number;
  expect(await resultOf(database(), await layoutOf(id), cutoffV, dischargeArithmetic)).not.toBeNull();
  await adoptRules(database(), 'Careful', presetRules('careful'));
  await judgeRunsInForce();
});

test('a resistor as the load, a semicolon file, a gap: stored as read, the result with its notices', async () => {
  const csv = logOf(1.5)
    .replaceAll(',', ';')
    .replaceAll('.', ',')
    .split('\n')
    .filter((_, i) => i < 100 || i > 140)
    .join('\n');
  const { result, notices } = await send('T1-006', csv, { kind: 'resistor', resistanceOhm: 3.5 });
  expect(result.gaps).toHaveLength(1);
  expect(notices.map((notice) => notice.code)).toContain('gap');
  expect(result.meanCurrentA).toBeCloseTo(result.meanVoltageV / 3.5, 6);
});

test('the given instruments are kept with the run and enter its uncertainty, also when it is judged again', async () => {
  const loggerId = await addInstrument(database(), {
    code: 'LG1',
    name: 'Logger',
    kind: 'logger',
    channels: 1,
    wires: null,
    leads: null,
    certified: false,
    ranges: { voltage: { resolution: 0.001, accuracyShare: 0.001, accuracyCounts: 2 } },
  });
  const description = (hours: number, change: { loadTolerance?: number; logger?: string }) =>
    importLog(
      {
        code: 'T1-007',
        fileName: 'log.csv',
        load: { kind: 'current', currentA: 1 },
        endedAt: new Date('2026-11-02T12:00:00Z'),
        ...change,
      },
      new Response(logOf(hours)).body,
    );
  const { id, result } = await description(1.61, { loadTolerance: 0.05, logger: 'LG1' });
  expect(result.capacityAh.u).toBeGreaterThan(0.028 * result.capacityAh.value);
  expect(result.warnings.map((warning) => warning.code)).not.toContain('voltage-accuracy-assumed');
  const run = await runById(database(), id);
  expect(run).toMatchObject({ loadTolerance: 0.05, loggerId });
  if (run) expect((await judgeRun(run, 3.5)).capacityAh.u).toBeGreaterThan(0.028 * 0.5);
  expect((await description(1.62, {})).result.warnings.map((warning) => warning.code)).toContain(
    'load-tolerance-assumed',
  );
  await expect(description(1.63, { logger: 'XX9' })).rejects.toMatchObject({ code: 'no-such-instrument' });
});

test('a log that ends above the cut-off is a lower bound: it retires no cell and waits for a whole discharge', async () => {
  await send('T1-008', logOf(0.25));
  const cell = (await judgedWorkshop()).cells.find((one) => one.code === 'T1-008');
  expect(cell).toMatchObject({ capacityIsAtLeast: true, duty: { isAtLeast: true } });
  expect(cell?.duty.duty).not.toBe('retire');
});

test('results of an older arithmetic are made again from the samples', async () => {
  const { id } = await send('T1-004', logOf(1.7));
  await database().query('update run_result set arithmetic = 1 where layout_id = $1', [await layoutOf(id)]);
  const capacity = async () =>
    (await judgedWorkshop()).cells.find((cell) => cell.code === 'T1-004')?.capacity?.value ?? null;
  expect(await capacity()).toBeNull();
  await judgeRunsInForce();
  expect(await capacity()).toBeCloseTo(1, 3);
});

describe('a log as it arrives', () => {
  const kept = async (id: number): Promise<Buffer | null> => {
    const file = await runFile(database(), id);
    return file && Buffer.concat(await file.toArray());
  };
  const sendBytes = (code: string, bytes: Buffer) =>
    importLog(
      { code, fileName: 'log', load: { kind: 'current', currentA: 1 }, endedAt: new Date('2026-11-01T12:00:00Z') },
      new Response(new Uint8Array(bytes)).body,
    );
  const lines = (hours: number) =>
    logOf(hours)
      .trim()
      .split('\n')
      .slice(1)
      .map((row) => row.split(','))
      .map(([t, v]) => JSON.stringify({ 'time (s)': Number(t), 'voltage (V)': Number(v) }));

  test.each([
    ['UTF-16, gzipped', gzipSync(Buffer.from(`\uFEFF${logOf(1.21)}`, 'utf16le')), 437],
    ['JSON lines', Buffer.from(lines(1.22).join('\n')), 440],
    ['longer than a portion', Buffer.from(logOf(1.23, 0.03)), 147_601],
  ])('%s: is read, and comes back byte for byte', async (_, bytes, samples) => {
    const { id, result } = await sendBytes('T1-008', bytes);
    expect(result.samples).toBe(samples);
    expect((await kept(id))?.equals(bytes)).toBe(true);
    expect(await runById(database(), id)).toMatchObject({ hasFile: true });
  });

  test('broken off in its packing it is refused, and nothing of it stays', async () => {
    const runs = await countRuns(database());
    await expect(sendBytes('T1-008', gzipSync(Buffer.from(logOf(1.24))).subarray(0, 900))).rejects.toThrow(
      ImpossibleInput,
    );
    expect(await countRuns(database())).toBe(runs);
    const { rows } = await database().query('select from run_file where run_id not in (select id from run)');
    expect(rows).toHaveLength(0);
  });

  /** A minute short of an hour and a half, 50 ms apart: most of it has gone in before the end is read. */
  const longRows = Array.from({ length: 106_800 }, (_, i) => `${i / 20},${(4 - i / 72_000).toFixed(4)},1.2`);
  const blocks = async () =>
    (await database().query('select count(*) as n, count(distinct layout_id) as layouts from sample_block')).rows;

  test('refused far behind its beginning it leaves no sample, and the next one goes in', async () => {
    const [runs, before] = [await countRuns(database()), await blocks()];
    const turned = longRows.map((row, i) => (i > 106_000 ? row.replace(/,(.*),(.*)/, ',$2,$1') : row));
    const heading = 'time (s),voltage (V),current (A)';
    await expect(send('T1-008', [heading, ...turned].join('\n'), { kind: 'column' })).rejects.toMatchObject({
      why: { code: 'columns-swapped' },
    });
    expect([await countRuns(database()), await blocks()]).toEqual([runs, before]);
    const { result } = await send('T1-008', [heading, ...longRows].join('\n'), { kind: 'column' });
    expect(result.samples).toBe(106_800);
  });

  test('nothing of it stays where its sender leaves while it is read; what is read beside it goes in', async () => {
    const [runs, before] = [await countRuns(database()), await blocks()];
    const leaving = new AbortController();
    const log = { code: 'T1-008', fileName: 'log', load: { kind: 'column' } as const, endedAt: new Date() };
    const body = new Response(['time (s),voltage (V),current (A)', ...longRows, '5340,2.5,1.2'].join('\n')).body;
    const other = await scratch.pool.connect();
    // Its samples wait for another, so that it is seen in the middle.
    await other.query('begin; lock table sample_block in exclusive mode');
    const importing = importLog(log, body, leaving.signal);
    const waiting = `select from pg_stat_activity
      where datname = current_database() and query like 'copy sample_block%' and wait_event_type = 'Lock'`;
    while ((await scratch.pool.query(waiting)).rowCount === 0);
    leaving.abort();
    const beside = send('T1-008', logOf(1.25));
    await other.query('rollback');
    await expect(importing).rejects.toThrow('abort');
    other.release();
    // Another's, read by the same thread, is not cut off with it.
    expect((await beside).result.samples).toBe(451);
    expect(await countRuns(database())).toBe(runs + 1);
    expect((await blocks())[0]).toMatchObject({ layouts: (before[0] as { layouts: number }).layouts + 1 });
  });

  test('of a run that came before files were kept there is none', async () => {
    expect(await kept(4711)).toBeNull();
  });
});

describe('the log of a pack', () => {
  /** 1 A through groups that hold this much, after a minute of rest at these volts. */
  const packLog = (hours: number[], restV: number[]): string => {
    const rows = Array.from({ length: 600 }, (_, i) => {
      const t = i * 10;
      const groups = hours.map((h, k) => (t < 60 ? (restV[k] ?? 4.15) : 4.1 - (1.1 * (t - 60)) / 3600 / h));
      return [t, ...groups.map((v) => Math.max(2.8, v).toFixed(4))].join(',');
    });
    return `time (s),${hours.map((_, k) => `cell${k + 1} (V)`).join(',')}\n${rows.join('\n')}\n`;
  };
  const packCalled = async (code: string) =>
    (await judgedPacks(await judgedWorkshop())).find((pack) => pack.code === code);

  beforeAll(() => adoptRules(database(), 'Workshop', presetRules('workshop')));

  test('keeps every group, ends at the first that is empty, and tells the pack its capacity', async () => {
    await scratchPack(database(), 'PT1');
    const { id } = await send('PT1', packLog([1.3, 1.1, 1.2], []));
    const groups: (readonly number[] | null | undefined)[] = [];
    const layoutId = await layoutOf(id);
    await eachSample(database(), layoutId, (sample) => groups.push(sample.groupsV));
    expect([groups.length, groups[0], groups.at(-1)]).toEqual([600, [4.15, 4.15, 4.15], [2.8, 2.8, 2.8]]);
    const run = await runById(database(), id);
    expect(run).toMatchObject({ kind: 'pack', series: 3, groupStepV: expect.closeTo(0.0001, 9) });
    expect((await curveOf(database(), layoutId))[0]?.groupsV).toHaveLength(3);
    // Judged again from what is stored, it comes to the same.
    await database().query('delete from run_result where layout_id = $1', [layoutId]);
    await judgeRunsInForce();
    const pack = await packCalled('PT1');
    expect(pack?.capacity?.value).toBeCloseTo(1.1, 2);
    expect(pack?.run?.groups?.map(({ reachedCutoff }) => reachedCutoff)).toEqual([false, true, false]);
  });

  test('of terminals alone it ends by count', async () => {
    await scratchPack(database(), 'PT2', 2);
    const csv = logOf(1.1).replace(/,(\d\.\d+)/g, (_, v: string) => `,${(2 * Number(v)).toFixed(4)}`);
    const { result } = await send('PT2', csv);
    expect([result.reachedCutoff, result.groups]).toEqual([true, null]);
    expect((await packCalled('PT2'))?.capacity?.value).toBeCloseTo(1, 2);
  });

  test('groups the other way round than they were read last are asked about, and nothing is stored', async () => {
    const packId = await scratchPack(database(), 'PT3');
    const round = { entry: randomUUID(), packId, series: 3, state: 'rest' as const, instrumentId: null };
    const steps = { groupStepsV: [0.001, 0.001, 0.001], terminalV: null, terminalStepV: null };
    const read = { ...steps, groupVoltagesV: [4.02, 4.1, 4.11], terminalInstrumentId: null, confirmed: false };
    await fileEntry(database(), packRoundEntry({ ...round, ...read }));
    const turned = packLog([1.3, 1.31, 1.1], [4.12, 4.11, 4.03]);
    const runs = await countRuns(database());
    await expect(send('PT3', turned)).rejects.toMatchObject({ status: 409, code: 'asked' });
    expect(await countRuns(database())).toBe(runs);
    const order = { code: 'PT3', fileName: 'log.csv', load: { kind: 'current', currentA: 1 } as const };
    const endedAt = new Date('2026-11-01T12:00:00Z');
    const { result } = await importLog({ ...order, endedAt, groups: 'from-red' }, new Response(turned).body);
    expect(result.groups?.[0]).toMatchObject({ position: 1, reachedCutoff: true });
  });
});

test('a log of another count in series is refused, and nothing of it is stored', async () => {
  await scratchPack(database(), 'PT9', 2);
  const runs = await countRuns(database());
  const rows = Array.from({ length: 900 }, (_, i) => `${i * 4},${(16.6 - i * 0.004).toFixed(3)}\n`).join('');
  await expect(send('PT9', `time (s),volts\n${rows}`)).rejects.toMatchObject({
    why: { code: 'other-count', series: 2, likely: 4 },
  });
  expect(await countRuns(database())).toBe(runs);
});

describe('a run as it leaves the workshop', () => {
  const asked = async (id: number, query: string): Promise<Response> =>
    tellSamples(String(id), new Request(`http://here/samples?${query}`));
  const samplesOf = async (id: number): Promise<Sample[]> => {
    const samples: Sample[] = [];
    await eachSample(database(), await layoutOf(id), (sample) => samples.push(sample));
    return samples;
  };
  /** With figures of every kind, some missing, over several blocks. */
  const csv = `t (ms),U1 (mV),U2 (mV),I (mA),Temp\n${Array.from(
    { length: 5000 },
    (_, i) => `${i * 250},${3950 - i * 0.1},${3940.7 - i * 0.1},${i % 7 === 3 ? '' : -501.25},${21 + (i % 9) / 8}\n`,
  ).join('')}`;
  let id: number;

  beforeAll(async () => {
    await scratchPack(database(), 'PT7', 2);
    await scratchPack(database(), 'PT8', 1);
    ({ id } = await send('PT7', csv, { kind: 'column' }));
  });

  test('as CSV it is read back as the same samples', async () => {
    const stored = await samplesOf(id);
    expect(stored).toHaveLength(5000);
    const written = await (await asked(id, 'as=csv')).text();
    expect(written.slice(0, written.indexOf('\r'))).toBe(
      'time_s,voltage_v,current_a,temperature_c,group_1_v,group_2_v',
    );
    const back: Sample[] = [];
    const log = createByteLog((sample) => back.push(sample), { series: 2 });
    log.push(Buffer.from(written));
    expect(log.finish().warnings).toEqual([]);
    expect(back).toEqual(stored);
  });

  test('cycles and steps as the device numbered them stay with its samples, and cut its segments', async () => {
    const rows = Array.from(
      { length: 3000 },
      (_, i) => `${i},${(4.1 - i / 3000).toFixed(3)},1,${i < 2500 ? 4 : 5},9\n`,
    );
    const { id: numbered, result } = await send('PT8', `t (s),V,A,Step,Cycle\n${rows.join('')}`, { kind: 'column' });
    expect(result.segments.map(({ cycle, step }) => [cycle, step])).toEqual([
      [9, 4],
      [9, 5],
    ]);
    const stored = await samplesOf(numbered);
    expect([stored[0]?.cycle, stored[2499]?.step, stored[2500]?.step]).toEqual([9, 4, 5]);
    const written = await (await asked(numbered, 'as=csv')).text();
    expect(written.split('\r\n')[2501]).toBe('2500,3.267,1,9,5');
    const back: Sample[] = [];
    const log = createByteLog((sample) => back.push(sample));
    log.push(Buffer.from(written));
    log.finish();
    expect(back.map(({ timeS, cycle, step }) => [timeS, cycle, step])).toEqual(
      stored.map(({ timeS, cycle, step }) => [timeS, cycle, step]),
    );
  });

  test('as Parquet another package reads the same samples (hyparquet 1.33.0)', async () => {
    const { parquetReadObjects } = await import('hyparquet');
    const file = await (await asked(id, 'as=parquet')).arrayBuffer();
    const rows = await parquetReadObjects({ file });
    expect(rows).toEqual(
      (await samplesOf(id)).map(({ timeS, voltageV, currentA, temperatureC, groupsV }) => ({
        time_s: timeS,
        voltage_v: voltageV,
        current_a: currentA,
        temperature_c: temperatureC,
        group_1_v: groupsV?.[0],
        group_2_v: groupsV?.[1],
      })),
    );
  });

  test('a stretch comes with the samples next to it, reduced as asked for', async () => {
    const { timeS, groupsV } = (await (await asked(id, 'fromS=100&toS=110&points=1000')).json()) as {
      timeS: number[];
      groupsV: number[][];
    };
    expect([timeS[0], timeS.at(-1), timeS.length]).toEqual([100, 110, 41]);
    expect(groupsV.map((one) => one.length)).toEqual([41, 41]);
    const few = (await (await asked(id, 'points=3')).json()) as { voltageV: number[] };
    expect(few.voltageV.length).toBeLessThan(40);
    expect(Math.max(...few.voltageV)).toBeCloseTo(7.8907, 9);
    await expect(asked(999_999, '')).rejects.toMatchObject({ status: 404 });
  });

  test('its conditions are told with it', async () => {
    expect(await tellRun(String(id))).toMatchObject({
      subject: 'PT7',
      load: { kind: 'column' },
      samples: 5000,
      segments: [{ kind: 'discharge', mode: 'constant-current' }],
    });
  });
});

describe('a log that tells nothing by itself', () => {
  const csv = `quay logger\n${Array.from({ length: 400 }, (_, i) => `${i * 9}|${4100 - 3 * i}|${500}\n`).join('')}`;
  const mapping: LogMapping = {
    separator: '|',
    headingRows: 1,
    columns: [
      { index: 0, field: 'time', unit: 's' },
      { index: 1, field: 'voltage', unit: 'mv' },
    ],
  };
  const description = { load: { kind: 'current', currentA: 0.5 } as const, loadTolerance: null, mapping, groups: null };
  const log = { code: 'T1-010', fileName: 'q.log', endedAt: new Date('2026-11-01T12:00:00Z'), ...description };

  test('is read as told, and read otherwise afterwards: the first reading stays, the newest counts', async () => {
    const { id, result } = await importLog({ ...log, keepAs: 'Quay' }, new Response(csv).body);
    expect(result.capacityAh.value).toBeCloseTo((0.5 * 399 * 9) / 3600, 3);
    expect(await namedMappings(database())).toEqual([{ name: 'Quay', shape: '3', mapping }]);
    const columns = [...mapping.columns, { index: 2, field: 'current' as const, unit: 'ma' }];
    const withTenfold = columns.map((one) => (one.field === 'time' ? { ...one, unit: 'min' } : one));
    await readAgain(id, { ...description, load: { kind: 'column' }, mapping: { ...mapping, columns: withTenfold } });
    const cell = (await judgedWorkshop()).cells.find(({ code }) => code === 'T1-010');
    expect(cell?.capacity?.value).toBeCloseTo((0.5 * 399 * 9 * 60) / 3600, 1);
    const { rows } = await database().query('select from run_layout where run_id = $1', [id]);
    expect(rows).toHaveLength(2);
    // And back again.
    await readAgain(id, description);
    const again = (await judgedWorkshop()).cells.find(({ code }) => code === 'T1-010');
    expect(again?.capacity).toEqual(result.capacityAh);
  });

  test('a reading that cannot be changes nothing; a void run is not read again', async () => {
    const { id } = await importLog(log, new Response(`${csv}\n`).body);
    const layoutId = await layoutOf(id);
    const wrong = { ...mapping, columns: mapping.columns.slice(0, 1) };
    await expect(readAgain(id, { ...description, mapping: wrong })).rejects.toBeInstanceOf(ImpossibleInput);
    await expect(readAgain(id, { ...description, load: { kind: 'column' } })).rejects.toMatchObject({
      code: 'no-current',
    });
    expect(await layoutOf(id)).toBe(layoutId);
    // No import keeps a damaged file. Where one is damaged later, the answer says so, and a download ends.
    await database().query(
      `alter table run_file disable trigger user;
       update run_file set packed = substring(packed for length(packed) / 2) where run_id = ${id};
       alter table run_file enable trigger user`,
    );
    await expect(readAgain(id, description)).rejects.toMatchObject({ status: 409, code: 'file-damaged' });
    const download = (await arrivedFile(String(id))).text();
    expect(
      await download.then(
        () => 'whole',
        () => 'broken off',
      ),
    ).toBe('broken off');
    await voidEntry(database(), (await runById(database(), id))?.entry ?? '', 'wrong cell');
    await expect(readAgain(id, description)).rejects.toMatchObject({ code: 'void' });
    await expect(readAgain(999_999, description)).rejects.toMatchObject({ status: 404 });
  });
});
