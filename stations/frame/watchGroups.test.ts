import type { Slip } from '@/workshop/frame';
import { groupsOf } from './watchGroups';

const slip = (code: string, dueAtMs: number, entry: string | null = null): Slip => ({
  entry,
  seen: false,
  code,
  batch: code.split('-')[0] ?? '',
  reason: 'discharge',
  dueAtMs,
});

test('sixteen cells of a batch are one slip, those that are rested another, a batch put to rest its own', () => {
  const cells = Array.from({ length: 16 }, (_, i) => slip(`S1-0${10 + i}`, 100 + i));
  const groups = groupsOf([...cells, slip('S1', 90, 'a rest'), slip('H1-001', 300)], 103);
  expect(groups.map((group) => group.length)).toEqual([1, 4, 12, 1]);
  expect(groups[1]?.map((one) => one.code)).toEqual(['S1-010', 'S1-011', 'S1-012', 'S1-013']);
});
