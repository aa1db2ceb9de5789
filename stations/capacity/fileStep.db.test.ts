import { addBatch } from '@/records/batches';
import { subjectByCode } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { filedOf } from '@/records/ledger';
import { addProtocol } from '@/records/protocols';
import { addRunOf, runById } from '@/records/runs';
import { type Scratch, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import { judgedWorkshop } from '@/workshop/judged';
import { judgeRun, judgeRunsInForce } from '@/workshop/judgeRun';
import { closeCrews } from '@/workshop/pool';
import { fileStepAction } from './actions';

jest.mock('next/cache', () => ({ revalidatePath: () => undefined }));

let scratch: Scratch;
let runId: number;
const cell = async () => (await judgedWorkshop()).cells[0];

/** Two amperes for three minutes, once: 50 mΩ, without a droop. */
const samples = Array.from({ length: 600 }, (_, timeS) => ({
  timeS,
  voltageV: timeS >= 200 && timeS < 380 ? 3.8 : 3.9,
  currentA: timeS >= 200 && timeS < 380 ? 2 : 0,
  temperatureC: null,
}));

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const db = database();
  const model = await scratchModel(db);
  await addBatch(db, { code: 'T1', origin: 'a test', modelId: model.id, count: 1 });
  await addProtocol(db, {
    name: 'steps',
    school: '',
    method: 'pulse',
    charge: null,
    temperature: null,
    restS: 0,
    rateC: null,
    holdS: 10,
  });
  const cellId = (await subjectByCode(db, 'T1-001'))?.id ?? 0;
  await inTransaction(async (connection) => {
    const endedAt = new Date('2026-11-05T18:30:00Z');
    const run = { subjectIds: [cellId], fileName: 'steps.csv', contentSha256: Buffer.alloc(32, 1), endedAt };
    const layout = { load: { kind: 'column' }, currentStepA: 0.001 } as const;
    runId = (await addRunOf(connection, run, layout, samples)).id;
  });
  await judgeRunsInForce();
});

afterAll(async () => {
  await closeCrews();
  await database().end();
  await scratch.drop();
});

test('a step is filed once, however often and by whomever it is sent, and only where the log shows one', async () => {
  expect(await fileStepAction(runId, 100)).toMatchObject({ ok: false, said: 'This log shows no step there.' });
  const answers = await Promise.all([1, 2, 3].map(() => fileStepAction(runId, 200)));
  expect(answers.filter((answer) => answer.ok)).toHaveLength(1);
  expect(answers.find((answer) => !answer.ok)).toMatchObject({ said: 'This step is filed already.' });
  const filed = await filedOf(database(), (await cell())?.id ?? 0);
  expect(filed.map(({ body }) => body)).toEqual([{ kind: 'pulse', runId, atS: 200 }]);
});

test('what was filed stands on the log: results dropped and made again, its figure is the same', async () => {
  const before = (await cell())?.resistance;
  expect(before?.value).toBeCloseTo(0.05, 3);
  await database().query('delete from run_result');
  const run = await runById(database(), runId);
  if (run) await judgeRun(run, 3.1);
  await judgeRunsInForce();
  expect((await cell())?.resistance).toEqual(before);
});
