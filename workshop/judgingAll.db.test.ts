import { presetRules } from '@/core/chemistry/houseRules';
import { addBatch } from '@/records/batches';
import { database } from '@/records/database';
import { adoptRules } from '@/records/houseRules';
import { type Scratch, scratchModel, scratchWorkshop } from '@/records/scratchDatabase';
import { judgedWorkshop, withCellsOf } from './judged';
import { closeCrews } from './pool';
import { cellOfCode, cellsOfBatch } from '@/core/judging/shelf';
import { fileMany } from '@/records/manyEntries';

let scratch: Scratch;
const perBatch = 550;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  await takeIn('A1');
});

afterAll(async () => {
  await closeCrews();
  await database().end();
  await scratch.drop();
});

async function takeIn(code: string): Promise<void> {
  const model = await scratchModel(database());
  const batchId = await addBatch(database(), { code, origin: 'a test', modelId: model.id, count: perBatch });
  const from = `from subject where batch_id = ${batchId}`;
  await fileMany(database(), { from, into: 'voltage', values: { voltage_v: 2.9, step: 0.001 } });
  await fileMany(database(), { from, into: 'mass', values: { mass_kg: 0.045, step: 0.0001 } });
  await fileMany(database(), { from, into: 'inspection', values: { findings: "'{}'::text[]" } });
}

const classes = async () => new Set((await judgedWorkshop()).cells.map((cell) => cell.intake.class));

test('hundreds of cells are judged beside the server and waited for, and again under rules that rescue nothing', async () => {
  expect((await judgedWorkshop()).judging).toBeNull();
  expect(await classes()).toEqual(new Set(['usable']));
  await adoptRules(database(), 'Strict', { ...presetRules('careful'), lowestCylindricalV: 3 });
  expect(await classes()).toEqual(new Set(['out']));
  expect((await judgedWorkshop()).cells).toHaveLength(perBatch);
});

test('of thousands those judged are shown meanwhile, and those looked at are judged first', async () => {
  await takeIn('B1');
  await takeIn('C1');
  await adoptRules(database(), 'Workshop', presetRules('workshop'));
  const early = await judgedWorkshop();
  expect(early.judging).toMatchObject({ total: 3 * perBatch });
  expect(early.cells.length).toBeLessThan(3 * perBatch);
  expect(early.rules.name).toBe('Workshop');
  const looked = await withCellsOf(early, { code: 'C1-550' });
  expect(cellOfCode(looked, 'C1-550')?.intake.class).toBe('usable');
  expect(cellsOfBatch(await withCellsOf(early, { batchCode: 'C1' }), 'C1')).toHaveLength(perBatch);
  let now = early;
  while (now.judging) now = await judgedWorkshop();
  expect(now.cells).toHaveLength(3 * perBatch);
  expect(now.cells.map((cell) => cell.code)).toEqual(now.cells.map((cell) => cell.code).sort());
  expect(await withCellsOf(now, { code: 'C1-550' })).toBe(now);
});
