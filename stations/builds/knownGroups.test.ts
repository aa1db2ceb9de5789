import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { knownGroups, neighbourOf } from './knownGroups';

const ohm = (value: number) => ({ value, u: 0.0002 });
const cell = (ah: number, resistance: number) =>
  ({ capacity: { value: ah, u: 0.01 }, resistance: ohm(resistance) }) as JudgedCell;
const pack = {
  series: 3,
  parallel: 2,
  rested: { groupVoltagesV: [3.9, null, 3.7] },
  mends: [],
  run: {
    endedAt: new Date(2000),
    capacityAh: 4,
    capacityU: 0.03,
    groups: [
      { position: 1, leftAh: { value: 0.2, u: 0.04 } },
      { position: 2, leftAh: { value: 0, u: 0 } },
      { position: 3, leftAh: null },
    ],
  },
  amongGroups: {
    medianOhm: 0.02,
    groups: [
      { position: 1, resistance: ohm(0.02) },
      { position: 2, resistance: ohm(0.04) },
      { position: 3, resistance: ohm(0.018) },
    ],
  },
  weakest: { position: 2, resistance: ohm(0.05) },
} as unknown as JudgedPack;

test('a group holds what its discharge gave and it had left; else what its cells held before they were built in', () => {
  const cellsOf = [[], [], [cell(2, 0.05), cell(2.1, 0.05)]];
  expect(knownGroups(pack, cellsOf)).toMatchObject([
    { capacity: { value: 4.2, u: 0.05 }, voltageV: 3.9 },
    { capacity: { value: 4, u: 0.03 }, voltageV: null, resistance: { value: 0.04 } },
    { capacity: { value: 4.1 } },
  ]);
  // Of what was mended since, the capacity of its new cells; of the others what the discharge gave.
  const mends = [{ at: new Date(3000), position: 1 }];
  expect(knownGroups({ ...pack, mends }, [[cell(2.2, 0.05)], [], []])).toMatchObject([
    { capacity: { value: 2.2 } },
    { capacity: { value: 4 } },
    { capacity: null },
  ]);
  expect(knownGroups({ ...pack, run: null }, [])[0]).toMatchObject({ capacity: null });
});

test('its median cell: of its own where it was built here, else by how the weakest group stands to the middle', () => {
  const cellsOf = [
    [cell(2, 0.03), cell(2, 0.05)],
    [cell(2, 0.2), cell(2, 0.2)],
    [cell(2, 0.04), cell(2, 0.04)],
  ];
  expect(neighbourOf(pack, cellsOf, [2])).toBeCloseTo(0.04, 9);
  // 50 mΩ after ten seconds, twice the median one, two cells side by side.
  expect(neighbourOf(pack, [], [2])).toBeCloseTo(0.05, 9);
  expect(neighbourOf({ ...pack, weakest: null }, [], [2])).toBeNull();
});
