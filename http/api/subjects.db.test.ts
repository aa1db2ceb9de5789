import { addBatch } from '@/records/batches';
import { subjectByCode } from '@/records/cells';
import { database, inTransaction } from '@/records/database';
import { fileEntry } from '@/records/ledger';
import { type Scratch, scratchModel, scratchPack, scratchPackRound, scratchWorkshop } from '@/records/scratchDatabase';
import { randomUUID } from 'node:crypto';
import { subjectsResponse } from './schemas';
import { subjects } from './subjects';

let scratch: Scratch;
const ask = async (query: string) =>
  subjectsResponse.strict().parse(await subjects(new Request(`http://127.0.0.1/api/v1/subjects?${query}`)));
const codes = async (query: string) => (await ask(query)).subjects.map(({ code }) => code);

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  const db = database();
  const model = await scratchModel(db);
  await addBatch(db, { code: 'T1', origin: 'a test', modelId: model.id, count: 3 });
  const packId = await scratchPack(db, 'PT1');
  const { occasionId } = await scratchPackRound(db, 'told');
  const file = (subjectId: number, occasion: number | null, bodies: Parameters<typeof fileEntry>[1]['bodies']) =>
    inTransaction((connection) =>
      fileEntry(connection, { entry: randomUUID(), subjectIds: [subjectId], occasionId: occasion, bodies }),
    );
  await file(
    packId,
    occasionId,
    [8, 8.2, 19].map((milliohm, i) => ({
      kind: 'resistance',
      position: i + 1,
      resistanceOhm: milliohm / 1000,
      step: 1e-4,
      openV: null,
    })),
  );
  await file((await subjectByCode(db, 'T1-002'))?.id ?? 0, null, [{ kind: 'voltage', voltageV: 3.71, step: 0.01 }]);
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

test('cells and packs stand in the order of their codes, page by page', async () => {
  expect(await codes('')).toEqual(['PT1', 'T1-001', 'T1-002', 'T1-003']);
  expect(await codes('kind=pack')).toEqual(['PT1']);
  expect(await codes('batch=t1&limit=2')).toEqual(['T1-001', 'T1-002']);
  expect((await ask('limit=2')).after).toBe('T1-001');
  expect(await codes('limit=2&after=T1-001')).toEqual(['T1-002', 'T1-003']);
  expect((await ask('limit=2&after=T1-001')).after).toBeNull();
});

test('what is known and said of each', async () => {
  const [pack] = (await ask('code=pt1')).subjects;
  expect(pack).toMatchObject({
    kind: 'pack',
    wantsAHand: true,
    groups: [{ resistanceIs: 'even' }, { resistanceIs: 'even' }, { resistanceOhm: { value: 0.019 } }],
    says: [expect.stringMatching(/^Group 3 is failing/)],
  });
  const [cell] = (await ask('code=T1-002')).subjects;
  expect(cell).toMatchObject({ kind: 'cell', restVoltageV: 3.71, capacityAh: null, standing: 'ungraded', pack: null });
});

test.each(['limit=0', 'limit=many', 'kind=crate'])('%s is refused', async (query) => {
  await expect(ask(query)).rejects.toThrow();
});
