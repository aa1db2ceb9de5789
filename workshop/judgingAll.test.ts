import type { JudgedCell } from '@/core/judging/judgeCell';
import { judgeAll } from './judgingAll';
import { cellOfCode, cellsOfBatch, withChanged } from '@/core/judging/shelf';

const cell = (n: number, rescues = 0) =>
  ({ id: n, code: `A1-${String(n).padStart(3, '0')}`, batchCode: n % 2 === 0 ? 'A1' : 'B1', rescues }) as JudgedCell;
const all = Array.from({ length: 10 }, (_, i) => cell(i + 1));
const ids = all.map(({ id }) => id);
const judge = async (some: readonly number[]) => all.filter(({ id }) => some.includes(id));

test('portions arrive in order, and what is judged so far is there meanwhile', async () => {
  let letGo = (): void => undefined;
  const gate = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  const judging = judgeAll(ids, 4, async (some) => {
    if (some.includes(5)) await gate;
    return judge(some);
  });
  while (judging.progress()?.done !== 4) await Promise.resolve();
  const early = judging.arrivedSince(0);
  expect(early.cells.map((one) => one.id)).toEqual([1, 2, 3, 4]);
  expect(judging.progress()).toEqual({ done: 4, total: 10 });
  letGo();
  await judging.ended;
  const shelf = withChanged({ cells: early.cells }, judging.arrivedSince(early.upTo).cells);
  expect(shelf.cells).toEqual(all);
  // A caller that asks twice, or late, misses nothing.
  expect(judging.arrivedSince(0).cells).toEqual(all);
  expect(cellOfCode(shelf, 'A1-007')).toBe(all[6]);
  expect(judging.progress()).toBeNull();
});

test('a cell judged from newer facts meanwhile is not overwritten', async () => {
  const judging = judgeAll(ids, 3, judge);
  judging.supersede([5, 11]);
  const newer = withChanged({ cells: [] }, [cell(5, 1), cell(11)]);
  await judging.ended;
  const { cells } = withChanged(newer, judging.arrivedSince(0).cells);
  expect(cells.map((one) => one.id)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]);
  expect(cells[4]?.rescues).toBe(1);
});

test('it can be ended, and tells when it fails', async () => {
  const asked: number[] = [];
  const judging = judgeAll(ids, 2, async (some) => {
    await Promise.resolve();
    asked.push(...some);
    judging.cancel();
    return judge(some);
  });
  await judging.ended;
  expect(asked).toEqual([1, 2, 3, 4]);
  await expect(judgeAll(ids, 2, () => Promise.reject(new Error('away'))).ended).rejects.toThrow('away');
});

test('cells by batch, changed ones in their places', () => {
  const shelf = withChanged({ cells: all }, [cell(3, 2)]);
  expect(cellsOfBatch(shelf, 'B1').map((one) => one.rescues)).toEqual([0, 2, 0, 0, 0]);
  expect(cellsOfBatch(shelf, 'C1')).toEqual([]);
  expect(cellOfCode(shelf, 'A1-003')?.rescues).toBe(2);
});
